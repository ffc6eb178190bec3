import type { RunProfile } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { Popover } from 'radix-ui';
import type { RunState } from '../api/client.ts';
import { queries } from '../api/queries.ts';
import { localNumber } from '../i18n/i18n.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Panel } from '../ui/panel.tsx';

interface RunWordsProps {
  state: RunState | null;
  /** When it was last run again by itself, in milliseconds since 1970. */
  refreshedAt?: number | null;
}

/** How the run is getting on; once it is done, what it did and where its time went. */
export const RunWords = ({ state, refreshedAt = null }: RunWordsProps) => {
  const { t, i18n } = useTranslation();
  if (!state) return null;
  const { status, pages, rows, milliseconds } = state;
  if (status === 'waiting') {
    return (
      <span className="truncate text-ink-3" role="status">
        {t('viewer.waiting')}
      </span>
    );
  }
  if (status === 'running') {
    return (
      <span className="truncate text-ink-3" role="status">
        {t('viewer.running', { count: pages, rows: localNumber(rows) })}
      </span>
    );
  }
  if (status !== 'done') return <span role="status" />;
  return (
    <Popover.Root>
      <span role="status" className="min-w-0">
        <Popover.Trigger className="max-w-full truncate rounded px-1 text-ink-3 hover:bg-desk/50 hover:text-ink">
          {refreshedAt === null
            ? t('viewer.done', { rows: localNumber(rows), seconds: localNumber(milliseconds / 1000, 1) })
            : t('viewer.refresh.at', { time: new Date(refreshedAt).toLocaleTimeString(i18n.language) })}
        </Popover.Trigger>
      </span>
      <Panel label={t('viewer.runProfile')} align="start" className="w-[34rem] p-4 [--panel-height:70vh]">
        <Profile run={state.id} />
      </Panel>
    </Popover.Root>
  );
};

const Profile = ({ run }: { run: string }) => {
  const { t } = useTranslation();
  const profile = useQuery(queries.profile(run));
  if (!profile.data) return <p className="text-ink-3">{t('viewer.profile.loading')}</p>;
  const {
    planning,
    opening,
    waiting,
    layout,
    writing,
    formulas,
    pages,
    peakMemory,
    queries: statements,
  } = profile.data;
  const stages = { planning, opening, waiting, layout, writing };
  const whole = Object.values(stages).reduce((sum, ms) => sum + ms, 0) || 1;
  return (
    <>
      <h2 className="mb-2 text-[14px] font-semibold">{t('viewer.profile.title')}</h2>
      <dl className="grid grid-cols-[9rem_1fr_4.5rem] items-center gap-x-3 gap-y-1">
        {(Object.entries(stages) as [keyof typeof stages, number][]).map(([stage, ms]) => (
          <div key={stage} className="contents">
            <dt className="text-ink-2">{t(`viewer.profile.${stage}`)}</dt>
            <dd className="h-2 rounded-full bg-desk">
              <div className="h-full rounded-full bg-pine" style={{ width: `${Math.max(1, (ms / whole) * 100)}%` }} />
            </dd>
            <dd className="text-end tabular-nums">{localNumber(ms)} ms</dd>
          </div>
        ))}
      </dl>
      <p className="mt-2 text-ink-2">
        {t('viewer.profile.counts', {
          pages: localNumber(pages),
          formulas: localNumber(formulas),
          memory: localNumber(peakMemory / 1e6),
        })}
      </p>
      <h3 className="mt-4 mb-1 font-semibold">{t('viewer.profile.queries')}</h3>
      {statements.map((query) => (
        <QueryLine key={`${query.report} ${query.drawer}`} query={query} />
      ))}
    </>
  );
};

const QueryLine = ({ query }: { query: RunProfile['queries'][number] }) => {
  const { t } = useTranslation();
  const { report, drawer, rows, milliseconds, sql } = query;
  const head = (
    <span className="inline-flex w-[calc(100%-1.25rem)] items-baseline gap-2 align-top">
      <b className="font-semibold">{drawer}</b>
      <span className="min-w-0 flex-1 truncate text-ink-3">{report}</span>
      <span className="tabular-nums">
        {t('viewer.profile.rows', { rows: localNumber(rows), ms: localNumber(milliseconds) })}
      </span>
    </span>
  );
  if (sql === null) return <div className="py-1 ps-4">{head}</div>;
  return (
    <details className="border-t border-rule py-1">
      <summary className="cursor-pointer">{head}</summary>
      <pre className="mt-1 max-h-56 overflow-auto rounded bg-desk/50 p-2 text-[11px] whitespace-pre-wrap select-text">
        {sql}
      </pre>
    </details>
  );
};
