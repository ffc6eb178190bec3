import { expect, it } from 'vitest';
import { isFreeName, withColumn } from './source-columns.ts';

const field = (name: string, which = 0) => ({ name, label: name, type: 'text' as const, column: 'Day', which });
const table = { name: 'stays', label: 'Stays', fields: [field('day'), field('day_2', 1)] };
const settings = { kind: 'file', format: 'csv', fileName: 'stays.csv', decimal: '.', dates: 'ymd' } as const;

it('keeps what was said of each column, also of two of the same name', () => {
  const [first, second] = table.fields as [(typeof table.fields)[0], (typeof table.fields)[0]];
  let said: Parameters<typeof withColumn>[0] = withColumn(settings, table, first, { type: 'date' });
  said = withColumn(said, table, first, { dates: 'mdy' });
  said = withColumn(said, table, second, { label: 'Left on' });
  said = withColumn(said, table, first, { name: 'arrival' });
  expect(said.columns).toEqual([
    { table: 'Stays', column: 'Day', which: 1, label: 'Left on' },
    { table: 'Stays', column: 'Day', which: 0, type: 'date', dates: 'mdy', name: 'arrival' },
  ]);
  // A number is not written in an order of days.
  said = withColumn(said, table, first, { type: 'number' });
  expect(said.columns?.at(-1)).toEqual({ table: 'Stays', column: 'Day', which: 0, type: 'number', name: 'arrival' });
});

it('takes names that formulas can call, and none twice', () => {
  const [first] = table.fields as [(typeof table.fields)[0]];
  expect(['arrival', 'día', '_x1', 'day'].map((name) => isFreeName(table, first, name))).toEqual([
    true,
    true,
    true,
    true,
  ]);
  expect(['day_2', '1st', 'a b', '', 'x'.repeat(81)].some((name) => isFreeName(table, first, name))).toBe(false);
});
