import { DATA_TYPES, type DataType } from '@gaveta/core/internal';
import type { FoundSourceField, FoundSourceTable } from '../../api/client.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { CommitBox } from '../../ui/commit.tsx';
import { type DataColumn, DataTable } from '../../ui/data-table.tsx';
import { Select } from '../../ui/select.tsx';
import { type ColumnChange, isFreeName } from './source-columns.ts';

interface PreviewProps {
  tables: readonly FoundSourceTable[];
  /** Whether it is being read again. */
  isReading: boolean;
  onColumn: (table: FoundSourceTable, field: FoundSourceField, change: ColumnChange) => void;
}

/** The first rows of a file or service, under what each column becomes: its label, its name in formulas and its type. */
export const SourcePreview = ({ tables, isReading, onColumn }: PreviewProps) => {
  const { t } = useTranslation();
  return (
    <section aria-label={t('data.preview')} className={isReading ? 'opacity-60' : ''}>
      {tables.map((table) => (
        <div key={table.name} className="mb-3 rounded border border-rule bg-paper">
          <h3 className="px-2.5 pt-2 font-semibold">{table.label}</h3>
          <p className="px-2.5 pb-1.5 text-[11.5px] text-ink-2">{t('data.previewHelp')}</p>
          {table.short && (
            <p role="status" className="mx-2.5 mb-1.5 rounded bg-brass-soft px-1.5 py-0.5 text-[11.5px]">
              {t('data.shortRows', { count: table.short.rows, line: table.short.line })}
            </p>
          )}
          <div className="max-h-[380px] overflow-auto border-t border-rule">
            <PreviewTable table={table} onColumn={onColumn} />
          </div>
        </div>
      ))}
    </section>
  );
};

type Cells = NonNullable<FoundSourceTable['rows']>[number];

const PreviewTable = ({ table, onColumn }: Pick<PreviewProps, 'onColumn'> & { table: FoundSourceTable }) => {
  const { t } = useTranslation();
  const columns = table.fields.map(
    (field, at): DataColumn<Cells> => ({
      id: `${field.column} ${field.which}`,
      head: <ColumnHead table={table} field={field} onChange={(change) => onColumn(table, field, change)} />,
      isRight: field.type === 'number',
      cell: (row) => (field.leftOut ? <span className="text-ink-3">{row[at]?.text}</span> : row[at]?.text),
      unlike: (row) =>
        row[at]?.fits === false && !field.leftOut
          ? { look: 'bg-rust-soft text-rust-strong line-through', title: t('data.doesNotFit') }
          : null,
    }),
  );
  return (
    <DataTable
      label={table.label}
      columns={columns}
      rows={table.rows ?? []}
      headLook="min-w-36 border-b border-rule p-1.5 text-start align-top font-normal"
      cellLook="max-w-60 py-0.5"
    />
  );
};

interface HeadProps {
  table: FoundSourceTable;
  field: FoundSourceField;
  onChange: (change: ColumnChange) => void;
}

const ORDERS = ['dmy', 'mdy', 'ymd'] as const;
const SIGNS = ['.', ','] as const;

const ColumnHead = ({ table, field, onChange }: HeadProps) => {
  const { t } = useTranslation();
  const { label, name, type, misfits = 0, doubt, leftOut = false } = field;
  const isDay = type === 'date' || type === 'datetime';
  const take = (
    <label className="flex items-center gap-1.5 text-[11.5px] text-ink-2">
      <input
        type="checkbox"
        checked={!leftOut}
        aria-label={t('data.columnTaken', { column: field.column })}
        onChange={(event) => onChange({ leftOut: !event.target.checked })}
      />
      {leftOut ? t('data.columnLeftOut', { column: field.column }) : t('data.columnIn')}
    </label>
  );
  if (leftOut) return take;
  return (
    <span className="flex flex-col gap-1">
      {take}
      <CommitBox
        label={t('data.columnLabelOf', { column: field.column })}
        value={label}
        className="font-semibold"
        onCommit={(next) => next.trim() && onChange({ label: next.trim().slice(0, 200) })}
      />
      <CommitBox
        label={t('data.columnNameOf', { column: field.column })}
        value={name}
        mono
        onCommit={(next) => isFreeName(table, field, next.trim()) && onChange({ name: next.trim() })}
      />
      <Select<DataType>
        label={t('data.columnType', { column: field.column })}
        value={type}
        choices={DATA_TYPES.map((value) => ({ value, label: t(`data.columnType_${value}`) }))}
        onPick={(next) => onChange({ type: next })}
      />
      {isDay && field.dates && (
        <Select
          label={t('data.columnDates', { column: field.column })}
          value={field.dates}
          choices={ORDERS.map((value) => ({ value, label: t(`data.order_${value}`) }))}
          onPick={(dates) => onChange({ type, dates })}
        />
      )}
      {type === 'number' && (doubt === 'decimal' || field.decimal === ',') && (
        <Select
          label={t('data.columnDecimal', { column: field.column })}
          value={field.decimal}
          choices={SIGNS.map((value) => ({ value, label: value === '.' ? '1,234.5' : '1.234,5' }))}
          onPick={(decimal) => onChange({ type, decimal })}
        />
      )}
      {doubt && <span className="rounded bg-brass-soft px-1 text-[11.5px]">{t(`data.doubt_${doubt}`)}</span>}
      {misfits > 0 && <span className="text-[11.5px] text-rust-strong">{t('data.misfits', { count: misfits })}</span>}
    </span>
  );
};
