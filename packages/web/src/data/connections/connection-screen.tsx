import { zodResolver } from '@hookform/resolvers/zod';
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { FormProvider, useForm, useWatch } from 'react-hook-form';
import { useNavigate, useOutletContext, useParams } from 'react-router';
import type { ZodType } from 'zod';
import { api, type ConnectionDraft, type ConnectionList, type MadeConnection } from '../../api/client.ts';
import { KEYS_OF_ROWS, queries } from '../../api/queries.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { agreed } from '../../ui/confirm.tsx';
import { Button, inputLook, Notice } from '../../ui/controls.tsx';
import { useFailureText } from '../../ui/failure.tsx';
import { useLikelyFolder } from '../../ui/save-form.tsx';
import { useLater } from '../../ui/use-later.ts';
import type { DataParts } from '../data-screen.tsx';
import { type ConnectionKind, type ConnectionValues, draftOf, nameFor, savedValues, startValues } from './draft.ts';
import { CONNECTION_KINDS, connectionRoom } from './kinds/kinds.ts';
import { Setting } from './setting.tsx';
import { ChangeList, FoundTables } from './source-changes.tsx';
import { withColumn } from './source-columns.ts';
import { SourcePreview } from './source-preview.tsx';

/** Milliseconds after the last change of a file's settings at which it is looked at. */
const LOOK_AFTER = 250;

/** How long a source may take to show what it holds, in milliseconds. */
const TEST_PATIENCE = 60_000;

/** A connection made by hand: a database, a file, or a service that answers in JSON. */
export const ConnectionScreen = () => {
  const { t } = useTranslation();
  const { name = 'new' } = useParams();
  const { canConnect } = useOutletContext<DataParts>();
  const list = useQuery(queries.connections());
  const [begun, setBegun] = useState<ConnectionKind | null>(null);
  const made = list.data?.made.find((c) => c.name === name);
  if (!list.data) return <Notice>{t('app.loading')}</Notice>;
  if (name !== 'new' && !made)
    return <Notice title={t('data.noConnection')}>{t('data.noConnectionHelp', { name })}</Notice>;
  if (!canConnect) return <Notice>{t('data.mayNotConnect')}</Notice>;
  const kind = made?.settings.kind ?? begun;
  if (!kind) return <KindChoice onPick={setBegun} />;
  return <ConnectionForm key={`${name} ${kind}`} kind={kind} made={made} list={list.data} />;
};

const KindChoice = ({ onPick }: { onPick: (kind: ConnectionKind) => void }) => {
  const { t } = useTranslation();
  return (
    <div className="p-6">
      <h2 className="mb-3 text-[15px] font-semibold">{t('data.newConnection')}</h2>
      <div className="grid max-w-3xl grid-cols-3 gap-3">
        {CONNECTION_KINDS.map((kind) => {
          const { Picture } = connectionRoom(kind);
          return (
            <button
              key={kind}
              type="button"
              className="rounded-lg border border-rule bg-paper p-4 text-start hover:border-pine"
              onClick={() => onPick(kind)}
            >
              <Picture size={18} aria-hidden className="mb-2 text-pine" />
              <b className="block">{t(`data.kind_${kind}`)}</b>
              <span className="text-ink-2">{t(`data.kindHelp_${kind}`)}</span>
            </button>
          );
        })}
      </div>
    </div>
  );
};

interface FormProps {
  kind: ConnectionKind;
  /** Undefined: a new one. */
  made: MadeConnection | undefined;
  list: ConnectionList;
}

/** What a connection is, filled in; what it holds is shown below. */
const ConnectionForm = ({ kind, made, list }: FormProps) => {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const said = useFailureText();
  const { models } = useOutletContext<DataParts>();
  const room = connectionRoom(kind);
  const start = useMemo(() => startValues(made?.settings ?? room.begin(), made), [made, room]);
  const form = useForm<ConnectionValues>({
    mode: 'onTouched',
    // What changes on the server comes in, save for what is being typed.
    values: start,
    resetOptions: { keepDirtyValues: true },
    resolver: zodResolver(room.schema as ZodType<ConnectionValues, ConnectionValues>),
  });
  const values = useWatch({ control: form.control }) as ConnectionValues;
  const taken = [...list.made, ...list.fixed].map((c) => c.name).concat(models.map((m) => m.name));
  const name = made?.name ?? nameFor(values.label, taken);
  const work = useConnectionWork(name);
  // A name is not needed to see what a file holds.
  const isReady = room.isSeenAtOnce && room.schema.safeParse({ ...values, label: name }).success;
  const ready = useMemo(() => (isReady ? draftOf(values, name) : null), [isReady, values, name]);
  const look = useLook(ready);
  const test = form.handleSubmit((filled) => work.test.mutate(draftOf(filled, name)));
  const seen = room.isSeenAtOnce ? look.data : work.test.data;
  const failure =
    work.save.error ??
    work.test.error ??
    work.refresh.error ??
    work.rename.error ??
    work.remove.error ??
    (room.isSeenAtOnce ? look.error : null);
  const goOn = (table: string, field: string, column: string): void => work.rename.mutate([{ table, field, column }]);
  const isBusy = work.save.isPending || work.test.isPending;

  return (
    <FormProvider {...form}>
      <div className="min-h-0 flex-1 overflow-auto p-4">
        <form
          noValidate
          className="flex max-w-3xl flex-col gap-2"
          onSubmit={form.handleSubmit((filled) => {
            work.rename.reset();
            work.save.mutate(draftOf(filled, name), {
              onSuccess: () => {
                form.reset(savedValues(filled));
                navigate(`/data/connections/${name}`);
              },
            });
          })}
        >
          <h2 className="mb-1 text-[15px] font-semibold">{made ? made.label : t(`data.kind_${kind}`)}</h2>
          <Setting label={t('data.label')} problem={form.formState.errors.label}>
            <input className={inputLook} {...form.register('label')} />
          </Setting>
          <room.Form allowed={list.allowedAddresses} seen={seen?.tables.map(({ label }) => label) ?? []} />
          {!list.keepsSecrets && room.hasSecret && <p className="text-rust">{t('data.noKey')}</p>}
          <div className="mt-2 flex items-center gap-2">
            {!room.isSeenAtOnce && (
              <Button disabled={isBusy} onClick={test}>
                {work.test.isPending ? t('data.testing') : t('data.test')}
              </Button>
            )}
            <Button look="primary" type="submit" disabled={isBusy}>
              {work.save.isPending ? t('designer.saving') : t('designer.save')}
            </Button>
            {made && (
              <>
                <Button
                  disabled={work.refresh.isPending}
                  onClick={() => {
                    work.rename.reset();
                    work.refresh.mutate();
                  }}
                >
                  {t('data.refresh')}
                </Button>
                <span className="flex-1" />
                <Button
                  look="quiet"
                  onClick={async () => {
                    const users = await api.connectionUsers(name).catch(() => []);
                    const sure = t('data.removeSure', { name: made.label });
                    const used = t('data.removeUsed', { names: users.map((u) => u.name).join(', ') });
                    if (await agreed(users.length > 0 ? `${sure} ${used}` : sure, t('data.remove')))
                      work.remove.mutate();
                  }}
                >
                  {t('data.remove')}
                </Button>
              </>
            )}
          </div>
          {made?.isLocked && <p className="text-rust">{t('data.locked')}</p>}
          {failure && (
            <p role="alert" className="rounded bg-rust-soft px-3 py-2 text-rust-strong">
              {said(failure).detail}
            </p>
          )}
          {!failure && work.test.data && room.shows === 'tables' && (
            <FoundTables title={t('data.testFine')} tables={work.test.data.tables} />
          )}
          {work.rename.data && (
            <p role="status" className="text-pine">
              {t('data.renamed')}
            </p>
          )}
          {!work.rename.data && work.refresh.data && <ChangeList {...work.refresh.data} onRenamed={goOn} />}
          {!work.rename.data && work.save.data && made && (
            <ChangeList changes={work.save.data.changes} users={[]} onRenamed={goOn} />
          )}
        </form>
        {room.shows === 'rows' && seen && !(room.isSeenAtOnce && look.error) && (
          <div className="mt-3">
            <SourcePreview
              tables={seen.tables}
              isReading={look.isFetching || work.test.isPending}
              onColumn={(table, field, change) => {
                const { settings } = form.getValues();
                if (settings.kind === 'postgres') return;
                form.setValue('settings', withColumn(settings, table, field, change), { shouldDirty: true });
                if (!room.isSeenAtOnce) void test();
              }}
            />
          </div>
        )}
      </div>
    </FormProvider>
  );
};

/** What can be done with a connection. */
const useConnectionWork = (name: string) => {
  const client = useQueryClient();
  const navigate = useNavigate();
  const refreshAll = async (): Promise<void> => {
    for (const key of KEYS_OF_ROWS) await client.invalidateQueries({ queryKey: [key] });
  };
  const folder = useLikelyFolder();
  return {
    test: useMutation({
      mutationFn: (given: ConnectionDraft) => api.testConnection(given, AbortSignal.timeout(TEST_PATIENCE)),
    }),
    save: useMutation({
      mutationFn: (given: ConnectionDraft) => api.putConnection({ ...given, ...(folder === null ? {} : { folder }) }),
      onSuccess: refreshAll,
    }),
    refresh: useMutation({ mutationFn: () => api.refreshConnection(name), onSuccess: refreshAll }),
    rename: useMutation({
      mutationFn: (renamed: Parameters<typeof api.renameColumns>[1]) => api.renameColumns(name, renamed),
      onSuccess: refreshAll,
    }),
    remove: useMutation({
      mutationFn: () => api.removeConnection(name),
      onSuccess: async () => {
        navigate('/data');
        await refreshAll();
      },
    }),
  };
};

/** What a draft holds, once it has not changed for a moment; null shows nothing new. */
const useLook = (draft: ConnectionDraft | null) => {
  // A file cannot be part of a key, so that each draft has a number.
  const { value: looked, count } = useLater(draft, LOOK_AFTER);
  return useQuery({
    queryKey: ['source-look', looked?.name ?? '', count],
    queryFn: ({ signal }) => api.testConnection(looked!, signal),
    enabled: looked !== null,
    placeholderData: keepPreviousData,
    retry: false,
    gcTime: 0,
  });
};
