import type { ExplainedTotal } from '@gaveta/core/internal';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';

const ROW = 24;
/** Highest that it gets, in CSS pixels. */
const HIGHEST = 320;
/** Characters that decide on the width of a column. */
const WIDEST = 28;

interface RowsTableProps {
  columns: ExplainedTotal['columns'];
  rows: ExplainedTotal['list'];
  /** Leads on to a row, by its name. */
  onRow: (rows: string) => void;
}

/** The rows that a total counts; a press on one goes to where it stands. Only those in sight are in the document. */
export const RowsTable = ({ columns, rows, onRow }: RowsTableProps) => {
  const { t } = useTranslation();
  const scroller = useRef<HTMLDivElement>(null);
  const list = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 8,
  });
  const widths = columns.map(({ label }, i) =>
    Math.min(
      WIDEST,
      rows.slice(0, 200).reduce((most, { texts }) => Math.max(most, texts[i]?.length ?? 0), label.length),
    ),
  );
  const side = (i: number): string => (columns[i]?.isNumber ? 'text-end' : 'text-start');
  const shown = list.getVirtualItems();
  const above = shown[0]?.start ?? 0;
  const below = list.getTotalSize() - (shown.at(-1)?.end ?? 0);
  return (
    <section
      ref={scroller}
      aria-label={t('viewer.origin.list')}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, also by keys
      tabIndex={0}
      className="mt-1 overflow-auto rounded border border-rule text-[12px]"
      style={{ maxHeight: HIGHEST }}
    >
      <table className="min-w-full table-fixed border-collapse" style={{ width: 'max-content' }}>
        <colgroup>
          {widths.map((width, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: one for each column
            <col key={i} style={{ width: `${width + 3}ch` }} />
          ))}
        </colgroup>
        <thead className="sticky top-0 z-1 bg-sheet">
          <tr>
            {columns.map(({ label }, i) => (
              <th
                // biome-ignore lint/suspicious/noArrayIndexKey: labels may come twice
                key={i}
                scope="col"
                title={label}
                className={`truncate border-b border-rule px-2 py-1 font-semibold ${side(i)}`}
              >
                {label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {above > 0 && <tr aria-hidden style={{ height: above }} />}
          {shown.map(({ index }) => {
            const { texts, rows: name } = rows[index]!;
            const leads = name !== '';
            return (
              <tr
                key={index}
                {...(leads ? { tabIndex: 0, title: t('viewer.origin.goToRow') } : {})}
                className={`border-b border-rule-soft ${leads ? 'cursor-pointer hover:bg-pine-soft' : ''}`}
                style={{ height: ROW }}
                onClick={() => leads && onRow(name)}
                onKeyDown={(event) => event.key === 'Enter' && leads && onRow(name)}
              >
                {texts.map((text, i) => (
                  // biome-ignore lint/suspicious/noArrayIndexKey: one for each column
                  <td key={i} title={text} className={`truncate px-2 tabular-nums ${side(i)}`}>
                    {text}
                  </td>
                ))}
              </tr>
            );
          })}
          {below > 0 && <tr aria-hidden style={{ height: below }} />}
        </tbody>
      </table>
    </section>
  );
};
