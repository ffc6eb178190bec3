import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Looked } from '../api/client.ts';
import { queries } from '../api/queries.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { problemWords } from '../i18n/words.ts';
import { Failure } from '../ui/failure.tsx';
import { ResultTable } from './result-table.tsx';

interface RowsViewProps {
  looked: Looked;
  title: string;
  /** There is something to look at. */
  isReady: boolean;
  /** What a step before the rows lacks; null, or left out, when they can be looked at. */
  lack?: string | null;
}

/** The rows after some steps, with what their columns hold and the statement they become. */
export const RowsView = ({ looked, title, isReady: isThere, lack = null }: RowsViewProps) => {
  const { t, i18n } = useTranslation();
  const client = useQueryClient();
  const [showSql, setShowSql] = useState(true);
  const isReady = isThere && lack === null;
  const rows = useQuery({ ...queries.recipeRows(looked), placeholderData: keepPreviousData, enabled: isReady });
  // A statement that somebody wrote is sent once: its rows come with all that is asked of them.
  const counted = rows.data?.found?.counted ?? null;
  const isAsked = isReady && counted === null && rows.data !== undefined && rows.data.found !== null;
  const facts = useQuery({ ...queries.recipeFacts(looked), enabled: isAsked && !rows.isPlaceholderData });
  const count = useQuery({ ...queries.recipeCount(looked), enabled: isAsked && !rows.isPlaceholderData });
  if (lack !== null)
    return (
      <p role="status" data-testid="rows-lack" className="m-4 self-start rounded bg-brass-soft px-3 py-2">
        {lack}
      </p>
    );
  if (!isReady) return <p className="p-4 text-ink-3">{t('data.nothingYet')}</p>;
  if (rows.error) return <Failure error={rows.error} retry={() => void rows.refetch()} />;
  const cancel = (): void => {
    for (const { queryKey } of [queries.recipeRows(looked), queries.recipeFacts(looked), queries.recipeCount(looked)])
      void client.cancelQueries({ queryKey });
  };
  // Rows of what was asked before stand here, faded, only until the new ones are known not to come.
  const isBefore = rows.isPlaceholderData;
  const answer = isBefore && !rows.isFetching ? undefined : rows.data;
  const found = answer?.found;
  const failure = rows.isFetching || isBefore ? null : answer?.failure;
  const all = counted ? counted.count : count.data?.found?.count;
  return (
    <section
      aria-label={title}
      aria-busy={rows.isFetching}
      className="flex min-h-0 min-w-0 flex-col"
      data-testid="rows"
    >
      <p className="px-3 py-2.5">
        <b>{title}</b>{' '}
        <span className="text-ink-3" role="status" data-testid="rows-state">
          {rows.isFetching
            ? t('data.looking')
            : !answer
              ? t('data.lookCancelled')
              : found &&
                t('data.rowsIn', {
                  count: all ?? found.rows.length,
                  shown: (all ?? found.rows.length).toLocaleString(i18n.language),
                  ms: Math.round(found.milliseconds),
                })}
          {found &&
            !isBefore &&
            all !== undefined &&
            all > found.rows.length &&
            ` · ${t('data.firstShown', { count: found.rows.length })}`}
          {found?.fields.some(({ type }) => type === 'datetime') &&
            ` · ${t('data.timesIn', { zone: Intl.DateTimeFormat().resolvedOptions().timeZone.replaceAll('_', ' ') })}`}
        </span>
        {rows.isFetching && (
          <button type="button" className="ms-2 rounded px-1.5 text-pine hover:bg-pine-soft" onClick={cancel}>
            {t('data.cancel')}
          </button>
        )}
        {!rows.isFetching && (!answer || failure) && (
          <button
            type="button"
            className="ms-2 rounded px-1.5 text-pine hover:bg-pine-soft"
            onClick={() => void rows.refetch()}
          >
            {t('data.lookAgain')}
          </button>
        )}
      </p>
      {failure && (
        <p role="alert" className="mx-3 rounded bg-rust-soft px-3 py-2 text-rust-strong">
          {problemWords(failure.problem)}
        </p>
      )}
      {found && (
        <div className={`flex min-h-0 flex-1 flex-col ${isBefore ? 'opacity-45' : ''}`}>
          {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, also by keys */}
          <div tabIndex={0} className="min-h-0 flex-1 overflow-auto px-3 pb-2">
            <ResultTable
              label={title}
              fields={found.fields}
              rows={found.rows}
              facts={counted ? counted.facts : (facts.data?.found ?? null)}
            />
            {found.rows.length === 0 && <p className="py-4 text-ink-3">{t('data.noRows')}</p>}
          </div>
          <div className="flex-none border-t border-rule">
            <button
              type="button"
              aria-expanded={showSql}
              className="w-full px-3 py-1.5 text-start text-ink-2 hover:bg-desk/40"
              onClick={() => setShowSql(!showSql)}
            >
              {t('data.sqlOfIt')}
            </button>
            {showSql && (
              <pre
                // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, also by keys
                tabIndex={0}
                data-testid="recipe-sql"
                className="max-h-48 overflow-auto bg-desk px-3 py-2 font-mono text-[12px]"
              >
                {found.sql}
                {found.values.length > 0 &&
                  `\n\n${found.values.map((v, i) => `-- $${i + 1} = ${JSON.stringify(v)}`).join('\n')}`}
              </pre>
            )}
          </div>
        </div>
      )}
    </section>
  );
};
