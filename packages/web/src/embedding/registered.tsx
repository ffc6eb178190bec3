import { useMutation, useQuery } from '@tanstack/react-query';
import { CircleAlert, CircleCheck } from 'lucide-react';
import type { ReactNode } from 'react';
import { api } from '../api/client.ts';
import { queries } from '../api/queries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button, Notice } from '../ui/controls.tsx';
import { Failure } from '../ui/failure.tsx';

/** The line that adds what is missing. */
const LINES = {
  models: 'createGaveta({ models: [defineModel({ … })] })',
  reports: "await gaveta.reports.put('ledger', definition)",
  hosts: "createGaveta({ hosts: ['https://office.example'] })",
  authorize: 'createGaveta({ authorize: (caller, action, report) => … })',
  encryptionKey: 'createGaveta({ encryptionKey: process.env.GAVETA_KEY })',
} as const;

/** What the host registered, what is missing, and whether the models fit their databases. */
export const Registered = () => {
  const { t } = useTranslation();
  const embedding = useQuery(queries.embedding());
  const check = useMutation({ mutationFn: api.checkEmbedding });
  if (embedding.error) return <Failure error={embedding.error} retry={() => void embedding.refetch()} />;
  if (!embedding.data) return <Notice>{t('app.loading')}</Notice>;
  const { models, connections, functions, themes, fonts, outputs, hooks, hosts, path, reports, missing, version } =
    embedding.data;
  return (
    <main className="mx-auto grid max-w-5xl gap-8 px-6 py-6 md:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
      <div className="min-w-0">
        <Part title={t('embedding.models')}>
          {models.length === 0 && <p className="text-ink-3">{t('embedding.none')}</p>}
          {models.map(({ name, label, entities, connection }) => (
            <Fact
              key={name}
              name={name}
              value={`${label} · ${t('embedding.entities', { count: entities })} · ${connection}`}
            />
          ))}
        </Part>
        <Part title={t('embedding.connections')}>
          {connections.length === 0 && <p className="text-ink-3">{t('embedding.none')}</p>}
          {connections.map(({ name, kind, made }) => (
            <Fact key={name} name={name} value={`${t(`embedding.kind_${kind}`)} · ${t(`embedding.made_${made}`)}`} />
          ))}
        </Part>
        <Part title={t('embedding.options')}>
          <Fact name="hosts" value={hosts.join(', ') || t('embedding.ownOnly')} />
          <Fact name="address" value={path ?? t('embedding.asMounted')} />
          <Fact name="hooks" value={hooks.join(', ') || t('embedding.none')} />
          <Fact name={t('embedding.themes')} value={themes.join(', ') || t('embedding.none')} />
          <Fact name={t('embedding.functions')} value={functions.join(', ') || t('embedding.none')} />
          <Fact
            name={t('embedding.fonts')}
            value={fonts.map(({ family, faces }) => `${family} (${faces})`).join(', ')}
          />
          <Fact name={t('embedding.outputs')} value={outputs.map(({ name }) => name).join(', ')} />
          <Fact name={t('embedding.reports')} value={String(reports)} />
          <Fact name={t('embedding.version')} value={version} />
        </Part>
      </div>
      <div className="min-w-0">
        <Part title={t('embedding.missing')}>
          {missing.length === 0 && <p className="text-ink-3">{t('embedding.nothingMissing')}</p>}
          {missing.map((what) => (
            <div key={what} className="mb-3">
              <p>{t(`embedding.missing_${what}`)}</p>
              <code className="block overflow-x-auto rounded bg-desk/40 px-2 py-1 font-mono text-[12px]">
                {LINES[what]}
              </code>
            </div>
          ))}
        </Part>
        <Part title={t('embedding.check')}>
          <p className="mb-2 text-ink-2">{t('embedding.checkHelp')}</p>
          <Button onClick={() => check.mutate()} disabled={check.isPending}>
            {check.isPending ? t('embedding.checking') : t('embedding.checkNow')}
          </Button>
          <div aria-live="polite" className="mt-3">
            {check.error && <Failure error={check.error} retry={() => check.mutate()} />}
            {check.data?.length === 0 && (
              <p className="flex items-center gap-1.5 text-pine">
                <CircleCheck size={15} aria-hidden /> {t('embedding.fits')}
              </p>
            )}
            {check.data?.map(({ place, said }) => (
              <div key={`${place} ${said}`} className="mb-2">
                <p className="flex items-center gap-1.5 font-mono text-[12px] break-all">
                  <CircleAlert size={15} aria-hidden className="flex-none text-rust" /> {place}
                </p>
                <p className="ps-5 break-words">{said}</p>
              </div>
            ))}
          </div>
        </Part>
      </div>
    </main>
  );
};

const Part = ({ title, children }: { title: string; children: ReactNode }) => (
  <section aria-label={title} className="mb-7">
    <h2 className="mb-2 text-[14px] font-semibold">{title}</h2>
    {children}
  </section>
);

const Fact = ({ name, value }: { name: string; value: string }) => (
  <div className="grid grid-cols-[120px_minmax(0,1fr)] gap-3 border-t border-rule-soft py-1.5">
    <span className="truncate font-mono text-[12px] text-ink-2" title={name}>
      {name}
    </span>
    <span className="break-words">{value}</span>
  </div>
);
