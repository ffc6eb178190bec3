import { Decimal } from '../value/decimal.ts';

/** A section that shows a fraction, as `# ?/?` or `# ??/16`. */
export interface Fraction {
  kind: 'fraction';
  /** Placeholders of the whole part, with what stands behind it; null where it goes into the fraction. */
  whole: { places: string; between: string } | null;
  above: string;
  /** Placeholders, or a number that all are parts of. */
  below: string | number;
  before: string;
  after: string;
}

const PLACES =
  /^((?:"[^"]*"|\\.|[-+ $€£¥()])*?)(?:([#0?]+)( +))?([#0?]+) ?\/ ?([#0?]+|[1-9]\d*)((?:"[^"]*"|\\.|[-+ ()])*)$/s;

const literal = (code: string): string => code.replace(/"([^"]*)"|\\(.)/gs, (_, quoted, escaped) => quoted ?? escaped);

/** Null where a section is no fraction. */
export const parseFraction = (code: string): Fraction | null => {
  const found = PLACES.exec(code);
  if (!found) return null;
  const [, before = '', whole, between = '', above = '', below = '', after = ''] = found;
  return {
    kind: 'fraction',
    ...{ whole: whole === undefined ? null : { places: whole, between }, above },
    below: /^[1-9]/.test(below) ? Number(below) : below,
    ...{ before: literal(before), after: literal(after) },
  };
};

/** Digits that a denominator may have. */
const MOST_DIGITS = 5;

/** The fraction nearest to a number from 0 to 1 with a denominator up to some. */
const nearest = (value: number, most: number): [above: number, below: number] => {
  // Between neighbours of the Farey sequence the next one is the sum of both.
  let [a, b, c, d] = [0, 1, 1, 1];
  while (b + d <= most) {
    const [p, q] = [a + c, b + d];
    if (value === p / q) return [p, q];
    // Many steps to the same side are taken at once.
    if (value > p / q) {
      const steps = Math.max(
        1,
        Math.min(Math.floor((most - b) / d), Math.floor((value * b - a) / (c - value * d)) || 1),
      );
      [a, b] = [a + steps * c, b + steps * d];
    } else {
      const steps = Math.max(
        1,
        Math.min(Math.floor((most - d) / b), Math.floor((c - value * d) / (value * b - a)) || 1),
      );
      [c, d] = [c + steps * a, d + steps * b];
    }
  }
  return Math.abs(value - a / b) <= Math.abs(c / d - value) ? [a, b] : [c, d];
};

/** `0` is always there, `?` leaves its room, `#` is there where it is needed. */
const padded = (text: string, places: string, start: boolean): string => {
  const zeros = places.replaceAll('#', '').replaceAll('?', '').length;
  const room = places.replaceAll('#', '').length;
  const filled = start ? text.padStart(zeros, '0') : text;
  return start ? filled.padStart(room, ' ') : filled.padEnd(room, ' ');
};

/** A number that is not negative as a whole number and a fraction. */
export const formatFraction = (size: Decimal, { whole, above, below, before, after }: Fraction): string => {
  let count = size.truncate();
  const part = size.subtract(count).toNumber();
  const most = typeof below === 'number' ? below : 10 ** Math.min(MOST_DIGITS, below.length) - 1;
  let [p, q] = typeof below === 'number' ? [Math.round(part * below), below] : nearest(part, most);
  if (whole && p === q) {
    count = count.add(Decimal.of(1));
    p = 0;
    if (typeof below !== 'number') q = 1;
  }
  const underneath = typeof below === 'number' ? String(q) : padded(String(q), below, false);
  if (!whole) {
    const all = count.multiply(Decimal.of(q)).add(Decimal.of(p));
    return `${before}${padded(all.toString(), above, true)}/${underneath}${after}`;
  }
  const { places, between } = whole;
  const isBlank = p === 0 && !above.includes('0');
  const shownWhole = count.sign() === 0 && !isBlank && !places.includes('0') ? '' : count.toString();
  const begin = `${before}${padded(shownWhole, places, true)}`;
  if (isBlank)
    return `${begin}${' '.repeat(between.length + Math.max(1, above.replaceAll('#', '').length) + 1 + underneath.length)}${after}`;
  return `${begin}${between}${padded(String(p), above, true)}/${underneath}${after}`;
};
