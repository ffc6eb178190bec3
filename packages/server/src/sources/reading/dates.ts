import { CalendarDate, Moment } from '@gaveta/core/internal';

/** The order in which day, month and year are written where all three are numbers. */
export type DayOrder = 'ymd' | 'dmy' | 'mdy';

/** A day, with the time of day and its zone where there is one. */
export interface WrittenDate {
  /** As `2025-07-12`. */
  day: string;
  /** As `10:00:00Z`; null for a day alone. */
  time: string | null;
}

const ISO_DAY = /^\d{4}-\d{2}-\d{2}$/;
const TIME =
  /^(.*?\S)(?:T|,?\s+)(\d{1,2}):(\d{2})(?::(\d{2})(?:[.,](\d{1,9}))?)?\s*([ap]\.?\s?m\.?)?\s*(Z|UTC|GMT|[+-]\d{2}(?::?\d{2})?)?$/i;
const NUMBERS = /^(\d{1,4})([./-])(\d{1,2})\2(\d{1,4})\.?$/;

/** Languages whose names of months are known. */
const LANGUAGES = ['en', 'pt', 'es', 'fr', 'de', 'it', 'nl'];

/** A word without accents, points and capitals. */
const plainWord = (word: string): string =>
  word
    .normalize('NFD')
    .replace(/[\p{M}.]/gu, '')
    .toLowerCase();

interface Names {
  /** 1 to 12. */
  months: ReadonlyMap<string, number>;
  days: ReadonlySet<string>;
}

/** Names of months and days of the week, in full and short, as people write them. */
const readNames = (): Names => {
  const months = new Map<string, number>([['sept', 9]]);
  const days = new Set<string>();
  for (const language of LANGUAGES) {
    for (const style of ['long', 'short'] as const) {
      const nameOf = (options: Intl.DateTimeFormatOptions, date: number, type: 'month' | 'weekday'): string =>
        plainWord(
          new Intl.DateTimeFormat(language, { ...options, timeZone: 'UTC' })
            .formatToParts(date)
            .find((part) => part.type === type)?.value ?? '',
        );
      for (let month = 0; month < 12; month++) {
        const date = Date.UTC(2024, month, 15);
        months.set(nameOf({ month: style }, date, 'month'), month + 1);
        months.set(nameOf({ month: style, day: 'numeric' }, date, 'month'), month + 1);
      }
      for (let day = 1; day <= 7; day++) days.add(nameOf({ weekday: style }, Date.UTC(2024, 0, day), 'weekday'));
    }
  }
  return { months, days };
};

let names: Names | null = null;

/** Years of two digits are those around now, as POSIX has them (strptime, %y). */
const wholeYear = (year: string): number => {
  const value = Number(year);
  return year.length > 2 ? value : value < 69 ? 2000 + value : 1900 + value;
};

const dayOf = (year: number, month: number, day: number): string | null =>
  CalendarDate.of(year, month, day)?.toString() ?? null;

const fromNumbers = (text: string, order: DayOrder): string | null => {
  const match = NUMBERS.exec(text);
  if (!match) return null;
  const [, a, sign, b, c] = match as unknown as [string, string, string, string, string];
  // Where the year comes first it has four digits, and nobody writes the day next.
  if (a.length === 4) return order === 'ymd' || c.length <= 2 ? dayOf(Number(a), Number(b), Number(c)) : null;
  if (order === 'ymd' || a.length > 2 || (c.length !== 4 && c.length !== 2)) return null;
  // `1.2.10` is as likely the number of a chapter.
  if (c.length === 2 && sign === '.' && (a.length < 2 || b.length < 2)) return null;
  const [day, month] = order === 'dmy' ? [a, b] : [b, a];
  return dayOf(wholeYear(c), Number(month), Number(day));
};

/** `Jan 1 2000`, `12 Jun 98`, `Sunday, 1 de janeiro de 2006`. */
const fromWords = (text: string): string | null => {
  if (!/\p{L}/u.test(text) || text.length > 40) return null;
  names ??= readNames();
  const parts: (number | { month: number } | string)[] = [];
  for (const word of text.split(/[\s,./-]+/)) {
    const plain = plainWord(word);
    if (plain === '' || plain === 'º' || plain === 'de' || plain === 'of' || plain === 'del') continue;
    const month = names.months.get(plain);
    if (month !== undefined) parts.push({ month });
    else if (/^\d{1,2}(?:st|nd|rd|th|º|er)?$/.test(plain)) parts.push(plain.replace(/\D/g, ''));
    else if (/^['’]?\d{2}$|^\d{4}$/.test(plain)) parts.push(plain.replace(/\D/g, ''));
    else if (parts.length > 0 || !names.days.has(plain)) return null;
  }
  if (parts.length !== 3) return null;
  const at = parts.findIndex((part) => typeof part === 'object');
  const numbers = parts.filter((part): part is string => typeof part === 'string');
  if (at < 0 || numbers.length !== 2) return null;
  const { month } = parts[at] as { month: number };
  const [first, second] = numbers as [string, string];
  // The year comes last, or first with four digits.
  const [day, year] = first.length === 4 && at !== 0 ? [second, first] : [first, second];
  return day.length > 2 ? null : dayOf(wholeYear(year), month, Number(day));
};

const readDayPart = (text: string, order: DayOrder): string | null => {
  if (ISO_DAY.test(text)) return CalendarDate.parse(text) ? text : null;
  return fromNumbers(text, order) ?? fromWords(text);
};

/** A written day, with a time of day or without; null when it is none. Without a zone a time is taken as UTC. */
export const readDate = (text: string, order: DayOrder): WrittenDate | null => {
  const trimmed = text.trim();
  const alone = readDayPart(trimmed, order);
  if (alone !== null) return { day: alone, time: null };
  const match = TIME.exec(trimmed);
  if (!match) return null;
  const [, written, hours, minutes, seconds = '00', fraction, half, zone] = match;
  const day = readDayPart(written!, order);
  const hour = half ? (Number(hours) % 12) + (/^p/i.test(half) ? 12 : 0) : Number(hours);
  if (day === null || (half && (Number(hours) < 1 || Number(hours) > 12))) return null;
  const offset = zone === undefined || /^(z|utc|gmt)$/i.test(zone) ? 'Z' : zone;
  const time = `${String(hour).padStart(2, '0')}:${minutes}:${seconds}${fraction ? `.${fraction}` : ''}${offset}`;
  return Moment.parse(`${day}T${time}`) ? { day, time } : null;
};
