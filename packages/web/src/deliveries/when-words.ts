import type { CalendarDays, When } from '@gaveta/core/internal';
import type { TFunction } from 'i18next';

/** The 5th of January 2026, a Monday, as the first of the names that are told. */
const MONDAY = Date.UTC(2026, 0, 5);
const DAY = 86_400_000;

/** The names of the days of the week, Monday first. */
export const weekdayNames = (language: string, width: 'long' | 'short' = 'long'): string[] => {
  const name = new Intl.DateTimeFormat(language, { weekday: width, timeZone: 'UTC' });
  return Array.from({ length: 7 }, (_, i) => name.format(MONDAY + i * DAY));
};

export const monthNames = (language: string): string[] => {
  const name = new Intl.DateTimeFormat(language, { month: 'long', timeZone: 'UTC' });
  return Array.from({ length: 12 }, (_, i) => name.format(Date.UTC(2026, i, 5)));
};

const listed = (words: readonly string[], language: string): string =>
  new Intl.ListFormat(language, { type: 'conjunction' }).format(words);

/** Which one of a month; some languages have another form for Saturdays and Sundays. */
export const ordinalKey = (nth: number | 'last', weekday: number) =>
  weekday >= 6
    ? (`deliveries.ordinalWeekend_${nth as 1 | 2 | 3 | 4 | 5 | 'last'}` as const)
    : (`deliveries.ordinal_${nth as 1 | 2 | 3 | 4 | 5 | 'last'}` as const);

export const daysWords = (days: CalendarDays, t: TFunction, language: string): string => {
  switch (days.each) {
    case 'day':
      return t('deliveries.days_day', { count: days.every });
    case 'working-day':
      return t('deliveries.days_working');
    case 'week': {
      const names = weekdayNames(language);
      const on = [...days.on].sort((a, b) => a - b).map((day) => names[day - 1]!);
      return t('deliveries.days_week', { count: days.every, days: listed(on, language) });
    }
    case 'month': {
      const { months, on } = days;
      const names = monthNames(language);
      const of = months
        ? listed(
            [...months].sort((a, b) => a - b).map((month) => names[month - 1]!),
            language,
          )
        : t('deliveries.everyMonth');
      if ('day' in on) return t('deliveries.days_date', { day: on.day, months: of });
      if ('nth' in on) {
        const nth = t(ordinalKey(on.nth, on.weekday));
        return t('deliveries.days_nth', { nth, weekday: weekdayNames(language)[on.weekday - 1]!, months: of });
      }
      return t(`deliveries.days_${on.end}_${on.of === 'day' ? 'day' : 'working'}`, { months: of });
    }
    default:
      return days satisfies never;
  }
};

/** A time as the language writes it: `07:00` is 7:00 AM in some. */
const timeWords = (time: string, language: string): string =>
  new Intl.DateTimeFormat(language, { timeStyle: 'short', timeZone: 'UTC' }).format(Date.parse(`2026-01-05T${time}Z`));

/** When a delivery goes, in words. */
export const whenWords = (when: When, t: TFunction, language: string): string => {
  switch (when.kind) {
    case 'by-hand':
      return t('deliveries.when_byHand');
    case 'once': {
      const day = new Intl.DateTimeFormat(language, { dateStyle: 'long', timeZone: 'UTC' });
      return t('deliveries.when_once', { day: day.format(Date.parse(when.day)), time: timeWords(when.time, language) });
    }
    case 'calendar': {
      const { days, times } = when.calendar;
      return t('deliveries.when_calendar', {
        days: daysWords(days, t, language),
        times: listed(
          [...times].sort().map((time) => timeWords(time, language)),
          language,
        ),
      });
    }
    case 'event':
      return t('deliveries.when_event', { name: when.name });
    case 'rows':
      return t(`deliveries.when_rows_${when.again}`, { count: when.minutes });
    default:
      return when satisfies never;
  }
};
