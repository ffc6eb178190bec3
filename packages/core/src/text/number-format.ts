import { Decimal } from '../value/decimal.ts';
import { compareNumeric, type Numeric, toDecimal } from '../value/number.ts';
import { unquoted } from './format-code.ts';
import { type Fraction, formatFraction, parseFraction } from './fraction-format.ts';

/** Separators of a language, from the platform's own locale data. */
export interface Separators {
  group: string;
  point: string;
}

/** Whether a language tag is one that the platform can read (BCP 47); `en-12` is none. */
export const isLanguage = (tag: string): boolean => {
  try {
    return Intl.getCanonicalLocales(tag).length > 0;
  } catch {
    return false;
  }
};

const known = new Map<string, Separators>();

export const separatorsOf = (language: string): Separators => {
  let found = known.get(language);
  if (!found) {
    const parts = new Intl.NumberFormat(isLanguage(language) ? language : 'en', {
      useGrouping: 'always' as never,
    }).formatToParts(1234567.5);
    const part = (type: string, otherwise: string): string => parts.find((p) => p.type === type)?.value ?? otherwise;
    found = { group: part('group', ','), point: part('decimal', '.') };
    known.set(language, found);
  }
  return found;
};

/** A section of a code with digits. */
interface Plain {
  kind: 'plain';
  /** What stands before and behind the digits. */
  before: string;
  after: string;
  /** Digits before the point: those that are always there, and those whose room is. */
  least: number;
  room: number;
  /** Placeholders behind the point: `0` is always there, `?` leaves its room, `#` is there where it is needed. */
  behind: string;
  /** How many of them are always there. */
  fixed: number;
  hasRoom: boolean;
  grouped: boolean;
  /** Places by which the point moves to the right: 2 for a percentage, -3 for thousands. */
  shift: number;
}

/** A section of a code that shows nothing but what stands in it. */
interface Words {
  kind: 'words';
  text: string;
}

type Section = { condition: Condition | null; shows: Plain | Words | Fraction };
interface Condition {
  operator: string;
  operand: Numeric;
}

const COLORS = /^(?:black|blue|cyan|green|magenta|red|white|yellow|color ?\d{1,2})$/i;

/** The literal signs that stand for themselves without quotes. */
const PLAIN_SIGNS = /[-+ ():!^&'~{}<>=$€£¥\u00a0\u202f]/;

/** One section, or null where it needs more than digits and literals. */
const parseSection = (code: string): Section | null => {
  let condition: Condition | null = null;
  let rest = code;
  for (let found = /^\[([^\]]*)\]/.exec(rest); found; found = /^\[([^\]]*)\]/.exec(rest)) {
    const inside = found[1]!;
    const asked = /^(<=|>=|<>|<|>|=)\s*(-?\d+(?:\.\d+)?)$/.exec(inside);
    if (asked) condition = { operator: asked[1]!, operand: Decimal.parse(asked[2]!)! };
    else if (!COLORS.test(inside)) return null;
    rest = rest.slice(found[0].length);
  }
  const fraction = parseFraction(rest);
  if (fraction) return { condition, shows: fraction };
  let before = '';
  let after = '';
  let digits = '';
  let percents = 0;
  let isOver = false;
  for (let i = 0; i < rest.length; i++) {
    const c = rest[i]!;
    let literal = '';
    if (c === '"') {
      const end = rest.indexOf('"', i + 1);
      if (end < 0) return null;
      literal = rest.slice(i + 1, end);
      i = end;
    } else if (c === '\\') literal = rest[++i] ?? '';
    else if (c === '_') {
      i++;
      literal = ' ';
    } else if (c === '*') {
      // It would fill the column, which has no width here.
      i++;
      continue;
    } else if (c === '%') {
      percents++;
      literal = '%';
    } else if (/[#0?,.]/.test(c)) {
      if (isOver) return null;
      digits += c;
      continue;
    } else if (PLAIN_SIGNS.test(c)) literal = c;
    else return null;
    if (digits === '') before += literal;
    else {
      isOver = true;
      after += literal;
    }
  }
  if (digits === '') return { condition, shows: { kind: 'words', text: before } };
  // Commas behind the last digit of the whole part divide by a thousand each.
  const match = /^([#0?,]*?)(,*)(?:\.([0#?]*)(,*))?$/.exec(digits);
  if (!match || !/^[#?,]*[0,]*[?#]*$/.test(match[1]!) || percents > 1) return null;
  const [, whole = '', thousands = '', behind = '', more = ''] = match;
  const places = whole.replaceAll(',', '');
  if (places === '' && behind === '') return null;
  return {
    condition,
    shows: {
      kind: 'plain',
      ...{ before, after, behind, grouped: whole.includes(',') },
      least: places.replace(/[#?]/g, '').length,
      room: places.replaceAll('#', '').length,
      fixed: behind.lastIndexOf('0') + 1,
      hasRoom: behind.includes('?'),
      shift: percents * 2 - 3 * (thousands.length + more.length),
    },
  };
};

/** The sections of a code: `;` parts them, unless it stands in quotes. */
export const sectionsOf = (code: string): string[] => {
  const sections: string[] = [];
  let from = 0;
  for (const { at, sign } of unquoted(code)) {
    if (sign !== ';') continue;
    sections.push(code.slice(from, at));
    from = at + 1;
  }
  return [...sections, code.slice(from)];
};

/** A number-format code that is shown without a double in between. */
export interface NumberCode {
  sections: readonly Section[];
  hasConditions: boolean;
}

const codes = new Map<string, NumberCode | null>();

/** Null where the code needs more than digits, fractions and literals. */
export const parseNumberCode = (code: string): NumberCode | null => {
  let found = codes.get(code);
  if (found === undefined) {
    const texts = sectionsOf(code);
    // The fourth one is for texts.
    const sections = texts.slice(0, 3).map(parseSection);
    found =
      texts.length <= 4 && sections.every((s) => s !== null)
        ? { sections, hasConditions: sections.some((s) => s.condition) }
        : null;
    if (codes.size > 500) codes.clear();
    codes.set(code, found);
  }
  return found;
};

const holds = ({ operator, operand }: Condition, value: Numeric): boolean => {
  const order = compareNumeric(value, operand);
  switch (operator) {
    case '<':
      return order < 0;
    case '>':
      return order > 0;
    case '<=':
      return order <= 0;
    case '>=':
      return order >= 0;
    case '<>':
      return order !== 0;
    default:
      return order === 0;
  }
};

/** The section for a number, and whether it stands without the sign of a negative one; null where no condition holds. */
const chosen = (
  { sections, hasConditions }: NumberCode,
  value: Numeric,
  sign: number,
): { section: Section; unsigned: boolean } | null => {
  if (hasConditions) {
    const section = sections.find(({ condition }) => !condition || holds(condition, value));
    return section ? { section, unsigned: section.condition !== null && sign < 0 } : null;
  }
  const [first, second, third] = sections;
  if (sign === 0 && third) return { section: third, unsigned: true };
  if (sign < 0 && second) return { section: second, unsigned: true };
  return { section: first!, unsigned: false };
};

const groupedDigits = (digits: string, group: string): string => {
  const parts: string[] = [];
  for (let end = digits.length; end > 0; end -= 3) parts.unshift(digits.slice(Math.max(0, end - 3), end));
  return parts.join(group);
};

/** What is shown where no section of a code is for the number. */
const NONE = '###';

/** Exact: no digit passes through a double. */
export const formatNumber = (value: Numeric, code: NumberCode, language: string): string => {
  const decimal = toDecimal(value);
  const sign = decimal.sign();
  const found = chosen(code, value, sign);
  if (!found) return NONE;
  const { shows } = found.section;
  const size = sign < 0 ? decimal.negate() : decimal;
  const minus = sign < 0 && !found.unsigned ? '-' : '';
  switch (shows.kind) {
    case 'words':
      return shows.text === '' ? '' : minus + shows.text;
    case 'fraction': {
      const text = formatFraction(size, shows);
      return (/[1-9]/.test(text) ? minus : '') + text;
    }
    case 'plain':
      return formatPlain(size, shows, minus, separatorsOf(language));
    default:
      return shows satisfies never;
  }
};

const moved = (size: Decimal, places: number): Decimal =>
  size.multiply(places > 0 ? Decimal.of(10 ** places) : Decimal.of(1, -places));

const formatPlain = (
  size: Decimal,
  { before, after, least, room, behind, fixed, hasRoom, grouped, shift }: Plain,
  minus: string,
  { group, point }: Separators,
): string => {
  const rounded = (shift === 0 ? size : moved(size, shift)).round(behind.length);
  const text = rounded.toString();
  const dot = text.indexOf('.');
  let whole = dot < 0 ? text : text.slice(0, dot);
  let fraction = (dot < 0 ? '' : text.slice(dot + 1)).padEnd(behind.length, '0');
  if (whole === '0' && least === 0) whole = '';
  whole = whole.padStart(least, '0');
  if (grouped && whole.length > 3) whole = groupedDigits(whole, group);
  whole = whole.padStart(room, ' ');
  let end = behind.length;
  while (end > fixed && fraction[end - 1] === '0') end--;
  let blank = '';
  if (hasRoom) blank = `${end === 0 ? ' ' : ''}${behind.slice(end).replace(/[^?]/g, '').replaceAll('?', ' ')}`;
  fraction = fraction.slice(0, end);
  const sign = rounded.sign() === 0 ? '' : minus;
  return `${sign}${before}${whole}${fraction === '' ? '' : point}${fraction}${blank}${after}`;
};
