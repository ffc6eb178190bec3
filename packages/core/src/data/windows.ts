import { CalendarDate, DAY, Moment } from '../value/date.ts';

/** Stretches of time that every `window` parameter knows, in milliseconds before the moment at which it ends. */
export const USUAL_WINDOWS = {
  hour: { label: 'Last hour', length: DAY / 24 },
  day: { label: 'Last 24 hours', length: DAY },
  week: { label: 'Last 7 days', length: 7 * DAY },
  fortnight: { label: 'Last two weeks', length: 14 * DAY },
  month: { label: 'Last 30 days', length: 30 * DAY },
  year: { label: 'Last 365 days', length: 365 * DAY },
} as const;

export type UsualWindow = keyof typeof USUAL_WINDOWS;
export const isUsualWindow = (name: string): name is UsualWindow => Object.hasOwn(USUAL_WINDOWS, name);

/** The ends of a range as it travels, `2025-06-01..2025-09-30`; either end may be left out. Null when it is no range. */
export const splitRange = (text: string): [string, string] | null => {
  const parts = text.split('..');
  return parts.length === 2 ? [parts[0]!.trim(), parts[1]!.trim()] : null;
};

/** The point in time at which a wall clock shows a day and time in an IANA zone. */
export const momentAt = (day: number, timeOfDay: number, timeZone: string): Moment => {
  const wall = day * DAY + timeOfDay;
  // The offset that holds at the guess may differ from the one at the result, close to a change of clocks.
  const first = new Moment(wall - (new Moment(wall).wallClock(timeZone) - wall));
  return new Moment(wall - (first.wallClock(timeZone) - first.ms));
};

/** Reads a moment as people write it in a zone: `2025-07-12` or `2025-07-12T14:30`. With a zone of its own it is taken as it is. */
export const readMoment = (text: string, timeZone: string): Moment | null => {
  if (/(?:Z|[+-]\d{2}(?::?\d{2})?)$/.test(text) && text.length > 10) return Moment.parse(text);
  const match = /^(\d{4,6}-\d{2}-\d{2})(?:[T ](\d{2}):(\d{2})(?::(\d{2}))?)?$/.exec(text.trim());
  const date = match && CalendarDate.parse(match[1]!);
  if (!date) return null;
  const [hours, minutes, seconds] = [match[2], match[3], match[4]].map((part) => Number(part ?? 0));
  if (hours! > 23 || minutes! > 59 || seconds! > 59) return null;
  return momentAt(date.day, ((hours! * 60 + minutes!) * 60 + seconds!) * 1000, timeZone);
};
