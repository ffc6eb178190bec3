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
  return toDecimal(a).compare(toDecimal(b));
};

/** Whole exponents up to 64 are exact. Null when there is no result, or one with too many digits. */
export const power = (base: Numeric, exponent: Numeric): Numeric | null => {
  const times = toNumber(exponent);
  if (Number.isInteger(times) && times >= 0 && times <= 64) {
    let result: Numeric = 1;
    for (let i = 0; i < times; i++) {
      result = multiply(result, base);
      if (isTooLong(result)) return null;
    }
    return result;
  }
  const result = toNumber(base) ** times;
  return Number.isFinite(result) ? result : null;
};

/** Whether a number has more digits than anyone reads; it would make every step after it slower. */
export const isTooLong = (value: Numeric): boolean => value instanceof Decimal && value.isTooLong;

/** As a spreadsheet's General format shows it: no trailing zeros, no grouping. */
export const numericText = (value: Numeric): string =>
  typeof value === 'number' ? (Decimal.fromNumber(value)?.toString() ?? String(value)) : value.trim().toString();
