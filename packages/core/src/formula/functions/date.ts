import { phrase } from '../../problems/phrases.ts';
import { CalendarDate, DAY, Moment } from '../../value/date.ts';
import { Decimal } from '../../value/decimal.ts';
import { add, compareNumeric, divide, isNumeric, multiply, parseNumeric, toDecimal } from '../../value/number.ts';
import type { FormulaError, Value } from '../../value/value.ts';
import type { EvaluationContext } from './context.ts';
import { days360, lastOfMonth, yearLength } from './day-count.ts';
import {
  clock,
  dateOf,
  dayAt,
  dayOf,
  define,
  type FunctionTable,
  flatten,
  fromDouble,
  momentAt,
  momentAtWall,
  numeric,
  outOfRange,
  text,
  whole,
  wrong,
} from './define.ts';

const part =
  (read: (date: Date) => number) =>
  ([x]: Value[], context: EvaluationContext): Value => {
    const date = clock(x, context);
    return date && read(date);
  };

/** As {@link part}, also of a number, which is a day with its time as the fraction, to the second. */
const timePart =
  (read: (date: Date) => number) =>
  ([x]: Value[], context: EvaluationContext): Value => {
    if (x === null || x === undefined) return null;
    if (!isNumeric(x)) {
      const date = clock(x, context);
      return date ? read(date) : wrong(phrase('e-no-time', { text: text(x).slice(0, 100) }));
    }
    if (compareNumeric(x, 0) < 0) return outOfRange(phrase('e-no-time', { text: text(x) }));
    const fraction = toDecimal(x).subtract(toDecimal(x).truncate());
    const seconds = fraction.multiply(Decimal.of(86_400)).round(0).toNumber() % 86_400;
    return read(new Date(seconds * 1000));
  };

/** 1 for Monday to 7 for Sunday, of a day counted from 1970-01-01, a Thursday. */
const isoWeekday = (day: number): number => ((((day + 3) % 7) + 7) % 7) + 1;

/** ISO 8601: week 1 holds the year's first Thursday. */
const isoWeek = (day: number): number => {
  const thursday = day - isoWeekday(day) + 4;
  const firstOfYear = new Date(thursday * DAY).setUTCMonth(0, 1) / DAY;
  return Math.floor((thursday - firstOfYear) / 7) + 1;
};

/** The same day so many months on, or the month's last day where there is no such day. */
const monthsOn = (day: number, months: number): CalendarDate | FormulaError => {
  const { year, month, day: of } = new CalendarDate(day).parts();
  const index = year * 12 + month - 1 + months;
  const y = Math.floor(index / 12);
  const m = (index % 12) + 1;
  return dateOf(y, m, Math.min(of, lastOfMonth(y, m)));
};

export const PERIODS = ['year', 'quarter', 'month', 'week', 'day', 'hour'] as const;
export type Period = (typeof PERIODS)[number];
export const isPeriod = (name: string): name is Period => (PERIODS as readonly string[]).includes(name);

/** First day of the period that holds a day; weeks start on Monday. */
const periodStart = (day: number, period: Exclude<Period, 'hour'>): CalendarDate | FormulaError => {
  const { year, month } = new CalendarDate(day).parts();
  switch (period) {
    case 'year':
      return dateOf(year, 1, 1);
    case 'quarter':
      return dateOf(year, Math.floor((month - 1) / 3) * 3 + 1, 1);
    case 'month':
      return dateOf(year, month, 1);
    case 'week':
      return dayAt(day - isoWeekday(day) + 1);
    case 'day':
      return dayAt(day);
    default:
      return period satisfies never;
  }
};

const freeDays = (values: Value[], context: EvaluationContext): Set<number> =>
  new Set(flatten(values).map((v) => dayOf(v, context) ?? Number.NaN));

/** Whole months from one day to a later one. */
const monthsBetween = (from: number, to: number): number => {
  const a = new CalendarDate(from).parts();
  const b = new CalendarDate(to).parts();
  return (b.year - a.year) * 12 + b.month - a.month - (b.day < a.day ? 1 : 0);
};

/** Days past so many whole months. */
const daysPast = (from: number, to: number, months: number): Value => {
  const whole = monthsOn(from, months);
  return whole instanceof CalendarDate ? to - whole.day : whole;
};

/** Days that a run of workdays may look at; a century. */
const FARTHEST = 36_525;

export const DATE_FUNCTIONS: FunctionTable = {
  DATE: define(
    'year:n month:n day:n',
    'date',
    'The date of a year, month and day; months and days past the end run on.',
    'DATE(2025; 7; 12) = DATE(2025; 6; 42)',
    ([y, m, d]) => dateOf(whole(y), whole(m), whole(d)),
  ),
  DATETIME: define(
    'date:d hour:n minute:n?',
    'datetime',
    'A time of day on a date, in the report’s time zone. (Gaveta’s own.)',
    'HOUR(DATETIME(DATE(2025; 7; 12); 14; 30)) = 14',
    ([date, hour, minute], context) => {
      const day = dayOf(date, context);
      if (day === null) return null;
      const wall = day * DAY + whole(hour) * 3_600_000 + whole(minute) * 60_000;
      return momentAtWall(wall, context.report.timeZone);
    },
  ),
  DATEVALUE: define(
    'text:t',
    'date',
    'The date that a text writes, as 2025-07-12.',
    'DATEVALUE("2025-07-12") = DATE(2025; 7; 12)',
    ([x]) => CalendarDate.parse(text(x)) ?? wrong(phrase('e-no-date', { text: text(x) })),
  ),
  TODAY: define('', 'date', 'The day on which the report runs.', 'TODAY() = TODAY()', (_, { report }) =>
    dayAt(Math.floor(report.runAt.wallClock(report.timeZone) / DAY)),
  ),
  NOW: define('', 'datetime', 'The time at which the report runs.', 'NOW() = NOW()', (_, { report }) => report.runAt),
  YEAR: define(
    'date:d',
    'number',
    'The year of a date.',
    'YEAR(DATE(2025; 7; 12)) = 2025',
    part((d) => d.getUTCFullYear()),
  ),
  QUARTER: define(
    'date:d',
    'number',
    'The quarter of a date, 1 to 4. (Gaveta’s own.)',
    'QUARTER(DATE(2025; 7; 12)) = 3',
    part((d) => Math.floor(d.getUTCMonth() / 3) + 1),
  ),
  MONTH: define(
    'date:d',
    'number',
    'The month of a date, 1 to 12.',
    'MONTH(DATE(2025; 7; 12)) = 7',
    part((d) => d.getUTCMonth() + 1),
  ),
  DAY: define(
    'date:d',
    'number',
    'The day of the month of a date.',
    'DAY(DATE(2025; 7; 12)) = 12',
    part((d) => d.getUTCDate()),
  ),
  HOUR: define(
    'time:x',
    'number',
    'The hour of a time, 0 to 23, in the report’s time zone; of a number, which is a part of a day.',
    'HOUR(DATETIME(DATE(2025; 7; 12); 9; 45)) = 9',
    timePart((d) => d.getUTCHours()),
  ),
  MINUTE: define(
    'time:x',
    'number',
    'The minute of a time.',
    'MINUTE(DATETIME(DATE(2025; 7; 12); 9; 45)) = 45',
    timePart((d) => d.getUTCMinutes()),
  ),
  SECOND: define(
    'time:x',
    'number',
    'The second of a time.',
    'SECOND(DATETIME(DATE(2025; 7; 12); 9)) = 0',
    timePart((d) => d.getUTCSeconds()),
  ),
  WEEKDAY: define(
    'date:d type:n?',
    'number',
    'The day of the week: 1 for Sunday to 7; with type 2, 1 for Monday to 7; with 3, 0 for Monday to 6; with 11 to 17, 1 for Monday, for Tuesday and so on.',
    'WEEKDAY(DATE(2025; 7; 12); 2) = 6',
    ([x, type], context) => {
      const day = dayOf(x, context);
      if (day === null) return null;
      const kind = whole(type, 1);
      if (kind === 2) return isoWeekday(day);
      if (kind === 3) return isoWeekday(day) - 1;
      if (kind >= 11 && kind <= 17) return ((isoWeekday(day) - 1 + 7 - (kind - 11)) % 7) + 1;
      return kind === 1
        ? (isoWeekday(day) % 7) + 1
        : outOfRange(phrase('e-takes', { name: 'WEEKDAY', values: '1, 2, 3, 11…17' }));
    },
  ),
  WEEKNUM: define(
    'date:d type:n?',
    'number',
    'The week of the year, counted from the one with January 1. Weeks begin on Sunday; with type 2 on Monday; with 11 to 17 on Monday, Tuesday and so on; type 21 is ISO 8601.',
    'WEEKNUM(DATE(2025; 1; 5)) = 2',
    ([x, type], context) => {
      const day = dayOf(x, context);
      if (day === null) return null;
      const kind = whole(type, 1);
      if (kind === 21) return isoWeek(day);
      const first = kind === 1 ? 7 : kind === 2 ? 1 : kind >= 11 && kind <= 17 ? kind - 10 : null;
      if (first === null) return outOfRange(phrase('e-takes', { name: 'WEEKNUM', values: '1, 2, 11…17, 21' }));
      const firstOfYear = new Date(day * DAY).setUTCMonth(0, 1) / DAY;
      return Math.floor((day - firstOfYear + ((isoWeekday(firstOfYear) - first + 7) % 7)) / 7) + 1;
    },
  ),
  TIME: define(
    'hour:n minute:n second:n',
    'number',
    'A time of day as a fraction of a day: noon is 0.5.',
    'TIME(6; 0; 0) = 0.25',
    ([hour, minute, second]) =>
      divide(add(add(multiply(numeric(hour), 3600), multiply(numeric(minute), 60)), numeric(second)), 86_400),
  ),
  TIMEVALUE: define(
    'text:t',
    'number',
    'The time of day that a text writes, such as 18:30 or 6:30 PM, as a fraction of a day.',
    'TIMEVALUE("18:00") = 0.75',
    ([x]) => {
      const found =
        /^\s*(?:\d{4}-\d{2}-\d{2}[T ])?(\d{1,2}):(\d{2})(?::(\d{2}(?:\.\d{1,9})?))?\s*([ap])?\.?(?:m\.?)?\s*$/i.exec(
          text(x),
        );
      const [, hours = '', minutes = '', seconds = '0', half] = found ?? [];
      const hour = half ? (Number(hours) % 12) + (half.toLowerCase() === 'p' ? 12 : 0) : Number(hours);
      if (!found || hour > 23 || (half && Number(hours) > 12) || Number(minutes) > 59 || Number(seconds) >= 60)
        return wrong(phrase('e-no-time', { text: text(x).slice(0, 100) }));
      return divide(add(hour * 3600 + Number(minutes) * 60, parseNumeric(seconds)!), 86_400);
    },
  ),
  DAYS360: define(
    'start:d end:d european:b?',
    'number',
    'Days between two dates in a year of 12 months with 30 days each, by the rules of the USA; or of Europe when the third value is TRUE.',
    'DAYS360(DATE(2025; 1; 31); DATE(2025; 3; 31)) = 60',
    ([start, end, european], context) => {
      const [a, b] = [dayOf(start, context), dayOf(end, context)];
      if (a === null || b === null) return null;
      return days360(a, b, european === true ? 'europe' : 'plain');
    },
  ),
  YEARFRAC: define(
    'start:d end:d basis:n?',
    'number',
    'Years between two dates, as a fraction: with months of 30 days (basis 0, or 4 by the rules of Europe), actual days and years (1), or actual days over 360 (2) or 365 (3).',
    'YEARFRAC(DATE(2025; 1; 1); DATE(2025; 7; 1)) = 0.5',
    ([start, end, basis], context) => {
      const [x, y] = [dayOf(start, context), dayOf(end, context)];
      if (x === null || y === null) return null;
      const [a, b] = [Math.min(x, y), Math.max(x, y)];
      switch (whole(basis)) {
        case 0:
          return divide(days360(a, b, 'usa'), 360);
        case 1:
          return divide(b - a, yearLength(a, b));
        case 2:
          return divide(b - a, 360);
        case 3:
          return divide(b - a, 365);
        case 4:
          return divide(days360(a, b, 'europe'), 360);
        default:
          return outOfRange(phrase('e-takes', { name: 'YEARFRAC', values: '0…4' }));
      }
    },
  ),
  ISOWEEKNUM: define(
    'date:d',
    'number',
    'The week of the year by ISO 8601.',
    'ISOWEEKNUM(DATE(2025; 12; 29)) = 1',
    ([x], context) => {
      const day = dayOf(x, context);
      return day === null ? null : isoWeek(day);
    },
  ),
  PERIOD: define(
    'date:d name:t',
    'date',
    'The first day of the year, quarter, month or week (from Monday) of a date. (Gaveta’s own.)',
    'PERIOD(DATE(2025; 8; 12); "quarter") = DATE(2025; 7; 1)',
    ([x, name], context) => {
      const period = text(name).toLowerCase();
      if (!isPeriod(period) || period === 'hour')
        return wrong(phrase('e-takes', { name: 'PERIOD', values: 'year, quarter, month, week, day' }));
      const day = dayOf(x, context);
      return day === null ? null : periodStart(day, period);
    },
  ),
  PERIODHOUR: define(
    'time:d',
    'datetime',
    'The start of the hour of a time, in the report’s time zone. (Gaveta’s own.)',
    'MINUTE(PERIODHOUR(DATETIME(DATE(2025; 7; 12); 9; 45))) = 0',
    ([x], context) => {
      if (!(x instanceof Moment)) return x instanceof CalendarDate ? momentAt(x.day * DAY) : null;
      const past = ((x.wallClock(context.report.timeZone) % 3_600_000) + 3_600_000) % 3_600_000;
      return momentAt(x.ms - past);
    },
  ),
  DAYS: define(
    'end:d start:d',
    'number',
    'Days from the second date to the first.',
    'DAYS(DATE(2025; 7; 14); DATE(2025; 7; 12)) = 2',
    ([end, start], context) => {
      const a = dayOf(end, context);
      const b = dayOf(start, context);
      return a === null || b === null ? null : a - b;
    },
  ),
  HOURS: define(
    'end:d start:d',
    'number',
    'Hours from the second time to the first, with fraction. (Gaveta’s own.)',
    'HOURS(DATETIME(DATE(2025; 7; 13); 1); DATETIME(DATE(2025; 7; 12); 22; 30)) = 2.5',
    ([end, start], context) => {
      const ms = (value: Value | undefined): number | null =>
        value instanceof Moment ? value.ms : (clock(value, context)?.getTime() ?? null);
      const [a, b] = [ms(end), ms(start)];
      return a === null || b === null ? null : fromDouble((a - b) / 3_600_000);
    },
  ),
  DATEDIF: define(
    'start:d end:d unit:t',
    'number',
    'Whole years ("y"), months ("m") or days ("d") from a date to a later one; "ym": months past the last whole year, "yd" days past it, "md": days past the last whole month.',
    'DATEDIF(DATE(1990; 5; 20); DATE(2025; 5; 19); "y") = 34',
    ([start, end, unit], context) => {
      const [a, b] = [dayOf(start, context), dayOf(end, context)];
      if (a === null || b === null) return null;
      if (b < a) return outOfRange(phrase('e-dates-reversed'));
      switch (text(unit).toLowerCase()) {
        case 'y':
          return Math.floor(monthsBetween(a, b) / 12);
        case 'm':
          return monthsBetween(a, b);
        case 'ym':
          return monthsBetween(a, b) % 12;
        case 'md':
          return daysPast(a, b, monthsBetween(a, b));
        case 'yd':
          return daysPast(a, b, Math.floor(monthsBetween(a, b) / 12) * 12);
        case 'd':
          return b - a;
        default:
          return outOfRange(phrase('e-takes', { name: 'DATEDIF', values: '"y", "m", "d", "ym", "yd", "md"' }));
      }
    },
  ),
  EDATE: define(
    'date:d months:n',
    'date',
    'The same day so many months on.',
    'EDATE(DATE(2025; 1; 31); 1) = DATE(2025; 2; 28)',
    ([x, n], context) => {
      const day = dayOf(x, context);
      return day === null ? null : monthsOn(day, whole(n));
    },
  ),
  EOMONTH: define(
    'date:d months:n?',
    'date',
    'The last day of the month so many months on.',
    'EOMONTH(DATE(2024; 1; 10); 1) = DATE(2024; 2; 29)',
    ([x, n], context) => {
      const day = dayOf(x, context);
      if (day === null) return null;
      const { year, month } = new CalendarDate(day).parts();
      return dateOf(year, month + 1 + whole(n), 0);
    },
  ),
  DAYSINMONTH: define(
    'date:d',
    'number',
    'How many days the month of a date has.',
    'DAYSINMONTH(DATE(2024; 2; 10)) = 29',
    part((d) => lastOfMonth(d.getUTCFullYear(), d.getUTCMonth() + 1)),
  ),
  NETWORKDAYS: define(
    'start:d end:d free:x?*',
    'number',
    'Workdays from one date to another, both included; further dates or lists of dates are free days.',
    'NETWORKDAYS(DATE(2025; 7; 11); DATE(2025; 7; 14); DATE(2025; 7; 14)) = 1',
    ([start, end, ...free], context) => {
      const [a, b] = [dayOf(start, context), dayOf(end, context)];
      if (a === null || b === null) return null;
      if (Math.abs(b - a) > FARTHEST) return outOfRange(phrase('e-century'));
      const off = freeDays(free, context);
      let count = 0;
      for (let day = Math.min(a, b); day <= Math.max(a, b); day++) if (isoWeekday(day) < 6 && !off.has(day)) count++;
      return a <= b ? count : -count;
    },
  ),
  WORKDAY: define(
    'start:d days:n free:x?*',
    'date',
    'The date so many workdays on; further dates or lists of dates are free days.',
    'WORKDAY(DATE(2025; 7; 11); 1) = DATE(2025; 7; 14)',
    ([start, days, ...free], context) => {
      let day = dayOf(start, context);
      if (day === null) return null;
      let left = whole(days);
      if (Math.abs(left) > FARTHEST / 2) return outOfRange(phrase('e-many-days'));
      const off = freeDays(free, context);
      const step = left < 0 ? -1 : 1;
      for (let looked = 0; left !== 0 && looked < FARTHEST; looked++) {
        day += step;
        if (isoWeekday(day) < 6 && !off.has(day)) left -= step;
      }
      return dayAt(day);
    },
  ),
  EASTERSUNDAY: define(
    'year:n',
    'date',
    'The date of Easter of a year.',
    'EASTERSUNDAY(2025) = DATE(2025; 4; 20)',
    ([x]) => {
      const year = whole(x);
      if (year < 1583 || year > 9999)
        return outOfRange(phrase('e-takes', { name: 'EASTERSUNDAY', values: '1583…9999' }));
      // The anonymous Gregorian computus.
      const a = year % 19;
      const b = Math.floor(year / 100);
      const c = year % 100;
      const h = (19 * a + b - Math.floor(b / 4) - Math.floor((b - Math.floor((b + 8) / 25) + 1) / 3) + 15) % 30;
      const l = (32 + 2 * (b % 4) + 2 * Math.floor(c / 4) - h - (c % 4)) % 7;
      const m = Math.floor((a + 11 * h + 22 * l) / 451);
      const n = h + l - 7 * m + 114;
      return dateOf(year, Math.floor(n / 31), (n % 31) + 1);
    },
  ),
};
