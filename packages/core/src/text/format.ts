import { format as formatByCode, isDateFormat } from 'numfmt';
import { CalendarDate, DAY, Moment } from '../value/date.ts';
import { Decimal } from '../value/decimal.ts';
import { isNumeric, isTooLong, type Numeric, readableNumber, toDecimal, toNumber } from '../value/number.ts';
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
    const parts = new Intl.NumberFormat(isLanguage(language) ? language : 'en', {
      useGrouping: 'always' as never,
    }).formatToParts(1234567.5);
    const part = (type: string, otherwise: string): string => parts.find((p) => p.type === type)?.value ?? otherwise;
    found = { group: part('group', ','), point: part('decimal', '.') };
    separatorCache.set(language, found);
  }
  return found;
};

/** Whether a language tag is one that the platform can read (BCP 47); `en-12` is none. */
export const isLanguage = (tag: string): boolean => {
  try {
    return Intl.getCanonicalLocales(tag).length > 0;
  } catch {
    return false;
  }
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

/** The sections of a code: `;` parts them, unless it stands in quotes. */
const sectionsOf = (code: string): string[] => {
  const sections: string[] = [];
  let from = 0;
  let quoted = false;
  for (let i = 0; i < code.length; i++) {
    if (code[i] === '"') quoted = !quoted;
    else if (code[i] === ';' && !quoted) {
      sections.push(code.slice(from, i));
      from = i + 1;
    }
  }
  return [...sections, code.slice(from)];
};

type NumberCode = { positive: NumberSection; negative: NumberSection | null; zero: NumberSection | null };
const codeCache = new Map<string, NumberCode | null>();

const parseCode = (code: string): NumberCode | null => {
  let found = codeCache.get(code);
  if (found === undefined) {
    const sections = sectionsOf(code).map(parseSection);
    found =
      sections.length <= 3 && sections.every((s) => s !== null)
        ? { positive: sections[0]!, negative: sections[1] ?? null, zero: sections[2] ?? null }
        : null;
    if (codeCache.size > 500) codeCache.clear();
    codeCache.set(code, found);
  }
  return found;
};

const grouped = (digits: string, group: string): string => {
  const parts: string[] = [];
  for (let end = digits.length; end > 0; end -= 3) parts.unshift(digits.slice(Math.max(0, end - 3), end));
  return parts.join(group);
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
  if (section.grouped && whole.length > 3) whole = grouped(whole, group);
  const minus = sign < 0 && !code.negative && rounded.sign() !== 0 ? '-' : '';
  return `${minus}${section.before}${whole}${fraction === '' ? '' : point + fraction}${section.after}`;
};

/** Longest code that is read; a spreadsheet takes 255 characters. Reading takes longer than the code is long. */
const LONGEST_CODE = 255;

/** Days are those of the calendar: a spreadsheet counts a 29 February 1900 that never was, and knows none before 1900. */
const CALENDAR = { leap1900: false, dateSpanLarge: true };

const byCode = (code: string, value: unknown, language: string): string => {
  if (code.length > LONGEST_CODE) return '#FORMAT';
  try {
    return formatByCode(code, value as never, { ...CALENDAR, locale: language, throws: true } as never);
  } catch {
    try {
      return formatByCode(code, value as never, CALENDAR as never);
    } catch {
      return '#FORMAT';
    }
  }
};

/** Days after which the calendar begins anew, weekdays included. */
const CYCLE = 146_097;

/** As {@link byCode}; the formatting package knows no weekdays before 1900, so those are named by a later day. */
const byDateCode = (code: string, serial: number, language: string): string => {
  if (serial >= 1) return byCode(code, serial, language);
  const later = serial + CYCLE * Math.ceil(-serial / CYCLE + 1);
  const named = code.replace(/"[^"]*"|\\.|d{3,}/gi, (part) =>
    /^d/i.test(part) ? `"${byCode(part, later, language)}"` : part,
  );
  return byCode(named, serial, language);
};

/** Whether a number-format code can be read. */
export const isFormatCode = (code: string): boolean => {
  if (code.length > LONGEST_CODE) return false;
  if (code === '' || parseCode(code)) return true;
  try {
    formatByCode(code, 1.5);
    return true;
  } catch {
    return false;
  }
};

const DEFAULT_DATE = 'd mmm yyyy';
const DEFAULT_DATETIME = 'd mmm yyyy hh:mm';

/**
 * Shows a value by a spreadsheet number-format code (ECMA-376, part 1, section 18.8.31). An empty code shows the value
 * as people expect it of its type: at most ten decimals and no trailing zeros, days as `12 Jul 2025`. Blank gives an empty text.
 */
export const formatValue = (value: Value, code: string, settings: FormatSettings): string => {
  if (value === null) return '';
  if (value instanceof FormulaError) return value.code;
  if (isNumeric(value)) {
    if (code === '') {
      const text = readableNumber(value);
      const { point } = separators(settings.language);
      return point === '.' ? text : text.replace('.', point);
    }
    if (isTooLong(value)) return '#NUM!';
    const plain = code.length > LONGEST_CODE ? null : parseCode(code);
    return plain ? formatNumber(value, plain, settings.language) : byCode(code, toNumber(value), settings.language);
  }
  if (value instanceof CalendarDate) {
    return byDateCode(isDateCode(code) ? code : DEFAULT_DATE, value.day + SERIAL_OF_1970, settings.language);
  }
  if (value instanceof Moment) {
    const shown = isDateCode(code) ? code : DEFAULT_DATETIME;
    return byDateCode(shown, serialOf(value.wallClock(settings.timeZone), shown), settings.language);
  }
  if (code !== '' && typeof value === 'string' && code.includes('@')) return byCode(code, value, settings.language);
  return valueText(value);
};

/**
 * A wall clock as a spreadsheet counts it, cut to the smallest unit that a code shows: what is rounded up would be
 * another minute, or another day. A little more keeps the fraction from falling below that unit.
 */
const serialOf = (wall: number, code: string): number => {
  const plain = code.replace(/"[^"]*"|\\./g, '');
  const fraction = /\.(0{1,3})/.exec(plain)?.[1]?.length ?? 0;
  const unit = /s/i.test(plain) ? 1000 / 10 ** fraction : 60_000;
  return (Math.floor(wall / unit) * unit + 0.1) / DAY + SERIAL_OF_1970;
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
