/** The sign between whole numbers and fractions. */
export type DecimalSign = '.' | ',';

/** A number as it was written: its value as our numbers travel, with all digits, and what stood beside it. */
export interface WrittenNumber {
  value: string;
  isPercent: boolean;
  /** Sign or code of a currency. */
  currency: string | null;
  /** The currency stands before the number. */
  leads: boolean;
}

const PLAIN = /^-?(?:0|[1-9]\d*)(?:\.\d+)?$/;

const currencies: ReadonlySet<string> = new Set(Intl.supportedValuesOf('currency'));

const CURRENCY = /^(?:(R\$|\p{Sc}|[A-Z]{3})\s*)?(.*?)(?:\s*(R\$|\p{Sc}|[A-Z]{3}))?$/u;

/** Digits with or without a sign between thousands, which is the same throughout. */
const DIGITS: Readonly<Record<DecimalSign, RegExp>> = {
  '.': /^(\d+|\d{1,3}([,\s'’])\d{3}(?:\2\d{3})*)?(?:\.(\d+))?(?:[eE]([+-]?\d{1,3}))?$/u,
  ',': /^(\d+|\d{1,3}([.\s'’])\d{3}(?:\2\d{3})*)?(?:,(\d+))?(?:[eE]([+-]?\d{1,3}))?$/u,
};

/** Moves the point of plain digits two places to the left: a percentage as a share. */
const hundredth = (whole: string, fraction: string): [string, string] => {
  const digits = whole.padStart(3, '0');
  return [digits.slice(0, -2).replace(/^0+(?=\d)/, ''), digits.slice(-2) + fraction];
};

/**
 * Reads a written number: with thousands, a sign before or behind it, brackets for less than nothing, a percent sign, a
 * currency. Null when it is none; a number that starts with zeros is a code, as a postal code is.
 */
export const readWritten = (text: string, decimal: DecimalSign): WrittenNumber | null => {
  let rest = text.trim();
  if (decimal === '.' && PLAIN.test(rest)) return { value: rest, isPercent: false, currency: null, leads: false };
  let isNegative = false;
  const sign = (): void => {
    const found = /^([+\-−])\s*|\s*([-−])$/u.exec(rest);
    if (!found) return;
    if (found[1] !== '+') isNegative = !isNegative;
    rest = found[1] ? rest.slice(found[0].length) : rest.slice(0, -found[0].length);
  };
  if (rest.startsWith('(') && rest.endsWith(')')) {
    isNegative = true;
    rest = rest.slice(1, -1).trim();
  } else sign();
  const isPercent = rest.endsWith('%');
  if (isPercent) rest = rest.slice(0, -1).trimEnd();
  const [, before, inner = '', behind] = CURRENCY.exec(rest) ?? [];
  const currency = before ?? behind ?? null;
  if (currency !== null) {
    if ((before && behind) || isPercent || (/^[A-Z]{3}$/.test(currency) && !currencies.has(currency))) return null;
    rest = inner;
    if (!isNegative) sign();
  }
  const digits = DIGITS[decimal].exec(rest);
  if (!digits) return null;
  const [, written = '', , fraction = '', exponent] = digits;
  const whole = written.replace(/\D/g, '');
  if ((whole === '' && fraction === '') || /^0\d/.test(whole)) return null;
  if (exponent !== undefined && (isPercent || whole === '')) return null;
  const [integer, part] = isPercent ? hundredth(whole, fraction) : [whole || '0', fraction];
  const value = `${isNegative ? '-' : ''}${integer}${part && `.${part}`}${exponent === undefined ? '' : `e${exponent}`}`;
  return { value, isPercent, currency, leads: before !== undefined };
};

/** A written number as our numbers travel, or null when it is none. Digits are kept, all of them. */
export const readNumber = (text: string, decimal: DecimalSign): string | null =>
  readWritten(text, decimal)?.value ?? null;
