import { format as formatByCode, isDateFormat } from 'numfmt';
import { CalendarDate, DAY, Moment } from '../value/date.ts';
import { isNumeric, isTooLong, readableNumber, toNumber } from '../value/number.ts';
import { FormulaError, type Value, valueText } from '../value/value.ts';
import { plainCode, replaceUnquoted, unknownLetters } from './format-code.ts';
import { formatNumber, type NumberCode, parseNumberCode, sectionsOf, separatorsOf } from './number-format.ts';

export { isLanguage } from './number-format.ts';

/** What a format depends on besides its code. `language` is a BCP 47 tag, `timeZone` an IANA name. */
export interface FormatSettings {
  language: string;
  timeZone: string;
}

/** Days between 1899-12-30, day 0 of spreadsheets, and 1970-01-01. */
const SERIAL_OF_1970 = 25569;

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

/** Short names of months of a language where the formatting package has numbers alone: Japanese says `7月`. */
const withMonths = (code: string, serial: number, language: string): string =>
  replaceUnquoted(code, /m+/, (letters) => {
    if (letters.length !== 3 || !/^\d+$/.test(byCode('mmm', serial, language))) return letters;
    const day = new Date((Math.floor(serial) - SERIAL_OF_1970) * DAY);
    return `"${new Intl.DateTimeFormat(language, { month: 'short', timeZone: 'UTC' }).format(day)}"`;
  });

/** As {@link byCode}; the formatting package knows no weekdays before 1900, so those are named by a later day. */
const byDateCode = (given: string, serial: number, language: string): string => {
  const code = withMonths(plainCode(given), serial, language);
  if (serial >= 1) return byCode(code, serial, language);
  const later = serial + CYCLE * Math.ceil(-serial / CYCLE + 1);
  const named = code.replace(/"[^"]*"|\\.|d{3,}/gi, (part) =>
    /^d/i.test(part) ? `"${byCode(part, later, language)}"` : part,
  );
  return byCode(named, serial, language);
};

/** The code that numbers were shown by last: those of a column are one after another. */
let last: { code: string; plain: NumberCode | null } = { code: '', plain: null };

const numberCode = (code: string): NumberCode | null => {
  if (last.code !== code) last = { code, plain: code.length > LONGEST_CODE ? null : parseNumberCode(plainCode(code)) };
  return last.plain;
};

/** Whether a number-format code can be read: each of its letters means something, or stands in quotes. */
export const isFormatCode = (code: string): boolean => {
  if (code.length > LONGEST_CODE) return false;
  if (code === '' || parseNumberCode(plainCode(code))) return true;
  if (unknownLetters(code) !== null) return false;
  try {
    formatByCode(withCapitalE(plainCode(code)), 1.5);
    return true;
  } catch {
    return false;
  }
};

/** Whether a number-format code has no sign that means anything: it hides what it is given. */
const hidesAll = (code: string): boolean => code.charCodeAt(0) === 0x3b && /^;+$/.test(code);

const DEFAULT_DATE = 'd mmm yyyy';
const DEFAULT_DATETIME = 'd mmm yyyy hh:mm';

/**
 * Shows a value by a spreadsheet number-format code (ECMA-376, part 1, section 18.8.31). An empty code shows the value
 * as people expect it of its type: at most ten decimals and no trailing zeros, days as `12 Jul 2025`. Blank gives an empty text.
 */
export const formatValue = (value: Value, code: string, settings: FormatSettings): string => {
  if (value === null) return '';
  if (value instanceof FormulaError) return value.code;
  if (code !== '' && hidesAll(code)) return '';
  const { language } = settings;
  if (isNumeric(value)) {
    if (code === '') {
      const text = readableNumber(value);
      const { point } = separatorsOf(language);
      return point === '.' ? text : text.replace('.', point);
    }
    if (isTooLong(value)) return '#NUM!';
    const plain = numberCode(code);
    return plain ? formatNumber(value, plain, language) : byNumberCode(plainCode(code), toNumber(value), language);
  }
  if (value instanceof CalendarDate) {
    return byDateCode(isDateCode(code) ? code : DEFAULT_DATE, value.day + SERIAL_OF_1970, language);
  }
  if (value instanceof Moment) {
    const shown = isDateCode(code) ? code : DEFAULT_DATETIME;
    return byDateCode(shown, serialOf(value.wallClock(settings.timeZone), shown), language);
  }
  if (code !== '' && typeof value === 'string') return byTextCode(code, value, language);
  return valueText(value);
};

/** The standard writes an exponent with a capital letter. */
const withCapitalE = (code: string): string => replaceUnquoted(code, /e([+-])/, (_, sign) => `E${sign}`);

/** Codes of exponents, which have no groups: the point is that of the language. */
const byNumberCode = (code: string, value: number, language: string): string => {
  const capital = withCapitalE(code);
  const shown = byCode(capital, value, language);
  return capital === code ? shown : shown.replace(/E([+-]?\d)/, 'e$1');
};

/** A text goes by the fourth section of a code, or by a section with an @; where there is neither it is shown as it is. */
const byTextCode = (code: string, value: string, language: string): string => {
  if (code.length > LONGEST_CODE) return value;
  const sections = sectionsOf(code);
  const own = sections.length > 3 ? sections[3]! : sections.find((section) => section.includes('@'));
  if (own === undefined) return value;
  return own === '' ? '' : byCode(`General;General;General;${own}`, value, language);
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
