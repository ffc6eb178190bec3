import { CalendarDate } from '../value/date.ts';

/** Stretches of the calendar that values may name, by the day of the delivery. */
export const PERIODS = [
  'today',
  'yesterday',
  'this-week',
  'last-week',
  'this-month',
  'last-month',
  'this-quarter',
  'last-quarter',
  'this-year',
  'last-year',
  'last-7-days',
  'last-30-days',
] as const;
export type Period = (typeof PERIODS)[number];

const ofMonth = (year: number, month: number): CalendarDate => {
  // Months may be counted on below 1 and past 12.
  const shifted = new Date(Date.UTC(year, month - 1, 1));
  return CalendarDate.of(shifted.getUTCFullYear(), shifted.getUTCMonth() + 1, 1)!;
};

/** The months from the `back`th before, `length` of them. */
const monthsOf = (year: number, first: number, length: number): [number, number] => [
  ofMonth(year, first).day,
  ofMonth(year, first + length).day - 1,
];

/** The first and the last day of a stretch, of the day that it is. Weeks begin on Monday (ISO 8601). */
export const daysOf = (period: Period, today: CalendarDate): { from: CalendarDate; to: CalendarDate } => {
  const { day } = today;
  const { year, month } = today.parts();
  const monday = day - ((((day + 3) % 7) + 7) % 7);
  const quarter = Math.floor((month - 1) / 3) * 3 + 1;
  const ends = ((): [number, number] => {
    switch (period) {
      case 'today':
        return [day, day];
      case 'yesterday':
        return [day - 1, day - 1];
      case 'this-week':
        return [monday, monday + 6];
      case 'last-week':
        return [monday - 7, monday - 1];
      case 'this-month':
        return monthsOf(year, month, 1);
      case 'last-month':
        return monthsOf(year, month - 1, 1);
      case 'this-quarter':
        return monthsOf(year, quarter, 3);
      case 'last-quarter':
        return monthsOf(year, quarter - 3, 3);
      case 'this-year':
        return monthsOf(year, 1, 12);
      case 'last-year':
        return monthsOf(year - 1, 1, 12);
      case 'last-7-days':
        return [day - 7, day - 1];
      case 'last-30-days':
        return [day - 30, day - 1];
      default:
        return period satisfies never;
    }
  })();
  return { from: new CalendarDate(ends[0]), to: new CalendarDate(ends[1]) };
};
