import type { ComparedTotal, ReportNames } from '@gaveta/core/internal';
import { itemLabel } from '../designer/design/words.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import type { RevisionRun } from './use-compared.ts';

interface ComparedFactsProps {
  older: RevisionRun;
  newer: RevisionRun;
  totals: readonly ComparedTotal[];
  names: ReportNames;
}

/** Pages, rows and totals of two revisions beside one another. */
export const ComparedFacts = ({ older, newer, totals, names }: ComparedFactsProps) => {
  const { t, i18n } = useTranslation();
  const number = (value: number | undefined): string | null => value?.toLocaleString(i18n.language) ?? null;
  const lines = [
    { key: 'pages', label: t('revisions.pages'), was: number(older.state?.pages), is: number(newer.state?.pages) },
    { key: 'rows', label: t('revisions.rows'), was: number(older.state?.rows), is: number(newer.state?.rows) },
    ...totals.map(({ item, was, is }) => ({ key: item.id, label: itemLabel(t, item, names), was, is })),
  ];
  return (
    <table data-testid="compared" className="w-full text-[12px] tabular-nums">
      <thead>
        <tr className="text-ink-3">
          <td />
          <th scope="col" className="py-0.5 ps-2 text-end font-normal">
            {t('revisions.older')}
          </th>
          <th scope="col" className="py-0.5 ps-2 text-end font-normal">
            {t('revisions.newer')}
          </th>
        </tr>
      </thead>
      <tbody>
        {lines.map(({ key, label, was, is }) => {
          const differs = was !== is;
          return (
            <tr key={key} data-differs={differs || undefined} className="border-t border-rule-soft">
              <th scope="row" className="max-w-28 truncate py-0.5 text-start font-normal" title={label}>
                {label}
              </th>
              <td className="py-0.5 ps-2 text-end text-ink-2">{was ?? '–'}</td>
              <td className={`py-0.5 ps-2 text-end ${differs ? 'bg-brass-soft font-semibold' : 'text-ink-2'}`}>
                {is ?? '–'}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
};
