import type { AskedValue, ExplainedTotal, Explanation, Parameter, PlaceInRun } from '@gaveta/core/internal';
import { Check, Copy, TriangleAlert, X } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { api, type ParameterValues } from '../../api/client.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { valueWords } from '../../parameters/parameter-types.tsx';
import { Button, IconButton } from '../../ui/controls.tsx';
import { Failure } from '../../ui/failure.tsx';
import { copyCells } from '../copying/copy-table.ts';
import { totalSentence } from './origin-words.ts';
import { RowsTable } from './rows-table.tsx';
import { useExplanation } from './use-origin.ts';

interface OriginPanelProps {
  run: string;
  shown: { text: string; asked: AskedValue };
  parameters: readonly Parameter[];
  values: ParameterValues;
  goTo: (place: PlaceInRun) => void;
  /** Runs the report again. */
  onAgain: () => void;
  onClose: () => void;
}

/** Where a value comes from: its formulas in words, the rows that they count and what cuts those. */
export const OriginPanel = ({ run, shown, onClose, ...rest }: OriginPanelProps) => {
  const { t } = useTranslation();
  const found = useExplanation(run, shown.asked);
  const panel = useRef<HTMLElement>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: each time that something is asked
  useEffect(() => panel.current?.focus({ preventScroll: true }), [shown]);
  return (
    <aside
      ref={panel}
      tabIndex={-1}
      aria-label={t('viewer.origin.title')}
      className="flex w-[380px] flex-none flex-col border-s border-rule bg-paper outline-none max-sm:absolute max-sm:inset-x-0 max-sm:bottom-0 max-sm:z-40 max-sm:h-[75%] max-sm:w-full max-sm:rounded-t-xl max-sm:border-t max-sm:shadow-2xl"
      onKeyDown={(event) => event.key === 'Escape' && onClose()}
    >
      <header className="flex items-center gap-2 border-b border-rule py-1.5 ps-3 pe-1.5">
        <h2 className="min-w-0 flex-1 truncate font-semibold">{t('viewer.origin.title')}</h2>
        <IconButton label={t('viewer.origin.close')} onClick={onClose}>
          <X size={15} aria-hidden />
        </IconButton>
      </header>
      <div className="min-h-0 flex-1 overflow-auto p-3" aria-busy={found.isPending} data-testid="origin">
        {found.isPending && (
          <p className="text-ink-3" role="status">
            {t('viewer.origin.looking')}
          </p>
        )}
        {found.error && <Failure error={found.error} retry={() => void found.refetch()} />}
        {found.data && <Answer run={run} explanation={found.data} queries={found.data.queries} {...rest} />}
      </div>
    </aside>
  );
};

interface AnswerProps extends Omit<OriginPanelProps, 'shown' | 'onClose'> {
  explanation: Explanation;
  queries: readonly { drawer: string; sql: string }[] | null;
}

const Answer = ({ run, explanation, queries, parameters, values, goTo, onAgain }: AnswerProps) => {
  const { t } = useTranslation();
  const { formulas, totals, around, groups } = explanation;
  return (
    <>
      {around.length > 0 && (
        <p className="mb-2 text-ink-2">{around.map(({ drawer, name }) => `${drawer} ${name}`).join(' › ')}</p>
      )}
      {groups.length > 0 && (
        <p className="mb-2 text-ink-2">{groups.map(({ label, text }) => `${label} ${text}`).join(' › ')}</p>
      )}
      {formulas.length === 0 && <p className="text-ink-2">{t('viewer.origin.plain')}</p>}
      {formulas.map((formula, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: formulas of one text, in their order
        <section key={i} className="mb-4">
          <p className="text-[22px] leading-tight font-semibold tabular-nums">{formula.text || '–'}</p>
          <p className="mt-0.5 font-mono text-[12px] break-words text-ink-2">{formula.source}</p>
          {formula.fields.map(({ label, drawer, text }) => (
            <p key={`${drawer} ${label}`} className="mt-1">
              {t('viewer.origin.field', { label, drawer })} <b>{text || '–'}</b>
            </p>
          ))}
          {formula.totals.map((place) => (
            <Total
              key={place}
              run={run}
              total={totals[place]!}
              isWhole={formula.totals.length === 1 && totals[place]!.text === formula.text}
              groups={groups}
              goTo={goTo}
              onAgain={onAgain}
            />
          ))}
        </section>
      ))}
      <Cuts explanation={explanation} parameters={parameters} values={values} />
      {queries && queries.length > 0 && (
        <details className="mt-4 border-t border-rule pt-2">
          <summary className="cursor-pointer text-ink-2">SQL</summary>
          {queries.map(({ drawer, sql }) => (
            <div key={drawer}>
              <h3 className="mt-2 font-semibold">{drawer}</h3>
              <pre className="max-h-56 overflow-auto rounded bg-desk/50 p-2 text-[11px] whitespace-pre-wrap select-text">
                {sql}
              </pre>
            </div>
          ))}
        </details>
      )}
    </>
  );
};

interface TotalProps extends Pick<OriginPanelProps, 'run' | 'goTo' | 'onAgain'> {
  total: ExplainedTotal;
  /** It is the whole value. */
  isWhole: boolean;
  groups: Explanation['groups'];
}

const Total = ({ run, total, isWhole, groups, goTo, onAgain }: TotalProps) => {
  const { t } = useTranslation();
  const [said, setSaid] = useState<string | null>(null);
  const { columns, list, count, text, listText, isSame } = total;
  const leadOn = async (rows: string): Promise<void> => {
    const place = await api.rowsOn(run, rows).catch(() => null);
    if (place) goTo(place);
    setSaid(place ? null : t('viewer.origin.notShown'));
  };
  const copy = async (): Promise<void> => {
    try {
      await copyCells([columns.map(({ label }) => label), ...list.map(({ texts }) => texts)]);
      setSaid(t('viewer.origin.copied', { count: list.length }));
    } catch {
      setSaid(t('viewer.origin.notCopied'));
    }
  };
  return (
    <div className="mt-2">
      <p>
        {totalSentence(t, total, groups)}
        {!isWhole && (
          <>
            {': '}
            <b className="tabular-nums">{text || '–'}</b>
          </>
        )}
      </p>
      {!isSame && (
        <p role="alert" className="mt-1 flex items-start gap-1.5 text-rust-strong">
          <TriangleAlert size={14} aria-hidden className="mt-0.5 flex-none" />
          <span>
            {t('viewer.origin.changed', { text: listText })}{' '}
            <button type="button" className="underline" onClick={onAgain}>
              {t('viewer.again')}
            </button>
          </span>
        </p>
      )}
      {list.length > 0 && (
        <>
          <div className="mt-2 flex items-center gap-2">
            <span className="min-w-0 flex-1 text-ink-3">
              {list.length < count
                ? t('viewer.origin.firstOf', { shown: list.length, count })
                : t('viewer.origin.rows', { count })}
            </span>
            <Button look="quiet" onClick={() => void copy()}>
              <Copy size={13} aria-hidden /> {t('viewer.origin.copy')}
            </Button>
          </div>
          <RowsTable columns={columns} rows={list} onRow={(rows) => void leadOn(rows)} />
          {isSame && total.name === 'SUM' && (
            <p className="mt-1 flex items-center gap-1 text-ink-2">
              <Check size={13} aria-hidden className="text-pine" /> {t('viewer.origin.adds', { text: listText })}
            </p>
          )}
        </>
      )}
      <p role="status" className="mt-1 text-ink-2 empty:hidden">
        {said}
      </p>
    </div>
  );
};

interface CutsProps extends Pick<OriginPanelProps, 'parameters' | 'values'> {
  explanation: Explanation;
}

const Cuts = ({ explanation: { cuts, parameters: used }, parameters, values }: CutsProps) => {
  const { t, i18n } = useTranslation();
  const known = used.flatMap((name) => parameters.find((one) => one.name === name) ?? []);
  if (cuts.length === 0 && known.length === 0) return null;
  return (
    <section className="border-t border-rule pt-2">
      <h3 className="font-semibold">{t('viewer.origin.cuts')}</h3>
      <ul className="mt-1 space-y-1">
        {cuts.map((cut, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: in the order of the report
          <li key={i} className="break-words">
            {cut.kind === 'first' && t('viewer.origin.first', { rows: cut.drawer, count: cut.count })}
            {cut.kind === 'query' && t('viewer.origin.query', { name: cut.query })}
            {(cut.kind === 'filter' || cut.kind === 'keep') && (
              <>
                {t('viewer.origin.where', { rows: cut.kind === 'filter' ? cut.drawer : cut.query })}{' '}
                <code className="font-mono text-[12px] text-ink-2">{cut.formula}</code>
              </>
            )}
          </li>
        ))}
        {known.map((parameter) => (
          <li key={parameter.name}>
            {parameter.label}:{' '}
            <b>
              {valueWords(values[parameter.name] ?? parameter.default ?? null, {
                parameter,
                t,
                language: i18n.language,
              }) || t('viewer.all')}
            </b>
          </li>
        ))}
      </ul>
    </section>
  );
};
