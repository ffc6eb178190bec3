import { Temporal } from 'temporal-polyfill';
import { CalendarDate } from '../value/date.ts';
import type { Calendar, CalendarDays, When } from './when.ts';

/** Days that are gone through for one time: more than there are between two Februaries with a fifth Monday, around a year without a 29th. */
const MOST_DAYS = 366 * 41;

/** Monday of the first week that counts from 1970 begin on this day. */
const MONDAY = -3;

/** 1 is Monday, 7 Sunday. */
const weekdayOf = (day: number): number => ((((day - MONDAY) % 7) + 7) % 7) + 1;

/** The number of days in a month of a year; months from 1. */
const daysIn = (year: number, month: number): number => new Date(Date.UTC(year, month, 0)).getUTCDate();

/** The moment at which clocks of a zone show a day and time. A time that the clocks skip is the same while later, one that comes twice the first one. */
const momentOf = (day: number, time: string, zone: string): number => {
  const [hour, minute] = time.split(':').map(Number) as [number, number];
  const { year, month, day: ofMonth } = new CalendarDate(day).parts();
  return Temporal.PlainDateTime.from({ year, month, day: ofMonth, hour, minute }).toZonedDateTime(zone)
    .epochMilliseconds;
};

/** The day that it is in a zone at a moment, counted from 1970-01-01. */
export const dayAt = (moment: number, zone: string): number => {
  const { year, month, day } = Temporal.Instant.fromEpochMilliseconds(moment).toZonedDateTimeISO(zone);
  return CalendarDate.of(year, month, day)!.day;
};

/** Whether days are left out, for one after another. */
const leavingOut = (days: readonly string[]): ((day: number) => boolean) => {
  const left = new Set(days);
  return (day) => {
    if (left.size === 0) return false;
    const written = new CalendarDate(day).toString();
    return left.has(written) || left.has(written.slice(5));
  };
};

/** Whether a delivery goes on a day. `first`: the day that every so many days or weeks are counted from. */
const goesOn = (days: CalendarDays, first: number, isLeftOut: (day: number) => boolean): ((day: number) => boolean) => {
  const isWorking = (day: number): boolean => weekdayOf(day) <= 5 && !isLeftOut(day);
  switch (days.each) {
    case 'day':
      return (day) => (day - first) % days.every === 0;
    case 'working-day':
      return isWorking;
    case 'week': {
      const monday = first - weekdayOf(first) + 1;
      return (day) => Math.floor((day - monday) / 7) % days.every === 0 && days.on.includes(weekdayOf(day));
    }
    case 'month': {
      const { months, on } = days;
      return (day) => {
        const { year, month, day: ofMonth } = new CalendarDate(day).parts();
        if (months && !months.includes(month)) return false;
        const length = daysIn(year, month);
        if ('day' in on) return ofMonth === (on.short === 'last' ? Math.min(on.day, length) : on.day);
        if ('nth' in on) {
          if (weekdayOf(day) !== on.weekday) return false;
          return on.nth === 'last' ? ofMonth + 7 > length : Math.ceil(ofMonth / 7) === on.nth;
        }
        if (on.of === 'day') return ofMonth === (on.end === 'first' ? 1 : length);
        if (!isWorking(day)) return false;
        const step = on.end === 'first' ? -1 : 1;
        for (let other = ofMonth + step; other >= 1 && other <= length; other += step)
          if (isWorking(day + other - ofMonth)) return false;
        return true;
      };
    }
    default:
      return days satisfies never;
  }
};

/** The moments of a calendar after one, in their order, without end where it has none. In milliseconds since 1970. `daysOff`: further days that are left out, as those of the house. */
function* moments(calendar: Calendar, after: number, daysOff: readonly string[]): Generator<number> {
  const { days, zone, from, until, leftOut } = calendar;
  const times = [...new Set(calendar.times)].sort();
  const isLeftOut = leavingOut([...leftOut, ...daysOff]);
  const begun = from === undefined ? null : CalendarDate.parse(from)!.day;
  const last = until === undefined ? null : CalendarDate.parse(until)!.day;
  const goes = goesOn(days, begun ?? 0, isLeftOut);
  // The day before: the clocks of a zone may stand on another day than the moment that they show.
  let day = Math.max(dayAt(after, zone) - 1, begun ?? Number.NEGATIVE_INFINITY);
  let told = after;
  for (let waited = 0; waited < MOST_DAYS && (last === null || day <= last); waited++, day++) {
    if (!CalendarDate.at(day)) return;
    if (!goes(day) || isLeftOut(day)) continue;
    for (const moment of times.map((time) => momentOf(day, time, zone)).sort((a, b) => a - b)) {
      // Two times may be the same moment where clocks are put forward.
      if (moment <= told) continue;
      told = moment;
      waited = 0;
      yield moment;
    }
  }
}

/** The next moments at which a delivery goes by the calendar, after one; none when it never does, or goes otherwise. In milliseconds since 1970. */
export const nextTimes = (when: When, after: number, count: number, daysOff: readonly string[] = []): number[] => {
  const next: number[] = [];
  if (when.kind === 'once') {
    const moment = momentOf(CalendarDate.parse(when.day)!.day, when.time, when.zone);
    return moment > after && count > 0 ? [moment] : [];
  }
  if (when.kind !== 'calendar' || count <= 0) return next;
  for (const moment of moments(when.calendar, after, daysOff)) {
    next.push(moment);
    if (next.length >= count) break;
  }
  return next;
};

/** What is due of a delivery at a moment. */
export interface Due {
  /** The moments that it goes for, in milliseconds since 1970. */
  due: number[];
  /** The next one after that; null: there is none. */
  next: number | null;
}

/** Moments that are made up for at most, where each of them is. */
const MOST_MADE_UP = 100;
/** Milliseconds that a moment may have passed by without being missed. */
const ON_TIME = 5 * 60_000;

/**
 * What is due at `now` of a delivery whose next moment was `next`, and what comes then. Moments that passed while nothing ran are made
 * up for as the calendar says: all of them, the last one alone, or none.
 */
export const dueOf = (when: When, next: number, now: number, daysOff: readonly string[] = []): Due => {
  if (next > now) return { due: [], next };
  const passed = [next];
  let after: number | null = null;
  if (when.kind === 'calendar')
    for (const moment of moments(when.calendar, next, daysOff)) {
      if (moment > now) {
        after = moment;
        break;
      }
      passed.push(moment);
      if (passed.length > MOST_MADE_UP) passed.shift();
    }
  const missed = when.kind === 'calendar' ? when.calendar.missed : 'once';
  if (missed === 'all') return { due: passed, next: after };
  const last = passed.at(-1)!;
  return { due: missed === 'once' || now - last <= ON_TIME ? [last] : [], next: after };
};
