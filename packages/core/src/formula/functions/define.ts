import { type ProblemValue, phrase } from '../../problems/phrases.ts';
import { CalendarDate, DAY, Moment } from '../../value/date.ts';
import { add, divide, fromDouble as fromDoubleOrNull, isNumeric, type Numeric, toNumber } from '../../value/number.ts';
import { FormulaError, joinedText, List, type Value } from '../../value/value.ts';
import type { ArgumentType, EvaluationContext, FunctionDefinition } from './context.ts';

export type { ArgumentType, FunctionDefinition, FunctionTable } from './context.ts';

const TYPE_LETTERS: Record<string, ArgumentType> = {
  n: 'number',
  t: 'text',
  d: 'temporal',
  b: 'boolean',
  l: 'list',
  x: 'any',
};

/** `value:n digits:n?` or `condition:b*`: `?` may be left out, `*` may be repeated, up to 100 times. */
const readArguments = (source: string): Pick<FunctionDefinition, 'takes' | 'min' | 'max'> => {
  const parts = source.split(' ').filter(Boolean);
  const takes = parts.map((part) => {
    const [name = '', type = ''] = part.split(':');
    return [name, TYPE_LETTERS[type[0]!]!] as const;
  });
  const min = parts.filter((part) => !part.includes('?')).length;
  return { takes, min, max: source.endsWith('*') ? 100 : parts.length };
};

export const define = (
  takes: string,
  gives: FunctionDefinition['gives'],
  help: string,
  example: string,
  run: FunctionDefinition['run'],
): FunctionDefinition => ({ ...readArguments(takes), gives, help, example, run });

/** As {@link define}, for a function that asks what a value is: of an error it says FALSE. */
export const asks = (help: string, example: string, holds: (value: Value) => boolean): FunctionDefinition => ({
  ...define('value:x', 'boolean', help, example, ([x]) => holds(x ?? null)),
  seesErrors: true,
});

/** As {@link define}, for what one value of rows is enough for: all of them are meant. */
export const defineOver = (...given: Parameters<typeof define>): FunctionDefinition => ({
  ...define(...given),
  isOfRows: true,
});

/** Signature as help shows it: `ROUND(value; digits?)`. */
export const signatureOf = (name: string, definition: FunctionDefinition): string => {
  const list = definition.takes.map(([label], i) => (i < definition.min ? label : `${label}?`));
  return `${name}(${list.join('; ')}${definition.max > definition.takes.length ? '; …' : ''})`;
};

export const DIVISION_BY_ZERO = new FormulaError('#DIV/0!');
export const wrong = (detail: ProblemValue): FormulaError => new FormulaError('#VALUE!', detail);
export const outOfRange = (detail: ProblemValue): FormulaError => new FormulaError('#NUM!', detail);

/** Blank is 0. */
export const numeric = (value: Value | undefined): Numeric => (isNumeric(value) ? value : value === true ? 1 : 0);
/** As a double, for functions that the standard does not ask to be exact. */
export const double = (value: Value | undefined): number => toNumber(numeric(value));
/** Towards zero; past what a number holds exactly, the largest one that it does. */
export const whole = (value: Value | undefined, otherwise = 0): number =>
  value === undefined || value === null
    ? otherwise
    : Math.max(Number.MIN_SAFE_INTEGER, Math.min(Number.MAX_SAFE_INTEGER, Math.trunc(double(value))));
export const text = (value: Value | undefined): string => joinedText(value ?? null);
/** Characters as a reader counts them, by code point. */
export const characters = (value: Value | undefined): string[] => Array.from(text(value));

/** A double as a number of a formula, with the 15 digits that count; infinities and NaN are `#NUM!`. */
export const fromDouble = (value: number): Value =>
  Number.isNaN(value)
    ? outOfRange(phrase('e-not-a-number'))
    : (fromDoubleOrNull(value) ?? outOfRange(phrase('e-too-large')));

/** The wall clock of a date or a point in time in the report's zone, as a UTC date. Null for anything else. */
export const clock = (value: Value | undefined, context: EvaluationContext): Date | null => {
  if (value instanceof CalendarDate) return new Date(value.day * DAY);
  if (value instanceof Moment) return new Date(value.wallClock(context.report.timeZone));
  return null;
};

/** The day of a date or a point in time, counted from 1970-01-01. */
export const dayOf = (value: Value | undefined, context: EvaluationContext): number | null => {
  const date = clock(value, context);
  return date && Math.floor(date.getTime() / DAY);
};

/** The date of a day counted from 1970-01-01, from year 1 to 9999; there are no others. */
export const dayAt = (day: number): CalendarDate | FormulaError =>
  CalendarDate.at(day) ?? outOfRange(phrase('e-dates'));

/** Days between 1899-12-30, day 0 of spreadsheets, and 1970-01-01. */
const SERIAL_OF_1970 = 25_569;

/** The number of a day to spreadsheets, counted from 1899-12-30. */
export const serialOf = ({ day }: CalendarDate): number => day + SERIAL_OF_1970;

/** The number of a moment to spreadsheets, by the clocks of a zone: its time of day is the fraction. */
export const momentSerial = (moment: Moment, timeZone: string): Numeric =>
  add(SERIAL_OF_1970, divide(moment.wallClock(timeZone), DAY)!);

/** The moment at which the clocks of a zone show a time, in milliseconds as if they were those of UTC. */
export const momentAtWall = (wall: number, timeZone: string): Moment | FormulaError => {
  if (!Moment.at(wall)) return momentAt(wall);
  // The zone's distance is that of the time itself, found by trying once.
  const first = wall - (new Moment(wall).wallClock(timeZone) - wall);
  return momentAt(wall - (new Moment(first).wallClock(timeZone) - first));
};

/** The moment at milliseconds since 1970-01-01T00:00Z, from year 1 to 9999. */
export const momentAt = (ms: number): Moment | FormulaError => Moment.at(ms) ?? outOfRange(phrase('e-dates'));

export const dateOf = (year: number, month: number, day: number): CalendarDate | FormulaError => {
  const date = new Date(0);
  date.setUTCFullYear(year, month - 1, day);
  return dayAt(Math.floor(date.getTime() / DAY));
};

/** All values of the arguments, lists opened. */
export const opened = (values: readonly Value[]): Value[] =>
  values.flatMap((value) => (value instanceof List ? opened(value.values) : [value]));

/** The values of a list; anything else is a list of itself. */
export const listOf = (value: Value | undefined): readonly Value[] =>
  value instanceof List ? value.values : [value ?? null];

/** All values of the arguments, lists opened, blanks left out. */
export const flatten = (values: readonly Value[]): Exclude<Value, null>[] =>
  values.flatMap((v) => (v instanceof List ? flatten(v.values) : v === null ? [] : [v]));

/** As {@link flatten}, numbers only. */
export const numbers = (values: readonly Value[]): Numeric[] => flatten(values).filter(isNumeric);

/** The numbers of arguments and of the lists among them. A text in a list is passed over; given by itself it is an error. */
export const numbersGiven = (values: readonly Value[]): Numeric[] | FormulaError => {
  const alone = values.find((v) => v !== null && !isNumeric(v) && typeof v !== 'boolean' && !(v instanceof List));
  if (alone !== undefined) return wrong(text(alone).slice(0, 100));
  return numbers(values.map((v) => (typeof v === 'boolean' ? Number(v) : v)));
};
