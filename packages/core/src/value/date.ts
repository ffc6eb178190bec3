export const DAY = 86_400_000;

/** Days of 0001-01-01 and 9999-12-31, counted from 1970-01-01: dates outside of them cannot be written in four digits. */
const FIRST_DAY = -719_162;
const LAST_DAY = 2_932_896;

/** A day of the calendar without a time or a zone. `day` counts days since 1970-01-01 (may be negative). */
export class CalendarDate {
  #written: string | null = null;

  constructor(readonly day: number) {}

  /** Null unless it is a whole day from year 1 to 9999. */
  static at(day: number): CalendarDate | null {
    return Number.isInteger(day) && day >= FIRST_DAY && day <= LAST_DAY ? new CalendarDate(day) : null;
  }

  /** Null when year (1-9999), month (1-12) and day do not name a day that exists. */
  static of(year: number, month: number, day: number): CalendarDate | null {
    const date = new Date(0);
    date.setUTCFullYear(year, month - 1, day);
    if (date.getUTCFullYear() !== year || date.getUTCMonth() !== month - 1 || date.getUTCDate() !== day) return null;
    return CalendarDate.at(Math.round(date.getTime() / DAY));
  }

  /** Reads `2025-07-12`. Null when it is not a date. */
  static parse(text: string): CalendarDate | null {
    const known = days.get(text);
    if (known) return known;
    const read = CalendarDate.read(text);
    if (!read || text.length > 10) return read;
    if (days.size >= MOST_DAYS) days.clear();
    days.set(text, read);
    return read;
  }

  private static read(text: string): CalendarDate | null {
    const match = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text.trim());
    return match ? CalendarDate.of(Number(match[1]), Number(match[2]), Number(match[3])) : null;
  }

  parts(): { year: number; month: number; day: number } {
    const date = new Date(this.day * DAY);
    return { year: date.getUTCFullYear(), month: date.getUTCMonth() + 1, day: date.getUTCDate() };
  }

  toString(): string {
    this.#written ??= new Date(this.day * DAY).toISOString().slice(0, 10);
    return this.#written;
  }
}

/** Rows by the million have days by the hundred: those read last are kept, as they were written. */
const MOST_DAYS = 4_000;
const days = new Map<string, CalendarDate>();

/** A point in time; `ms` is milliseconds since 1970-01-01T00:00Z. */
export class Moment {
  constructor(readonly ms: number) {}

  /** Null unless it lies in years 1 to 9999. */
  static at(ms: number): Moment | null {
    return ms >= FIRST_DAY * DAY && ms < (LAST_DAY + 1) * DAY ? new Moment(ms) : null;
  }

  /** Reads ISO 8601 and PostgreSQL's `2025-03-30 02:30:00+00`; without a zone it is taken as UTC. */
  static parse(text: string): Moment | null {
    const match = /^(\d{4}-\d{2}-\d{2})[T ](\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?)\s*(Z|[+-]\d{2}(?::?\d{2})?)?$/.exec(
      text.trim(),
    );
    if (!match) return null;
    let zone = match[3] ?? 'Z';
    if (zone.length === 3) zone += ':00';
    const ms = Date.parse(`${match[1]}T${match[2]}${zone}`);
    return Moment.at(ms);
  }

  /** The wall clock in an IANA time zone, as milliseconds counted as if that zone were UTC. */
  wallClock(timeZone: string): number {
    if (timeZone === 'UTC') return this.ms;
    return this.ms + zoneOffset(this.ms, timeZone);
  }

  toString(): string {
    return new Date(this.ms).toISOString();
  }
}

const zoneFormats = new Map<string, Intl.DateTimeFormat>();

const zoneOffset = (ms: number, timeZone: string): number => {
  let format = zoneFormats.get(timeZone);
  if (!format) {
    format = new Intl.DateTimeFormat('en-US', {
      timeZone,
      hourCycle: 'h23',
      year: 'numeric',
      month: 'numeric',
      day: 'numeric',
      hour: 'numeric',
      minute: 'numeric',
      second: 'numeric',
    });
    zoneFormats.set(timeZone, format);
  }
  const part: Record<string, number> = {};
  for (const { type, value } of format.formatToParts(ms)) part[type] = Number(value);
  const wall = Date.UTC(part.year!, part.month! - 1, part.day!, part.hour!, part.minute!, part.second!);
  return wall - Math.floor(ms / 1000) * 1000;
};

/** The name that was asked for last: a report is planned at each edit, and asking takes half a millisecond. */
let lastZone = { name: 'UTC', isKnown: true };

export const isTimeZone = (name: string): boolean => {
  if (lastZone.name === name) return lastZone.isKnown;
  let isKnown = true;
  try {
    new Intl.DateTimeFormat('en', { timeZone: name });
  } catch {
    isKnown = false;
  }
  lastZone = { name, isKnown };
  return isKnown;
};
