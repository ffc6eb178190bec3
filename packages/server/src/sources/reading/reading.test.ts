import type { DataType } from '@gaveta/core/internal';
import { describe, expect, it } from 'vitest';
import { fieldNames } from '../../model/field-names.ts';
import { describeTables } from '../tables.ts';
import type { RawCell } from './cell.ts';
import { type ColumnFacts, describeColumn, toWire, type Writing } from './column.ts';
import { readDate } from './dates.ts';
import { readNumber } from './numbers.ts';

const plain: Writing = { decimal: '.', dates: 'ymd' };
const local: Writing = { decimal: ',', dates: 'dmy' };
const _never = new AbortController().signal;
const _bytes = (text: string): Uint8Array => new TextEncoder().encode(text);

const readDay = (text: string, order: Writing['dates']): string | null => {
  const found = readDate(text, order);
  return found?.time === null ? found.day : null;
};
const factsOf = (cells: readonly RawCell[], name = 'value', writing = plain): ColumnFacts =>
  describeColumn(name, () => cells, writing);

describe('written numbers and days', () => {
  it('keep every digit, and codes stay texts', () => {
    expect(readNumber('1,234.50', '.')).toBe('1234.50');
    expect(readNumber('1.234,50', ',')).toBe('1234.50');
    expect(readNumber('12345678901234567890.123', '.')).toBe('12345678901234567890.123');
    for (const code of ['007', '1,23', '1.2.3', '', 'e5', '0x1F', '12a'])
      expect(readNumber(code, '.'), code).toBeNull();
    expect(readNumber('0.5', '.')).toBe('0.5');
  });
  it('are days that there are', () => {
    expect(readDay('29.02.2024', 'dmy')).toBe('2024-02-29');
    expect(readDay('02/29/2024', 'mdy')).toBe('2024-02-29');
    expect(readDay('29.02.2023', 'dmy')).toBeNull();
    expect(readDay('2024-13-01', 'ymd')).toBeNull();
    expect(readDay('12.5', 'dmy')).toBeNull();
  });
  it('give a column the narrowest type that all of its cells fit', () => {
    const typed = (cells: RawCell[], writing = plain): DataType => factsOf(cells, 'value', writing).type;
    expect(typed(['1', '2.5', '', null])).toBe('number');
    expect(typed(['1', 'x'])).toBe('text');
    expect(typed(['true', 'FALSE'])).toBe('boolean');
    expect(typed(['1.1.2024', '31.12.2024'], local)).toBe('date');
    expect(typed(['2024-01-01', '2024-01-01T10:00:00Z'])).toBe('datetime');
    expect(typed([null, ''])).toBe('text');
  });
  it.each([
    ['Jan 1 2000', '2000-01-01'],
    ['January 1, 2000', '2000-01-01'],
    ['Jun 12 1998', '1998-06-12'],
    ['12 Jun 98', '1998-06-12'],
    ['12-Jun-1998', '1998-06-12'],
    ['12 de junho de 1998', '1998-06-12'],
    ['1.º dez. 2024', '2024-12-01'],
    ['Sunday, 3 March 2024', '2024-03-03'],
    ['2nd Sept 2024', '2024-09-02'],
    ['3 août 2024', '2024-08-03'],
    ['5. März 2024', '2024-03-05'],
    ['2015/01/31', '2015-01-31'],
    ['1998-06-12T10:00', '1998-06-12 10:00:00Z'],
    ['2015/01/01 01:00:00', '2015-01-01 01:00:00Z'],
    ['Jun 12 1998 4:05 PM', '1998-06-12 16:05:00Z'],
    ['Jun 12 1998 12:05 am', '1998-06-12 00:05:00Z'],
    ['2024-02-29 23:59:59.5+01:00', '2024-02-29 23:59:59.5+01:00'],
  ])('are read as people write them: %s', (text, wanted) => {
    const found = readDate(text, 'dmy');
    expect(found && [found.day, ...(found.time === null ? [] : [found.time])].join(' ')).toBe(wanted);
  });
  it.each([
    'Jan 32 2000',
    'Brecha 1 2000',
    '12 Jun',
    '1.2.10',
    '12-34-56',
    '2024-02-30 10:00',
    '10:00',
    '31/31/2000',
    'May',
    '1234',
    `${'1 '.repeat(5000)}`,
  ])('are no days where they are something else: %s', (text) => {
    expect(readDate(text, 'dmy')).toBeNull();
  });
  it('tell day and month by the other values of their column, and say so where they cannot', () => {
    expect(factsOf(['6/12/1998', '6/30/1998'])).toMatchObject({ type: 'date', writing: { dates: 'mdy' }, doubt: null });
    expect(factsOf(['6/12/1998', '30/6/1998'])).toMatchObject({ type: 'date', writing: { dates: 'dmy' }, doubt: null });
    expect(factsOf(['6/12/1998', '7/12/1998'])).toMatchObject({ type: 'date', doubt: 'day-month' });
    expect(factsOf(['6/6/1998', '7/7/98'])).toMatchObject({ type: 'date', doubt: null });
    expect(factsOf(['6/13/1998', '13/6/1998']).type).toBe('text');
  });
  it.each([
    ['.097', '0.097'],
    ['−12.5', '-12.5'],
    ['12.5-', '-12.5'],
    ['(1,200.50)', '-1200.50'],
    ['+3', '3'],
    ['1 234 567.8', '1234567.8'],
    ["1'234.50", '1234.50'],
    ['12.5%', '0.125'],
    ['5 %', '0.05'],
    ['$12', '12'],
    ['€ 1,250.00', '1250.00'],
    ['-€5', '-5'],
    ['12.50 EUR', '12.50'],
    ['R$ 10', '10'],
    ['1.5e3', '1.5e3'],
  ])('are numbers with their signs: %s', (text, wanted) => {
    expect(readNumber(text, '.')).toBe(wanted);
  });
  it('are no numbers with other words, signs in other places, or two currencies', () => {
    for (const text of ['ABC 12', '12 m', '$12$', '1,23,456', '1,234 567', '--5', '%', '5%%', '€', '00.5', '12.5 %EUR'])
      expect(readNumber(text, '.'), text).toBeNull();
  });
  it('tell the sign of fractions by the other values of their column, and say so where they cannot', () => {
    expect(factsOf(['1.234', '1,5'])).toMatchObject({ type: 'number', writing: { decimal: ',' }, doubt: null });
    expect(factsOf(['1.234', '12.345'])).toMatchObject({ type: 'number', writing: { decimal: '.' }, doubt: 'decimal' });
    expect(factsOf(['1', '12'])).toMatchObject({ type: 'number', doubt: null });
  });
  it('are read as the other columns of their file are written, where those can be read in one way alone', () => {
    const table = { name: 'Snow', columns: ['depth', 'share', 'first', 'last'], rows: [] as RawCell[][] };
    const described = (...rows: RawCell[][]) => {
      const { tables, looks } = describeTables([{ ...table, rows }], plain);
      return tables[0]!.fields.map(({ writing }, i) => ({ ...writing, doubt: looks[0]!.fields[i]!.doubt }));
    };
    const [depth, , first] = described(['1.400', '3,5', '3/4/2025', '4/30/2025'], ['90', '4', '5/6/2025', '5/31/2025']);
    expect(depth).toMatchObject({ decimal: ',', doubt: null });
    expect(first).toMatchObject({ dates: 'mdy', doubt: null });
    expect(described(['1.400', 'x', '3/4/2025', 'x']).map((f) => f.doubt)).toEqual([
      'decimal',
      null,
      'day-month',
      null,
    ]);
  });
  it('get a format that suits them', () => {
    const format = (name: string, ...cells: RawCell[]) => factsOf(cells, name).format;
    expect(format('charge', '1234.5', '12.25')).toBe('#,##0.00');
    expect(format('charge', '0.50', '12.25')).toBe('0.00');
    expect(format('beds', '12', '30')).toBeNull();
    expect(format('metres', 1234, 30)).toBe('#,##0');
    expect(format('Season', '2024', '2025')).toBeNull();
    for (const name of ['id', 'hut_id', 'hutId', 'Member No', 'ano']) expect(format(name, '22139590')).toBeNull();
    expect(format('share', '12.5%', '3%')).toBe('0.0%');
    expect(format('price', '€ 1,250.00', '€ 12.50')).toBe('"€" #,##0.00');
    expect(format('price', '12.50 €')).toBe('0.00 "€"');
  });
  it('have words for yes, no and nothing', () => {
    expect(factsOf(['Yes', 'no', 'NA', '-', 'null']).type).toBe('boolean');
    expect(factsOf(['sim', 'não']).type).toBe('boolean');
    expect(factsOf(['n', 'n']).type).toBe('text');
    expect(factsOf(['y', 'n']).type).toBe('boolean');
    expect(factsOf(['yes', 'não']).type).toBe('text');
    expect(factsOf(['1', 'NA', 'n/a', '-', '3']).type).toBe('number');
    expect(toWire('NA', 'number', plain)).toBeNull();
    expect(['NA', 'null', '-', 'N/A'].map((cell) => toWire(cell, 'text', plain))).toEqual(['NA', null, null, null]);
  });
  it('become blank where they do not fit, never something else', () => {
    expect(toWire('abc', 'number', plain)).toBeNull();
    expect(toWire(0.1, 'number', plain)).toBe('0.1');
    expect(toWire('maybe', 'boolean', plain)).toBeNull();
    expect(toWire('31.02.2024', 'date', local)).toBeNull();
  });
});

it('names fields so that formulas can call them', () => {
  expect(fieldNames(['Hut name', 'Höhe (m)', '2025', '', 'hut name', '__'])).toEqual([
    'hut_name',
    'höhe_m',
    'column_2025',
    'column_4',
    'hut_name_2',
    'column_6',
  ]);
});
