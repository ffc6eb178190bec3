import { stepsSchema } from '../definition/recipe.ts';
import { z } from '../definition/zod.ts';
import { CalendarDate, isTimeZone } from '../value/date.ts';

/** Most times that a delivery may go at on one day. */
const MOST_TIMES = 48;
/** Most days that are left out. */
const MOST_LEFT_OUT = 400;

/** A day as ISO 8601 writes it, `2026-12-25`. */
export const daySchema = z.string().refine((text) => CalendarDate.parse(text) !== null, 'a day as 2026-12-25');
/** A day of every year, `12-25`. */
const yearlyDay = z
  .string()
  // A year that has a 29th of February.
  .refine((text) => /^\d{2}-\d{2}$/.test(text) && CalendarDate.parse(`2024-${text}`) !== null, 'a day as 12-25');
/** A time of the day, `07:00`. */
export const timeSchema = z.string().regex(/^(?:[01]\d|2[0-3]):[0-5]\d$/, 'a time as 07:00');
export const zoneSchema = z.string().max(60).refine(isTimeZone, 'a time zone as Europe/Lisbon');

/** 1 is Monday, 7 Sunday, as in ISO 8601. */
const weekday = z.number().int().min(1).max(7);
const every = z.number().int().min(1).max(120).default(1);

/** On which days of the calendar. */
export const daysSchema = z.union([
  z.strictObject({ each: z.literal('day'), every }),
  /** From Monday to Friday, but for those that are left out. */
  z.strictObject({ each: z.literal('working-day') }),
  z.strictObject({ each: z.literal('week'), every, on: z.array(weekday).min(1).max(7) }),
  z.strictObject({
    each: z.literal('month'),
    /** Months by their numbers from 1; all when left out. */
    months: z.array(z.number().int().min(1).max(12)).min(1).max(12).optional(),
    on: z.union([
      /** In months that are shorter: on their last day, or not at all. */
      z.strictObject({ day: z.number().int().min(1).max(31), short: z.enum(['last', 'skip']).default('last') }),
      z.strictObject({ nth: z.union([z.number().int().min(1).max(5), z.literal('last')]), weekday }),
      z.strictObject({ end: z.enum(['first', 'last']), of: z.enum(['day', 'working-day']) }),
    ]),
  }),
]);

/** What is done about times that passed while nothing ran: one delivery for all of them, one for each, or none. */
export const MISSED = ['once', 'all', 'skip'] as const;
export type Missed = (typeof MISSED)[number];

/** Days and times in a zone. */
export const calendarSchema = z.strictObject({
  days: daysSchema,
  times: z.array(timeSchema).min(1).max(MOST_TIMES),
  zone: zoneSchema,
  /** The first and last day that count; “every second week” counts from the first one. */
  from: daySchema.optional(),
  until: daySchema.optional(),
  /** Days on which nothing goes: `2026-12-25`, or `12-25` for every year. */
  leftOut: z
    .array(z.union([daySchema, yearlyDay]))
    .max(MOST_LEFT_OUT)
    .default([]),
  missed: z.enum(MISSED).default('once'),
});
export type Calendar = z.output<typeof calendarSchema>;
export type CalendarDays = Calendar['days'];

/** When a delivery goes. */
export const whenSchema = z.union([
  /** Only when somebody says so. */
  z.strictObject({ kind: z.literal('by-hand') }),
  z.strictObject({ kind: z.literal('once'), day: daySchema, time: timeSchema, zone: zoneSchema }),
  z.strictObject({ kind: z.literal('calendar'), calendar: calendarSchema }),
  /** When the application that shows Gaveta tells of an event of the name. */
  z.strictObject({ kind: z.literal('event'), name: z.string().trim().min(1).max(120) }),
  /** When rows are there that were not when they were looked for the last time. */
  z.strictObject({
    kind: z.literal('rows'),
    steps: stepsSchema,
    /** The first one of them, or each further one as well. */
    again: z.enum(['first', 'each']).default('first'),
    /** Minutes between two looks. */
    minutes: z.number().int().min(1).max(10_080).default(15),
  }),
]);
export type When = z.output<typeof whenSchema>;
export type WhenKind = When['kind'];
