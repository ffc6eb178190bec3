import { Decimal } from '../../value/decimal.ts';
import { multiply, type Numeric, negate, plainNumeric } from '../../value/number.ts';

const escaped = (sign: string): string => sign.replace(/[\\^$.*+?()[\]{}|/-]/g, '\\$&');

const patterns = new Map<string, RegExp>();

/** Digits with groups of three, a fraction, an exponent. */
const patternFor = (point: string, group: string): RegExp => {
  const key = `${point}${group}`;
  let pattern = patterns.get(key);
  if (!pattern) {
    const between = group === '' ? '' : `[${Array.from(group, escaped).join('')}]`;
    const grouped = between === '' ? '' : `\\d{1,3}(?:${between}\\d{3})+|`;
    const fraction = point === '' ? '' : `(?:[${Array.from(point, escaped).join('')}](\\d*))?`;
    pattern = new RegExp(`^(${grouped}\\d*)${fraction}(?:[eE]([+-]?\\d{1,4}))?$`);
    if (patterns.size > 50) patterns.clear();
    patterns.set(key, pattern);
  }
  return pattern;
};

/** Signs that may stand beside an amount. */
const CURRENCY = /^(?:\p{Sc}\s*|\s*\p{Sc})$/u;

/**
 * The number that a text writes (OpenFormula, section 6.3.15 and 6.13.34), or null: with a sign or in brackets, with groups of three
 * between commas, a currency’s sign, percent signs, an exponent. `point` and `group`: the signs that may part it.
 */
export const writtenNumber = (source: string, point: string, group: string): Numeric | null => {
  if (source.length > 3000) return null;
  let text = source.trim();
  let isNegative = false;
  if (/^\(.*\)$/s.test(text)) {
    isNegative = true;
    text = text.slice(1, -1).trim();
    if (/^[+-]/.test(text)) return null;
  }
  let percents = 0;
  while (text.endsWith('%') && percents < 10) {
    percents++;
    text = text.slice(0, -1).trimEnd();
  }
  const sign = /^\p{Sc}?\s*([+-])/u.exec(text) ?? /^([+-])/.exec(text);
  if (sign) {
    if (sign[1] === '-') isNegative = !isNegative;
    text = text.replace(sign[1]!, '').trim();
  }
  const currency = /^(\p{Sc}\s*)/u.exec(text) ?? /(\s*\p{Sc})$/u.exec(text);
  if (currency && CURRENCY.test(currency[1]!)) {
    if (percents > 0) return null;
    text = text.replace(currency[1]!, '');
  }
  const found = patternFor(point, group).exec(text);
  if (!found) return null;
  const [, whole = '', fraction = '', exponent] = found;
  const digits = whole.replace(/\D/g, '');
  if (digits === '' && fraction === '') return null;
  const value = Decimal.parse(`${digits || '0'}.${fraction}${exponent === undefined ? '' : `e${exponent}`}`);
  if (!value) return null;
  let number: Numeric = plainNumeric(value.trim());
  for (let i = 0; i < percents; i++) number = multiply(number, Decimal.of(1, 2));
  return isNegative ? negate(number) : number;
};
