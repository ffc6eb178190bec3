import {
  CalendarDate,
  FormulaError,
  isNumeric,
  Moment,
  numericText,
  type Value,
  valueText,
} from '@gaveta/core/internal';
import { cellText } from './text.ts';

const DAY = 86_400_000;
/** The days from the first one that spreadsheets count, 1900-01-00, to 1970-01-01. */
const FIRST_DAY = 25_569;
/** Days before March 1900 are one off in spreadsheets, which take 1900 for a leap year; earlier ones there are none. */
const LEAST_SERIAL = 61;
const ERRORS = new Set(['#VALUE!', '#DIV/0!', '#NAME?', '#N/A', '#NUM!', '#REF!']);

/** A text as a cell; `style`: the attribute of its format. */
export const textCell = (at: string, style: string, text: string): string =>
  `<c r="${at}"${style} t="inlineStr"><is><t xml:space="preserve">${cellText(text)}</t></is></c>`;

const serialCell = (at: string, style: string, serial: number, text: string): string =>
  serial < LEAST_SERIAL ? textCell(at, '', text) : `<c r="${at}"${style}><v>${serial}</v></c>`;

/** A value as a cell of its own type; empty where there is none. `style`: place among the formats of the workbook. */
export const valueCell = (at: string, value: Value, style: number, timeZone: string): string => {
  if (value === null) return '';
  const set = style === 0 ? '' : ` s="${style}"`;
  if (typeof value === 'string') return textCell(at, set, value);
  if (isNumeric(value)) return `<c r="${at}"${set}><v>${numericText(value)}</v></c>`;
  if (typeof value === 'boolean') return `<c r="${at}"${set} t="b"><v>${value ? 1 : 0}</v></c>`;
  if (value instanceof CalendarDate) return serialCell(at, set, value.day + FIRST_DAY, value.toString());
  if (value instanceof Moment)
    return serialCell(at, set, value.wallClock(timeZone) / DAY + FIRST_DAY, value.toString());
  if (value instanceof FormulaError)
    return ERRORS.has(value.code) ? `<c r="${at}"${set} t="e"><v>${value.code}</v></c>` : textCell(at, set, value.code);
  return textCell(at, set, valueText(value));
};
