import { CalendarDate, type DataType, Moment, type WireValue } from '@gaveta/core';

/** A cell as a file or service gives it, before its column has a type. */
export type RawCell = string | number | boolean | Date | null;

/** Rows of a file or service as they came. `columns`: what they are called there. */
export interface RawTable {
  name: string;
  columns: string[];
  rows: RawCell[][];
}

/** How numbers and dates are written where they are texts. */
export interface Writing {
  decimal: '.' | ',';
  dates: 'ymd' | 'dmy' | 'mdy';
}

/** A source that does not hold what it should. The words say what is wrong and where. */
export class SourceError extends Error {}

const NUMBER = {
  '.': /^[+-]?(?:\d+|\d{1,3}(?:,\d{3})+)(?:\.\d+)?(?:[eE][+-]?\d+)?$/,
  ',': /^[+-]?(?:\d+|\d{1,3}(?:\.\d{3})+)(?:,\d+)?$/,
};

/** A written number as our numbers travel, or null when it is none. Digits are kept, all of them. */
export const readNumber = (text: string, decimal: Writing['decimal']): string | null => {
  const trimmed = text.trim().replace(/^\+/, '');
  // A number that starts with zeros is a code, as a postal code is.
  if (!NUMBER[decimal].test(trimmed) || /^-?0\d/.test(trimmed)) return null;
  return decimal === '.' ? trimmed.replace(/,/g, '') : trimmed.replace(/\./g, '').replace(',', '.');
};

/** A written day as `2025-07-12`, or null. */
export const readDay = (text: string, order: Writing['dates']): string | null => {
  const trimmed = text.trim();
  if (/^\d{4}-\d{2}-\d{2}$/.test(trimmed)) return CalendarDate.parse(trimmed) ? trimmed : null;
  const match = /^(\d{1,4})[./-](\d{1,2})[./-](\d{1,4})$/.exec(trimmed);
  if (!match) return null;
  const [a, b, c] = match.slice(1).map(Number) as [number, number, number];
  const [year, month, day] = order === 'ymd' ? [a, b, c] : order === 'dmy' ? [c, b, a] : [c, a, b];
  return year > 31 ? (CalendarDate.of(year, month, day)?.toString() ?? null) : null;
};

const readMoment = (text: string): string | null => {
  const trimmed = text.trim();
  return /^\d{4}-\d{2}-\d{2}[T ]\d{2}:\d{2}/.test(trimmed) && Moment.parse(trimmed) ? trimmed : null;
};

const isMidnight = (date: Date): boolean => date.getTime() % 86_400_000 === 0;

const fits = (cell: Exclude<RawCell, null>, type: DataType, writing: Writing): boolean => {
  switch (type) {
    case 'number':
      return typeof cell === 'number' || (typeof cell === 'string' && readNumber(cell, writing.decimal) !== null);
    case 'boolean':
      return typeof cell === 'boolean' || (typeof cell === 'string' && /^(true|false)$/i.test(cell.trim()));
    case 'date':
      return cell instanceof Date
        ? isMidnight(cell)
        : typeof cell === 'string' && readDay(cell, writing.dates) !== null;
    case 'datetime':
      return (
        cell instanceof Date ||
        (typeof cell === 'string' && (readMoment(cell) ?? readDay(cell, writing.dates)) !== null)
      );
    default:
      return false;
  }
};

/** The narrowest type that every cell of a column fits; text when none does or when all are blank. */
export const inferType = (cells: Iterable<RawCell>, writing: Writing): DataType => {
  let candidates: DataType[] = ['boolean', 'number', 'date', 'datetime'];
  let seen = false;
  for (const cell of cells) {
    if (cell === null || cell === '') continue;
    seen = true;
    candidates = candidates.filter((type) => fits(cell, type, writing));
    if (candidates.length === 0) break;
  }
  return seen ? (candidates[0] ?? 'text') : 'text';
};

/** A cell as a value of its column's type travels. A cell that does not fit is blank, which the caller counts. */
export const toWire = (cell: RawCell, type: DataType, writing: Writing): WireValue => {
  if (cell === null || cell === '') return null;
  switch (type) {
    case 'text':
      return cell instanceof Date ? cell.toISOString() : String(cell);
    case 'picture':
      return typeof cell === 'string' ? cell : null;
    case 'number':
      if (typeof cell === 'number') return Number.isSafeInteger(cell) ? cell : String(cell);
      return typeof cell === 'string' ? readNumber(cell, writing.decimal) : null;
    case 'boolean':
      if (typeof cell === 'boolean') return cell;
      return typeof cell === 'string' && /^(true|false)$/i.test(cell.trim())
        ? cell.trim().toLowerCase() === 'true'
        : null;
    case 'date':
      if (cell instanceof Date) return cell.toISOString().slice(0, 10);
      return typeof cell === 'string' ? (readDay(cell, writing.dates) ?? readMoment(cell)?.slice(0, 10) ?? null) : null;
    case 'datetime':
      if (cell instanceof Date) return cell.toISOString();
      if (typeof cell !== 'string') return null;
      return (
        readMoment(cell) ?? (readDay(cell, writing.dates) === null ? null : `${readDay(cell, writing.dates)}T00:00:00Z`)
      );
    default:
      return type satisfies never;
  }
};

/** Names of fields for what columns are called: letters, digits and _, each different. */
export const fieldNames = (columns: readonly string[]): string[] => {
  const taken = new Set<string>();
  /** The number that the next name of a base ends with. */
  const next = new Map<string, number>();
  return columns.map((column, i) => {
    const plain = column
      .trim()
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, '_')
      .replace(/^_+|_+$/g, '')
      .slice(0, 60);
    const base = /^[\p{L}_]/u.test(plain) ? plain : `column_${plain || i + 1}`;
    let name = base;
    let n = next.get(base) ?? 2;
    while (taken.has(name)) name = `${base}_${n++}`;
    next.set(base, n);
    taken.add(name);
    return name;
  });
};

/** Which of the columns of the same name each one is, from 0. */
export const occurrences = (columns: readonly string[]): number[] => {
  const counts = new Map<string, number>();
  return columns.map((column) => {
    const count = counts.get(column) ?? 0;
    counts.set(column, count + 1);
    return count;
  });
};
