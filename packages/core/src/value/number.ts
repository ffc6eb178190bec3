import { Decimal } from './decimal.ts';

/** A number in a formula: a safe integer as a plain number, everything else exact. */
export type Numeric = number | Decimal;

export const isNumeric = (value: unknown): value is Numeric => typeof value === 'number' || value instanceof Decimal;

export const toDecimal = (value: Numeric): Decimal =>
  typeof value === 'number' ? (Decimal.fromNumber(value) ?? Decimal.of(0)) : value;

export const toNumber = (value: Numeric): number => (typeof value === 'number' ? value : value.toNumber());

/** Reads a number from text as a database writes it. Null when it is not one. */
export const parseNumeric = (text: string): Numeric | null => {
  if (text.length < 16 && /^-?\d+$/.test(text)) return Number(text);
  const parsed = Decimal.parse(text);
  if (!parsed) return null;
  return parsed.scale === 0 && typeof parsed.coefficient === 'number' ? parsed.coefficient : parsed;
};

export const add = (a: Numeric, b: Numeric): Numeric => {
  if (typeof a === 'number' && typeof b === 'number') {
    const sum = a + b;
    if (Number.isSafeInteger(sum) && Number.isSafeInteger(a)) return sum;
  }
  return toDecimal(a).add(toDecimal(b));
};

export const negate = (a: Numeric): Numeric => (typeof a === 'number' ? (a === 0 ? 0 : -a) : a.negate());

export const subtract = (a: Numeric, b: Numeric): Numeric => add(a, negate(b));

export const multiply = (a: Numeric, b: Numeric): Numeric => {
  if (typeof a === 'number' && typeof b === 'number') {
    const product = a * b;
    if (Number.isSafeInteger(product) && Number.isSafeInteger(a) && Number.isSafeInteger(b))
      return product === 0 ? 0 : product;
  }
  return toDecimal(a).multiply(toDecimal(b));
};

/** Null when `b` is zero. */
export const divide = (a: Numeric, b: Numeric): Numeric | null => {
  if (
    typeof a === 'number' &&
    typeof b === 'number' &&
    b !== 0 &&
    Number.isSafeInteger(a / b) &&
    Number.isSafeInteger(a)
  ) {
    return a / b;
  }
  return toDecimal(a).divide(toDecimal(b));
};

export const compareNumeric = (a: Numeric, b: Numeric): -1 | 0 | 1 => {
  if (typeof a === 'number' && typeof b === 'number') return a < b ? -1 : a > b ? 1 : 0;
  if (typeof b === 'number') return (a as Decimal).compareNumber(b);
  if (typeof a === 'number') return (-b.compareNumber(a) || 0) as -1 | 0 | 1;
  return a.compare(b);
};

/**
 * Whole exponents and square roots are exact, or have 34 digits; others have the 15 of a double. Null when there is no result, or one
 * with too many digits.
 */
export const power = (base: Numeric, exponent: Numeric): Numeric | null => {
  if (typeof base === 'number' && typeof exponent === 'number' && exponent >= 0 && Number.isInteger(exponent)) {
    const result = base ** exponent;
    if (Number.isSafeInteger(result) && Number.isSafeInteger(base)) return result;
  }
  const times = toNumber(exponent);
  if (Number.isInteger(times)) {
    const found = toDecimal(base).power(times);
    if (found || compareNumeric(base, 0) === 0 || times > 0) return found && plainNumeric(found);
  }
  if (times === 0.5 && compareNumeric(base, 0) >= 0) return plainNumeric(toDecimal(base).root());
  return fromDouble(toNumber(base) ** times);
};

/** Digits of a double that count: those after them are what it was rounded to. */
const DOUBLE_DIGITS = 15;

/** A double as a number that was rounded: to 15 digits, which all count. Null for infinities and NaN. */
export const fromDouble = (value: number): Numeric | null => {
  if (!Number.isFinite(value)) return null;
  if (Number.isSafeInteger(value)) return value === 0 ? 0 : value;
  return Decimal.parse(value.toPrecision(DOUBLE_DIGITS))?.trim().asRounded() ?? null;
};

/** As a plain number where it is an exact whole one. */
export const plainNumeric = (value: Decimal): Numeric =>
  value.scale === 0 && typeof value.coefficient === 'number' && !value.rounded ? value.coefficient : value;

/** Whether a number has more digits than anyone reads; it would make every step after it slower. */
export const isTooLong = (value: Numeric): boolean => value instanceof Decimal && value.isTooLong;

/** Decimals that are shown of a number without a format, counted from its first digit that is not 0. */
const MOST_DECIMALS = 10;

/** A number as people read it: what divisions leave past ten decimals is rounded off. */
export const readableNumber = (value: Numeric): string => {
  if (typeof value === 'number' && Number.isSafeInteger(value)) return String(value);
  const text = numericText(value);
  const [whole = '', fraction = ''] = text.split('.');
  if (fraction.length <= MOST_DECIMALS || /e/i.test(text)) return text;
  const leading = /^-?0$/.test(whole) ? /^0*/.exec(fraction)![0].length : 0;
  if (fraction.length <= leading + MOST_DECIMALS) return text;
  const rounded = toDecimal(value)
    .round(leading + MOST_DECIMALS)
    .toString();
  return rounded.includes('.') ? rounded.replace(/\.?0+$/, '') : rounded;
};

/** As a spreadsheet's General format shows it: no trailing zeros, no grouping. */
export const numericText = (value: Numeric): string =>
  typeof value === 'number'
    ? (Decimal.fromNumber(value)?.toString() ?? String(value))
    : value.settled().trim().toString();
