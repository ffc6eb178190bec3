import { decodeValue, type Field, fieldFormat, formatValue, type WireRow } from '@gaveta/core/internal';
import { memo } from 'react';
import type { ColumnFacts } from '../api/client.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { type DataColumn, DataTable } from '../ui/data-table.tsx';

interface ResultTableProps {
  fields: readonly Field[];
  rows: readonly WireRow[];
  facts: readonly ColumnFacts[] | null;
  label: string;
}

/**
 * Rows as a table: what the columns hold in a line of its own, then the rows, values as a report would show them. Thousands of
 * cells, so that it is drawn again only when they are others.
 */
export const ResultTable = memo(({ fields, rows, facts, label }: ResultTableProps) => {
  const { t, i18n } = useTranslation();
  const settings = { language: i18n.language, timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone };
  const shown = (field: Field, value: WireRow[number]): string => {
    const decoded = decodeValue(value, field.type);
    if (decoded === null) return '';
    const choice = field.choices?.find((c) => c.value === String(value));
    return choice?.label ?? formatValue(decoded, fieldFormat(field, settings.language, undefined) ?? '', settings);
  };
  const columns = fields.map((field, at): DataColumn<WireRow> => {
    const own = facts?.find((f) => f.field === field.name);
    return {
      id: field.name,
      head: field.inexact ? `${field.label} ≈` : field.label,
      facts: own && <Facts field={field} facts={own} show={shown} />,
      title: [field.name, field.description, field.unit, field.inexact && t('data.inexact')]
        .filter(Boolean)
        .join(' · '),
      isRight: field.type === 'number',
      cell: (row) => <Value field={field} value={row[at] ?? null} show={shown} />,
    };
  });
  return (
    <DataTable
      label={label}
      columns={columns}
      rows={rows}
      headLook="border-b border-ink px-2 py-1.5 font-semibold whitespace-nowrap"
      cellLook="max-w-72 py-1"
    />
  );
});

interface ValueProps {
  field: Field;
  value: WireRow[number];
  show: (field: Field, value: WireRow[number]) => string;
}

const Value = ({ field, value, show }: ValueProps) => {
  const { t } = useTranslation();
  if (value === null)
    return (
      <span className="text-ink-3" title={t('data.blank')}>
        –
      </span>
    );
  if (field.type === 'picture' && value) return <img src={String(value)} alt="" className="h-8" />;
  return <bdi>{show(field, value)}</bdi>;
};

interface FactsProps {
  field: Field;
  facts: ColumnFacts;
  show: (field: Field, value: string) => string;
}

/** How many different values and blanks a column has, and where its values lie. */
const Facts = ({ field, facts, show }: FactsProps) => {
  const { t } = useTranslation();
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
