import type { ColumnSettings } from '@gaveta/core/internal';
import type { ConnectionSettings, FoundSourceField, FoundSourceTable } from '../../api/client.ts';

export type ColumnChange = Partial<Pick<ColumnSettings, 'name' | 'label' | 'type' | 'decimal' | 'dates'>> & {
  leftOut?: boolean;
};

/** Settings with what somebody said of a column added to what was said of it before. A new type forgets how the old one was written. */
export const withColumn = <T extends Exclude<ConnectionSettings, { kind: 'postgres' }>>(
  settings: T,
  table: FoundSourceTable,
  field: FoundSourceField,
  { leftOut, ...change }: ColumnChange,
): T => {
  const key = { table: table.label, column: field.column ?? field.name, which: field.which ?? 0 };
  const isIt = (c: ColumnSettings): boolean =>
    c.table === key.table && c.column === key.column && c.which === key.which;
  const before = settings.columns?.find(isIt);
  const kept: ColumnSettings = { ...key, ...before };
  if (change.type !== undefined && change.type !== before?.type) {
    delete kept.decimal;
    delete kept.dates;
  }
  if (leftOut === false) delete kept.leftOut;
  if (leftOut) kept.leftOut = true;
  return { ...settings, columns: [...(settings.columns ?? []).filter((c) => !isIt(c)), { ...kept, ...change }] };
};

/** Whether a name can stand in a formula as it is, and no other column of the table has it. */
export const isFreeName = (table: FoundSourceTable, field: FoundSourceField, name: string): boolean =>
  /^[\p{L}_][\p{L}\p{N}_]{0,79}$/u.test(name) && !table.fields.some((f) => f !== field && f.name === name);
