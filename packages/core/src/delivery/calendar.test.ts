import { expect, test } from 'vitest';
import { CalendarDate } from '../value/date.ts';
import { dueOf, nextTimes } from './calendar.ts';
import { type Calendar, type CalendarDays, calendarSchema, type When, whenSchema } from './when.ts';

const at = (iso: string): number => Date.parse(iso);
const calendar = (days: unknown, more: object = {}): When =>
  whenSchema.parse({ kind: 'calendar', calendar: { days, times: ['07:00'], zone: 'UTC', ...more } });
const days = (when: When, after: string, count: number, daysOff: string[] = []): string[] =>
  nextTimes(when, at(after), count, daysOff).map((moment) => new Date(moment).toISOString().slice(0, 10));

const clocks = new Map<string, Intl.DateTimeFormat>();
const clockOf = (zone: string): Intl.DateTimeFormat => {
  const known = clocks.get(zone);
  if (known) return known;
  const clock = new Intl.DateTimeFormat('en-US', {
    ...{ timeZone: zone, hourCycle: 'h23', year: 'numeric', month: 'numeric', day: 'numeric' },
    ...{ hour: 'numeric', minute: 'numeric' },
  });
  clocks.set(zone, clock);
  return clock;
};

/** The offset of a zone at a moment, as the platform's own formatter knows it; in minutes. */
const offsetAt = (moment: number, zone: string): number => {
  const parts = clockOf(zone).formatToParts(moment);
  const part = (type: string): number => Number(parts.find((one) => one.type === type)!.value);
  const wall = Date.UTC(part('year'), part('month') - 1, part('day'), part('hour'), part('minute'));
  return (wall - Math.floor(moment / 60_000) * 60_000) / 60_000;
};

/** The first moment that shows a wall clock; of one that is skipped, as if the clocks had not been put forward yet. */
const shownAt = (wall: number, zone: string): number => {
  const offsets = [...new Set([-30, -12, -3, 0, 3, 12, 30].map((hours) => offsetAt(wall + hours * 3_600_000, zone)))];
  const fits = offsets.map((o) => wall - o * 60_000).filter((m) => m + offsetAt(m, zone) * 60_000 === wall);
  return fits.length > 0 ? Math.min(...fits) : wall - offsetAt(wall - 30 * 3_600_000, zone) * 60_000;
};

const ZONES = [
  'Europe/Lisbon',
  'Atlantic/Azores',
  'Europe/Berlin',
  'America/New_York',
  'America/St_Johns',
  'America/Sao_Paulo',
  'Asia/Kolkata',
  'Asia/Kathmandu',
  'Australia/Lord_Howe',
  'Pacific/Auckland',
  'Pacific/Apia',
];

test.each(ZONES)('every day in %s at any time, over both changes of the clocks', (zone) => {
  const times = ['00:00', '00:30', '01:30', '02:00', '02:30', '03:00', '07:00', '23:59'];
  const first = CalendarDate.parse('2026-02-20')!.day;
  const wanted = new Set<number>();
  for (let day = first; day < first + 300; day++)
    for (const time of times) {
      const [hours, minutes] = time.split(':').map(Number) as [number, number];
      wanted.add(shownAt(day * 86_400_000 + (hours * 60 + minutes) * 60_000, zone));
    }
  const expected = [...wanted].sort((a, b) => a - b).slice(0, 299 * times.length);
  const found = nextTimes(
    calendar({ each: 'day' }, { times, zone, from: '2026-02-20' }),
    at('2026-02-01T00:00Z'),
    expected.length,
  );
  expect(found.length).toBeGreaterThan(2000);
  expect(found).toEqual(expected);
});

test('a time that the clocks skip goes once, an hour later; one that comes twice goes once, the first time', () => {
  const when = calendar({ each: 'day' }, { times: ['01:30'], zone: 'Europe/Lisbon' });
  const iso = (after: string): string[] => nextTimes(when, at(after), 2).map((m) => new Date(m).toISOString());
  expect(iso('2026-03-28T12:00Z')).toEqual(['2026-03-29T01:30:00.000Z', '2026-03-30T00:30:00.000Z']);
  expect(iso('2026-10-24T12:00Z')).toEqual(['2026-10-25T00:30:00.000Z', '2026-10-26T01:30:00.000Z']);
  // Not again when it has just gone.
  expect(iso('2026-10-25T00:30Z')[0]).toBe('2026-10-26T01:30:00.000Z');
});

test('a day that a zone skipped altogether is made up for by the next, once', () => {
  const when = calendar({ each: 'day' }, { zone: 'Pacific/Apia' });
  const found = nextTimes(when, at('2011-12-28T12:00-10:00'), 3).map((m) => new Date(m).toISOString());
  expect(new Set(found).size).toBe(3);
  expect(found).toEqual(['2011-12-29T17:00:00.000Z', '2011-12-30T17:00:00.000Z', '2011-12-31T17:00:00.000Z']);
});

test('working days leave out weekends, the delivery’s days and those of the house', () => {
  const when = calendar({ each: 'working-day' }, { leftOut: ['12-25', '2026-12-28'] });
  expect(days(when, '2026-12-23T12:00Z', 5, ['2026-12-24', '01-01'])).toEqual([
    '2026-12-29',
    '2026-12-30',
    '2026-12-31',
    '2027-01-04',
    '2027-01-05',
  ]);
});

test('weeks: on some days of every so many', () => {
  expect(days(calendar({ each: 'week', on: [1, 4] }), '2026-12-01T00:00Z', 4)).toEqual([
    '2026-12-03',
    '2026-12-07',
    '2026-12-10',
    '2026-12-14',
  ]);
  const second = calendar({ each: 'week', every: 2, on: [1, 5] }, { from: '2026-12-02' });
  // The week of the first day counts, as far as it is not over.
  expect(days(second, '2026-12-01T00:00Z', 4)).toEqual(['2026-12-04', '2026-12-14', '2026-12-18', '2026-12-28']);
});

test('months: by day, with shorter ones on their last day or not at all', () => {
  const last = calendar({ each: 'month', on: { day: 31 } });
  expect(days(last, '2028-01-01T00:00Z', 4)).toEqual(['2028-01-31', '2028-02-29', '2028-03-31', '2028-04-30']);
  const skip = calendar({ each: 'month', on: { day: 31, short: 'skip' } });
  expect(days(skip, '2028-01-01T00:00Z', 4)).toEqual(['2028-01-31', '2028-03-31', '2028-05-31', '2028-07-31']);
  const leap = calendar({ each: 'month', months: [2], on: { day: 29, short: 'skip' } });
  // 2100 has none.
  expect(days(leap, '2092-03-01T00:00Z', 2)).toEqual(['2096-02-29', '2104-02-29']);
});

test('months: the second Monday, the last Friday, the last day, the first and last working day', () => {
  const month = (on: unknown, more = {}): When => calendar({ each: 'month', on }, more);
  expect(days(month({ nth: 2, weekday: 1 }), '2026-12-01T00:00Z', 3)).toEqual([
    '2026-12-14',
    '2027-01-11',
    '2027-02-08',
  ]);
  expect(days(month({ nth: 'last', weekday: 5 }), '2026-12-01T00:00Z', 2)).toEqual(['2026-12-25', '2027-01-29']);
  expect(days(month({ nth: 5, weekday: 2 }), '2026-12-01T00:00Z', 2)).toEqual(['2026-12-29', '2027-03-30']);
  expect(days(month({ end: 'last', of: 'day' }), '2027-01-01T00:00Z', 2)).toEqual(['2027-01-31', '2027-02-28']);
  const lastWorking = month({ end: 'last', of: 'working-day' }, { leftOut: ['2027-01-29'] });
  expect(days(lastWorking, '2027-01-01T00:00Z', 2)).toEqual(['2027-01-28', '2027-02-26']);
  const firstWorking = month({ end: 'first', of: 'working-day' }, { leftOut: ['01-01'] });
  expect(days(firstWorking, '2026-12-15T00:00Z', 2)).toEqual(['2027-01-04', '2027-02-01']);
  const quarters = calendar({ each: 'month', months: [1, 4, 7, 10], on: { end: 'first', of: 'day' } });
  expect(days(quarters, '2026-12-15T00:00Z', 3)).toEqual(['2027-01-01', '2027-04-01', '2027-07-01']);
});

test('the calendar ends, and one that never comes gives none', () => {
  expect(days(calendar({ each: 'day' }, { until: '2026-12-03' }), '2026-12-01T12:00Z', 10)).toEqual([
    '2026-12-02',
    '2026-12-03',
  ]);
  expect(
    days(calendar({ each: 'month', months: [2], on: { day: 30, short: 'skip' } }), '2026-12-01T12:00Z', 10),
  ).toEqual([]);
  expect(days(calendar({ each: 'month', months: [2], on: { nth: 5, weekday: 1 } }), '2026-12-01T12:00Z', 1)).toEqual([
    '2044-02-29',
  ]);
});

test('once, in its zone, and never again', () => {
  const once = whenSchema.parse({ kind: 'once', day: '2026-12-24', time: '18:00', zone: 'America/New_York' });
  expect(nextTimes(once, at('2026-12-01T00:00Z'), 10)).toEqual([at('2026-12-24T23:00Z')]);
  expect(nextTimes(once, at('2026-12-24T23:00Z'), 10)).toEqual([]);
  expect(nextTimes({ kind: 'by-hand' }, 0, 10)).toEqual([]);
});

test('after three days without a server: all of them, one for all, or none', () => {
  const missed = (how: string, now: string) =>
    dueOf(calendar({ each: 'day' }, { missed: how }), at('2026-12-01T07:00Z'), at(now));
  const next = at('2026-12-05T07:00Z');
  const three = ['2026-12-01', '2026-12-02', '2026-12-03', '2026-12-04'].map((day) => at(`${day}T07:00Z`));
  expect(missed('all', '2026-12-04T09:00Z')).toEqual({ due: three, next });
  expect(missed('once', '2026-12-04T09:00Z')).toEqual({ due: [three[3]], next });
  expect(missed('skip', '2026-12-04T09:00Z')).toEqual({ due: [], next });
  // What is due now was not missed.
  expect(missed('skip', '2026-12-04T07:00:02Z')).toEqual({ due: [three[3]], next });
  expect(missed('once', '2026-11-30T09:00Z')).toEqual({ due: [], next: three[0] });
  // Ten years without a server are no reason to send 3,650 mails.
  expect(missed('all', '2036-12-04T09:00Z').due).toHaveLength(100);
});

test('random calendars give the days that a plain walk over all days gives', () => {
  let seed = 7;
  const random = (below: number): number => {
    seed = (seed * 1_103_515_245 + 12_345) % 2_147_483_648;
    return Math.floor((seed / 2_147_483_648) * below);
  };
  const some = <T>(values: readonly T[]): T => values[random(values.length)]!;
  const drawn = (): CalendarDays =>
    calendarSchema.shape.days.parse(
      some([
        { each: 'day', every: 1 + random(9) },
        { each: 'working-day' },
        { each: 'week', every: 1 + random(3), on: [1 + random(7), 1 + random(7)] },
        { each: 'month', on: { day: 1 + random(31), short: some(['last', 'skip']) } },
        { each: 'month', on: { nth: some([1, 2, 3, 4, 'last']), weekday: 1 + random(7) } },
        { each: 'month', on: { end: some(['first', 'last']), of: some(['day', 'working-day']) } },
      ]),
    );
  for (let round = 0; round < 200; round++) {
    const from = new CalendarDate(20_000 + random(2000));
    const leftOut = [new CalendarDate(from.day + random(40)).toString(), some(['12-25', '02-29', '05-01'])];
    const when = calendar(drawn(), { from: from.toString(), leftOut });
    const { calendar: own } = when as { calendar: Calendar };
    const found = days(when, '2020-01-01T00:00Z', 12);
    expect(found).toEqual(plainDays(own, from.day, 12));
  }
});

/** Days of a calendar by going through each of them, with the platform’s own dates. */
const plainDays = ({ days: on, leftOut }: Calendar, from: number, count: number): string[] => {
  const found: string[] = [];
  const dateOf = (day: number): Date => new Date(day * 86_400_000);
  const weekday = (day: number): number => dateOf(day).getUTCDay() || 7;
  const isOut = (day: number): boolean => leftOut.some((left) => dateOf(day).toISOString().slice(0, 10).endsWith(left));
  const isWorking = (day: number): boolean => weekday(day) < 6 && !isOut(day);
  const monthOf = (day: number): number[] => {
    const date = dateOf(day);
    const first = Date.UTC(date.getUTCFullYear(), date.getUTCMonth(), 1) / 86_400_000;
    const next = Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + 1, 1) / 86_400_000;
    return Array.from({ length: next - first }, (_, i) => first + i);
  };
  const monday = from - weekday(from) + 1;
  const fits = (day: number): boolean => {
    if (on.each === 'day') return (day - from) % on.every === 0;
    if (on.each === 'working-day') return isWorking(day);
    if (on.each === 'week') return Math.floor((day - monday) / 7) % on.every === 0 && on.on.includes(weekday(day));
    const month = monthOf(day);
    const { on: which } = on;
    if ('day' in which) return day === (month[which.day - 1] ?? (which.short === 'last' ? month.at(-1) : undefined));
    if ('nth' in which) {
      const same = month.filter((one) => weekday(one) === which.weekday);
      return day === (which.nth === 'last' ? same.at(-1) : same[which.nth - 1]);
    }
    return day === month.filter((one) => which.of === 'day' || isWorking(one)).at(which.end === 'first' ? 0 : -1);
  };
  for (let day = from; found.length < count && day < from + 4000; day++)
    if (fits(day) && !isOut(day)) found.push(dateOf(day).toISOString().slice(0, 10));
  return found;
};
