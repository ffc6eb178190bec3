import { decodeValue, type Field, formatValue, type WireRow } from '@gaveta/core/internal';
import { useTranslation } from 'react-i18next';
import type { ColumnFacts } from '../api/client.ts';

interface ResultTableProps {
  fields: readonly Field[];
  rows: readonly WireRow[];
  facts: readonly ColumnFacts[] | null;
  label: string;
}

const isRight = (field: Field): boolean => field.type === 'number';

/** Rows as a table: what the columns hold in a line of its own, then the rows, values as a report would show them. */
export const ResultTable = ({ fields, rows, facts, label }: ResultTableProps) => {
  const { i18n, t } = useTranslation();
  const settings = { language: i18n.language, timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone };
  const shown = (field: Field, value: WireRow[number]): string => {
    const decoded = decodeValue(value, field.type);
    if (decoded === null) return '';
    const choice = field.choices?.find((c) => c.value === String(value));
    return choice?.label ?? formatValue(decoded, field.format ?? '', settings);
  };
  return (
    <table aria-label={label} className="border-collapse text-left">
      <thead className="sticky top-0 bg-sheet">
        <tr>
          {fields.map((field) => (
            <th
              key={field.name}
              scope="col"
              title={[field.name, field.description, field.unit].filter(Boolean).join(' · ')}
              className={`border-b border-ink px-2 py-1.5 font-semibold whitespace-nowrap ${isRight(field) ? 'text-right' : ''}`}
            >
              {field.label}
            </th>
          ))}
        </tr>
        {facts && (
          <tr className="text-[11.5px] text-ink-3">
            {fields.map((field) => (
              <td
                key={field.name}
                className={`border-b border-rule-soft px-2 py-1 align-top whitespace-nowrap ${isRight(field) ? 'text-right' : ''}`}
              >
                <Facts field={field} facts={facts.find((f) => f.field === field.name)} show={shown} />
              </td>
            ))}
          </tr>
        )}
      </thead>
      <tbody>
        {rows.map((row, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: rows have no name of their own
          <tr key={i} className="hover:bg-desk/30">
            {fields.map((field, c) => (
              <td
                key={field.name}
                className={`max-w-72 truncate border-b border-rule-soft px-2 py-1 ${isRight(field) ? 'text-right' : ''}`}
              >
                {field.type === 'picture' && row[c] ? (
                  <img src={String(row[c])} alt="" className="h-8" />
                ) : row[c] === null ? (
                  <span className="text-ink-3" title={t('data.blank')}>
                    –
                  </span>
                ) : (
                  <bdi>{shown(field, row[c] ?? null)}</bdi>
                )}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
};

interface FactsProps {
  field: Field;
  facts: ColumnFacts | undefined;
  show: (field: Field, value: string) => string;
}

/** How many different values and blanks a column has, and where its values lie. */
const Facts = ({ field, facts, show }: FactsProps) => {
  const { t } = useTranslation();
  if (!facts) return null;
  const { least, most, distinct, blanks } = facts;
  const hasRange = least !== null && most !== null && field.type !== 'text';
  return (
    <>
      <span className="block">{distinct === 1 ? t('data.oneValue') : t('data.distinct', { count: distinct })}</span>
      {hasRange && distinct > 1 && (
        <span className="block">{t('data.range', { from: show(field, least), to: show(field, most) })}</span>
      )}
      {blanks > 0 && <span className="block">{t('data.blanks', { count: blanks })}</span>}
    </>
  );
};
