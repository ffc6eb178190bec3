import { CalendarDate } from '../../value/date.ts';
import { divide, type Numeric } from '../../value/number.ts';
import { dateOf } from './define.ts';

/** The last day of a month, from 28 to 31. */
export const lastOfMonth = (year: number, month: number): number =>
  new Date(new Date(0).setUTCFullYear(year, month, 0)).getUTCDate();

const isLeap = (year: number): boolean => lastOfMonth(year, 2) === 29;

/**
 * Days between dates where months have 30 (OpenFormula, section 6.10.7 and 4.11.7): `usa` takes the last of February for a 30th,
 * `plain` does not.
 */
export const days360 = (from: number, to: number, rule: 'usa' | 'plain' | 'europe'): number => {
  const [a, b] = [new CalendarDate(from).parts(), new CalendarDate(to).parts()];
  const isLast = ({ year, month, day }: typeof a): boolean => month === 2 && day === lastOfMonth(year, 2);
  let [first, last] = [a.day, b.day];
  if (rule === 'europe') {
    first = Math.min(first, 30);
    last = Math.min(last, 30);
  } else {
    if (rule === 'usa' && isLast(a)) {
      if (isLast(b)) last = 30;
      first = 30;
    }
    if (last === 31 && first >= 30) last = 30;
    if (first === 31) first = 30;
  }
  return (b.year - a.year) * 360 + (b.month - a.month) * 30 + last - first;
};

/** Days of the year that two dates lie in, or of those between them on average (OpenFormula, section 4.11.7). */
export const yearLength = (from: number, to: number): Numeric => {
  const [a, b] = [new CalendarDate(from).parts(), new CalendarDate(to).parts()];
  const isWithinYear =
    a.year === b.year || (a.year + 1 === b.year && (a.month > b.month || (a.month === b.month && a.day >= b.day)));
  if (isWithinYear) {
    if (a.year === b.year) return isLeap(a.year) ? 366 : 365;
    const leapDay = [a.year, b.year].filter(isLeap).map((year) => dateOf(year, 2, 29) as CalendarDate);
    return leapDay.some(({ day }) => day >= from && day <= to) ? 366 : 365;
  }
  const days = (dateOf(b.year + 1, 1, 1) as CalendarDate).day - (dateOf(a.year, 1, 1) as CalendarDate).day;
  return divide(days, b.year - a.year + 1)!;
};
