import { format as formatByCode, isDateFormat } from 'numfmt';
import { CalendarDate, DAY, Moment } from '../value/date.ts';
import { Decimal } from '../value/decimal.ts';
import { isNumeric, type Numeric, numericText, toDecimal, toNumber } from '../value/number.ts';
import { FormulaError, type Value, valueText } from '../value/value.ts';

/** What a format depends on besides its code. `language` is a BCP 47 tag, `timeZone` an IANA name. */
export interface FormatSettings {
  language: string;
  timeZone: string;
}

/** Days between 1899-12-30, day 0 of spreadsheets, and 1970-01-01. */
const SERIAL_OF_1970 = 25569;

interface NumberSection {
  before: string;
  after: string;
  /** Least digits before the point. */
  whole: number;
  /** Least and most digits behind the point. */
  least: number;
  most: number;
  grouped: boolean;
  /** 2 for a percentage. */
  shift: number;
}

/** Separators of a language, from the platform's own locale data. */
const separators = (language: string): { group: string; point: string } => {
  let found = separatorCache.get(language);
  if (!found) {
    const parts = new Intl.NumberFormat(language, { useGrouping: 'always' as never }).formatToParts(1234567.5);
    const part = (type: string, otherwise: string): string => parts.find((p) => p.type === type)?.value ?? otherwise;
    found = { group: part('group', ','), point: part('decimal', '.') };
    separatorCache.set(language, found);
  }
  return found;
};
const separatorCache = new Map<string, { group: string; point: string }>();

/** The one section of a plain number code, or null when the code needs more than digits and literals. */
const parseSection = (code: string): NumberSection | null => {
  let before = '';
  let after = '';
  let digits = '';
  let percent = 0;
  for (let i = 0; i < code.length; i++) {
    const c = code[i]!;
    let literal = '';
    if (c === '"') {
      const end = code.indexOf('"', i + 1);
      if (end < 0) return null;
      literal = code.slice(i + 1, end);
      i = end;
    } else if (c === '\\') literal = code[++i] ?? '';
    else if (c === '%') {
      percent++;
      literal = '%';
    } else if (/[#0,.]/.test(c)) {
      if (after !== '') return null;
      digits += c;
      continue;
    } else if (/[-+ ()$€£¥]/.test(c)) literal = c;
    else return null;
    if (digits === '') before += literal;
    else after += literal;
  }
  const match = /^([#,]*[0,]*)(?:\.(0*)(#*))?$/.exec(digits);
  if (!match || digits === '' || percent > 1 || /,(?:\.|$)/.test(digits)) return null;
  const least = match[2]?.length ?? 0;
  return {
    before,
    after,
    whole: (match[1]!.match(/0/g) ?? []).length,
    least,
    most: least + (match[3]?.length ?? 0),
    grouped: match[1]!.includes(','),
    shift: percent * 2,
  };
};

type NumberCode = { positive: NumberSection; negative: NumberSection | null; zero: NumberSection | null };
const codeCache = new Map<string, NumberCode | null>();

const parseCode = (code: string): NumberCode | null => {
  let found = codeCache.get(code);
  if (found === undefined) {
    const sections = code.split(/;(?=(?:[^"]*"[^"]*")*[^"]*$)/).map(parseSection);
    found =
      sections.length <= 3 && sections.every((s) => s !== null)
        ? { positive: sections[0]!, negative: sections[1] ?? null, zero: sections[2] ?? null }
        : null;
    if (codeCache.size > 500) codeCache.clear();
    codeCache.set(code, found);
  }
  return found;
};

/** Exact: no digit passes through a double. */
const formatNumber = (value: Numeric, code: NumberCode, language: string): string => {
  let decimal = toDecimal(value);
  const sign = decimal.sign();
  const section = sign === 0 && code.zero ? code.zero : sign < 0 && code.negative ? code.negative : code.positive;
  if (section.shift) decimal = decimal.multiply(Decimal.of(10 ** section.shift));
  const rounded = (sign < 0 ? decimal.negate() : decimal).round(section.most);
  const text = rounded.toString();
  const dot = text.indexOf('.');
  let whole = dot < 0 ? text : text.slice(0, dot);
  let fraction = dot < 0 ? '' : text.slice(dot + 1);
  if (whole === '0' && section.whole === 0) whole = '';
  whole = whole.padStart(section.whole, '0');
  while (fraction.length > section.least && fraction.endsWith('0')) fraction = fraction.slice(0, -1);
  fraction = fraction.padEnd(section.least, '0');
  const { group, point } = separators(language);
  if (section.grouped && whole.length > 3) whole = whole.replace(/\B(?=(\d{3})+$)/g, group);
  const minus = sign < 0 && !code.negative && rounded.sign() !== 0 ? '-' : '';
  return `${minus}${section.before}${whole}${fraction === '' ? '' : point + fraction}${section.after}`;
};

const byCode = (code: string, value: unknown, language: string): string => {
  try {
    return formatByCode(code, value as never, { locale: language, throws: true } as never);
  } catch {
    try {
      return formatByCode(code, value as never);
    } catch {
      return '#FORMAT';
    }
  }
};

/** Null when the code can be used, otherwise what is wrong with it. */
export const formatCodeProblem = (code: string): string | null => {
  if (code === '' || parseCode(code)) return null;
  try {
    formatByCode(code, 1.5);
    return null;
  } catch (error) {
    return error instanceof Error ? error.message : String(error);
  }
};

const DEFAULT_DATE = 'd mmm yyyy';
const DEFAULT_DATETIME = 'd mmm yyyy hh:mm';

/** Decimals that are shown of a number without a format, counted from its first digit that is not 0. */
const MOST_DECIMALS = 10;

/** A number as people read it: what divisions leave past ten decimals is rounded off. */
const readable = (value: Numeric): string => {
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

/**
 * Shows a value by a spreadsheet number-format code (ECMA-376, part 1, section 18.8.31). An empty code shows the value
 * as people expect it of its type: at most ten decimals and no trailing zeros, days as `12 Jul 2025`. Blank gives an empty text.
 */
export const formatValue = (value: Value, code: string, settings: FormatSettings): string => {
  if (value === null) return '';
  if (value instanceof FormulaError) return value.code;
  if (isNumeric(value)) {
    if (code === '') {
      const text = readable(value);
      const { point } = separators(settings.language);
      return point === '.' ? text : text.replace('.', point);
    }
    const plain = parseCode(code);
    return plain ? formatNumber(value, plain, settings.language) : byCode(code, toNumber(value), settings.language);
  }
  if (value instanceof CalendarDate) {
    return byCode(isDateCode(code) ? code : DEFAULT_DATE, value.day + SERIAL_OF_1970, settings.language);
  }
  if (value instanceof Moment) {
    const serial = value.wallClock(settings.timeZone) / DAY + SERIAL_OF_1970;
    return byCode(isDateCode(code) ? code : DEFAULT_DATETIME, serial, settings.language);
  }
  if (code !== '' && typeof value === 'string' && code.includes('@')) return byCode(code, value, settings.language);
  return valueText(value);
};

const dateCodes = new Map<string, boolean>();
const isDateCode = (code: string): boolean => {
  if (code === '') return false;
  let found = dateCodes.get(code);
  if (found === undefined) {
    try {
      found = isDateFormat(code);
    } catch {
      found = false;
    }
    dateCodes.set(code, found);
  }
  return found;
};
