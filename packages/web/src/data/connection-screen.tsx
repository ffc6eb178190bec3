import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Database, FileUp, Globe } from 'lucide-react';
import { type ReactNode, useEffect, useState } from 'react';
import { useTranslation } from 'react-i18next';
import { useNavigate, useOutletContext, useParams } from 'react-router';
import { api, type ConnectionDraft, type ConnectionSettings } from '../api/client.ts';
import { KEYS_OF_ROWS, queries } from '../api/queries.ts';
import { agreed } from '../ui/confirm.tsx';
import { Button, inputLook, Notice } from '../ui/controls.tsx';
import { useFailureText } from '../ui/failure.tsx';
import { useLater } from '../ui/use-later.ts';
import { type ConnectionKind, draftOf, missingIn, newSettings, withFile } from './connection-draft.ts';
import { FileSettings, HttpSettings, PostgresSettings, Setting } from './connection-forms.tsx';
import type { DataParts } from './data-screen.tsx';
import { freeName } from './recipe-draft.ts';
import { ChangeList, FoundTables } from './source-changes.tsx';
import { withColumn } from './source-columns.ts';
import { SourcePreview } from './source-preview.tsx';

const KINDS: [ConnectionKind, ReactNode][] = [
  ['file', <FileUp key="file" size={18} aria-hidden />],
  ['postgres', <Database key="postgres" size={18} aria-hidden />],
  ['http', <Globe key="http" size={18} aria-hidden />],
];

/** Milliseconds after the last change of a file's settings at which it is looked at. */
const LOOK_AFTER = 250;

const settingsOf = (draft: ConnectionDraft | null): ConnectionSettings | null => draft?.settings ?? null;

/** A connection made by hand: a database, a file, or a service that answers in JSON. */
export const ConnectionScreen = () => {
  const { t } = useTranslation();
  const { name = 'new' } = useParams();
  const navigate = useNavigate();
  const client = useQueryClient();
  const said = useFailureText();
  const { canConnect, models } = useOutletContext<DataParts>();
  const list = useQuery(queries.connections());
  const made = list.data?.made.find((c) => c.name === name);
  const [draft, setDraft] = useState<ConnectionDraft | null>(null);
  useEffect(() => setDraft(made ? draftOf(made) : null), [made]);
  const refreshAll = async (): Promise<void> => {
    for (const key of KEYS_OF_ROWS) await client.invalidateQueries({ queryKey: [key] });
  };
  const test = useMutation({
    mutationFn: (given: ConnectionDraft) => api.testConnection(given, AbortSignal.timeout(60_000)),
  });
  const save = useMutation({
    mutationFn: api.putConnection,
    onSuccess: async (_, given) => {
      await refreshAll();
      navigate(`/data/connections/${given.name}`);
    },
  });
  const refresh = useMutation({ mutationFn: () => api.refreshConnection(name), onSuccess: refreshAll });
  const remove = useMutation({
    mutationFn: () => api.removeConnection(name),
    onSuccess: async () => {
      navigate('/data');
      await refreshAll();
    },
  });
  const isFile = draft?.settings.kind === 'file' && missingIn(draft, made?.hasFile ?? false) === null;
  // A file cannot be part of a key, so that each draft has a number.
  const { value: looked, count } = useLater(isFile ? draft : null, LOOK_AFTER);
  // What a file holds is seen at once; a service is asked when somebody says so.
  const look = useQuery({
    queryKey: ['source-look', name, count],
    queryFn: ({ signal }) => api.testConnection({ ...looked!, name: looked!.name || 'source' }, signal),
    enabled: looked !== null,
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 0,
  });
  const seen = settingsOf(draft)?.kind === 'file' ? look.data : test.data;
  if (!list.data) return <Notice>{t('app.loading')}</Notice>;
  if (name !== 'new' && !made)
    return <Notice title={t('data.noConnection')}>{t('data.noConnectionHelp', { name })}</Notice>;
  if (!canConnect) return <Notice>{t('data.mayNotConnect')}</Notice>;
  if (!draft)
    return (
      <div className="p-6">
        <h2 className="mb-3 text-[15px] font-semibold">{t('data.newConnection')}</h2>
        <div className="grid max-w-3xl grid-cols-3 gap-3">
          {KINDS.map(([kind, picture]) => (
            <button
              key={kind}
              type="button"
              className="rounded-lg border border-rule bg-paper p-4 text-left hover:border-pine"
              onClick={() => setDraft({ name: '', label: '', settings: newSettings(kind) })}
            >
              <span className="mb-2 block text-pine">{picture}</span>
              <b className="block">{t(`data.kind_${kind}`)}</b>
              <span className="text-ink-2">{t(`data.kindHelp_${kind}`)}</span>
            </button>
          ))}
        </div>
      </div>
    );
  const { settings, secret = {} } = draft;
  const taken = [...list.data.made, ...list.data.fixed].map((c) => c.name).concat(models.map((m) => m.name));
  const put = (change: Partial<ConnectionSettings>): void =>
    setDraft({ ...draft, settings: { ...settings, ...change } as ConnectionSettings });
  const putSecret = (change: NonNullable<ConnectionDraft['secret']>): void =>
    setDraft({ ...draft, secret: { ...secret, ...change } });
  const missing = missingIn(draft, made?.hasFile ?? false);
  const named: ConnectionDraft =
    draft.name === '' ? { ...draft, name: freeName(draft.label || 'source', taken) } : draft;
  const failure =
    save.error ?? test.error ?? refresh.error ?? remove.error ?? (settings.kind === 'file' ? look.error : null);
  const busy = save.isPending || test.isPending;

  return (
    <div className="min-h-0 flex-1 overflow-auto p-4">
      <form
        className="flex max-w-3xl flex-col gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate(named);
        }}
      >
        <h2 className="mb-1 text-[15px] font-semibold">{made ? made.label : t(`data.kind_${settings.kind}`)}</h2>
        <Setting label={t('data.label')}>
          <input
            className={inputLook}
            value={draft.label}
            onChange={(e) => setDraft({ ...draft, label: e.target.value })}
          />
        </Setting>
        {settings.kind === 'postgres' && (
          <PostgresSettings
            settings={settings}
            put={put}
            secret={secret}
            putSecret={putSecret}
            hasSecret={made?.hasSecret ?? false}
          />
        )}
        {settings.kind === 'file' && (
          <FileSettings
            settings={settings}
            put={put}
            hasFile={draft.file !== undefined || (made?.hasFile ?? false)}
            onFile={(name, file) => setDraft(withFile(draft, name, file, taken) ?? draft)}
            allowed={list.data.allowedAddresses}
          />
        )}
        {settings.kind === 'http' && (
          <HttpSettings
            settings={settings}
            put={put}
            putSecret={putSecret}
            hasSecret={made?.hasSecret ?? false}
            allowed={list.data.allowedAddresses}
          />
        )}
        {!list.data.keepsSecrets && settings.kind !== 'file' && <p className="text-rust">{t('data.noKey')}</p>}
        <div className="mt-2 flex items-center gap-2">
          {settings.kind !== 'file' && (
            <Button disabled={missing !== null || busy} onClick={() => test.mutate(named)}>
              {test.isPending ? t('data.testing') : t('data.test')}
            </Button>
          )}
          <Button look="primary" type="submit" disabled={missing !== null || busy}>
            {save.isPending ? t('designer.saving') : t('designer.save')}
          </Button>
          {made && (
            <>
              <Button disabled={refresh.isPending} onClick={() => refresh.mutate()}>
                {t('data.refresh')}
              </Button>
              <span className="flex-1" />
              <Button
                look="quiet"
                onClick={async () => {
                  if (await agreed(t('data.removeSure', { name: made.label }), t('data.remove'))) remove.mutate();
                }}
              >
                {t('data.remove')}
              </Button>
            </>
          )}
          {missing && <span className="text-ink-3">{t(`data.${missing}`)}</span>}
        </div>
        {made?.isLocked && <p className="text-rust">{t('data.locked')}</p>}
        {failure && (
          <p role="alert" className="rounded bg-rust-soft px-3 py-2 text-rust-strong">
            {said(failure).detail}
          </p>
        )}
        {!failure && test.data && settings.kind === 'postgres' && (
          <FoundTables title={t('data.testFine')} tables={test.data.tables} />
        )}
        {refresh.data && <ChangeList {...refresh.data} />}
        {save.data && made && <ChangeList changes={save.data.changes} users={[]} />}
      </form>
      {settings.kind !== 'postgres' && seen && !(settings.kind === 'file' && look.error) && (
        <div className="mt-3">
          <SourcePreview
            tables={seen.tables}
            isReading={look.isFetching || test.isPending}
            onColumn={(table, field, change) => {
              const next = { ...draft, settings: withColumn(settings, table, field, change) };
              setDraft(next);
              if (settings.kind === 'http') test.mutate({ ...next, name: named.name });
            }}
          />
        </div>
      )}
    </div>
  );
};
