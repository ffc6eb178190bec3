import { type ProblemValue, phrase } from '../problems/phrases.ts';
import { CalendarDate, Moment } from './date.ts';
import { Decimal } from './decimal.ts';
import { compareNumeric, isNumeric, type Numeric, numericText, parseNumeric, readableNumber } from './number.ts';

/** The types that fields, parameters and formulas have. */
export const DATA_TYPES = ['text', 'number', 'date', 'datetime', 'boolean', 'picture'] as const;
export type DataType = (typeof DATA_TYPES)[number];

/** Error values of the open spreadsheet formula standard (OASIS OpenFormula, section 4.6). */
export type FormulaErrorCode = '#VALUE!' | '#DIV/0!' | '#NAME?' | '#N/A' | '#NUM!' | '#REF!';

export class FormulaError {
  constructor(
    readonly code: FormulaErrorCode,
    /** What is wrong: what was given, or a phrase about it. */
    readonly detail: ProblemValue = '',
  ) {}
}

/** A picture out of a field: its media type and its bytes as base64. */
export class Picture {
  constructor(
    readonly mediaType: 'image/png' | 'image/jpeg',
    readonly base64: string,
  ) {}

  static parse(text: string): Picture | null {
    const match = /^data:(image\/(?:png|jpeg));base64,([A-Za-z0-9+/=]+)$/.exec(text);
    return match ? new Picture(match[1] as Picture['mediaType'], match[2]!) : null;
  }

  toString(): string {
    return `data:${this.mediaType};base64,${this.base64}`;
  }
}

/** Several values in order: a written list, or what LIST() collects. */
export class List {
  constructor(readonly values: readonly Value[]) {}

  toString(): string {
    return this.values.map(valueText).join(', ');
  }
}

export type Value = null | string | boolean | Numeric | CalendarDate | Moment | Picture | List | FormulaError;

/** A value as it travels in JSON; numbers that are not safe integers travel as text so that no digit is lost. */
export type WireValue = null | string | number | boolean;

/** The day of a date or of a date with time; a text that is neither, as one before Christ, stays whole and is refused. */
const dayPart = (text: string): string => (/^\d{4}-\d{2}-\d{2}[T ][\d:.+ Z-]+$/.test(text) ? text.slice(0, 10) : text);

/** Reads a travelling value by its type. A value that does not fit its type becomes `#VALUE!`, never a wrong one. */
export const decodeValue = (wire: WireValue, type: DataType): Value => {
  if (wire === null) return null;
  switch (type) {
    case 'text':
      return typeof wire === 'string' ? wire : String(wire);
    case 'number': {
      if (typeof wire === 'number' && Number.isSafeInteger(wire)) return wire;
      return parseNumeric(String(wire)) ?? new FormulaError('#VALUE!', String(wire));
    }
    case 'boolean':
      return typeof wire === 'boolean' ? wire : wire === 'true' || wire === 't';
    case 'date':
      return CalendarDate.parse(dayPart(String(wire))) ?? new FormulaError('#VALUE!', String(wire));
    case 'datetime':
      return Moment.parse(String(wire)) ?? new FormulaError('#VALUE!', String(wire));
    case 'picture':
      return Picture.parse(String(wire)) ?? new FormulaError('#VALUE!', phrase('e-picture'));
    default:
      return type satisfies never;
  }
};

export const encodeValue = (value: Value): WireValue => {
  if (value === null || typeof value === 'string' || typeof value === 'boolean' || typeof value === 'number')
    return value;
  // Digits stay as they are, `12.50`, but for what was rounded off.
  if (value instanceof Decimal) return value.settled().toString();
  return value instanceof FormulaError ? null : value.toString();
};

/** A value as a text with all its digits, before any format. */
export const valueText = (value: Value): string => {
  if (value === null) return '';
  if (typeof value === 'string') return value;
  if (typeof value === 'boolean') return value ? 'TRUE' : 'FALSE';
  if (isNumeric(value)) return numericText(value);
  if (value instanceof FormulaError) return value.code;
  if (value instanceof Picture) return '';
  return value.toString();
};

/** As joining and functions of texts take a value: a number as people read it. */
export const joinedText = (value: Value): string => (isNumeric(value) ? readableNumber(value) : valueText(value));

const typeOrder = (value: Exclude<Value, null>): number =>
  isNumeric(value)
    ? 0
    : value instanceof CalendarDate || value instanceof Moment
      ? 1
      : typeof value === 'string'
        ? 2
        : 3;

/** Where dates, times and booleans stand among their like; null for any other value. */
const ordinal = (value: Value): number | null =>
  value instanceof CalendarDate
    ? value.day * 86_400_000
    : value instanceof Moment
      ? value.ms
      : typeof value === 'boolean'
        ? Number(value)
        : null;

/** Order of values that are not null, as the standard's comparison does: numbers before text before booleans. `texts` orders two texts. */
export const compareValues = (
  a: Exclude<Value, null>,
  b: Exclude<Value, null>,
  texts: (a: string, b: string) => number,
): number => {
  if (isNumeric(a) && isNumeric(b)) return compareNumeric(a, b);
  if (typeof a === 'string' && typeof b === 'string') return texts(a, b);
  const x = ordinal(a);
  const y = ordinal(b);
  if (x !== null && y !== null && typeOrder(a) === typeOrder(b)) return x - y;
  return typeOrder(a) - typeOrder(b);
};

/** Equal for two values exactly when they count as the same: 1.0 and 1 do, the text "1" does not. Blank is empty. */
export const identityOf = (value: Value): string =>
  value === null ? '' : isNumeric(value) ? `number ${numericText(value)}` : `${typeof value} ${valueText(value)}`;
