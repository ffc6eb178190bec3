import type { Parameter } from '../definition/schema.ts';
import type { ParameterType } from '../model/parameter-types.ts';
import { type Phrase, phrase } from '../problems/phrases.ts';
import { CalendarDate, Moment } from '../value/date.ts';
import { parseNumeric } from '../value/number.ts';
import { List, type Value } from '../value/value.ts';
import { type GivenValue, splitChoices } from './given-values.ts';
import { isUsualWindow, readMoment, splitRange, USUAL_WINDOWS } from './windows.ts';

/** A range, with words for it where it has a name; null ends are open. */
export interface ReadRange {
  from: Value;
  to: Value;
  words?: string;
}

/** What reading a value may ask of whoever reads all of them. */
export interface ParameterReading {
  timeZone: string;
  /** Of the run, in milliseconds since 1970. */
  now: number;
  /** The moment that a formula of the parameter gives; blank, with the problem noted, when it gives none. `part`: its path there. */
  moment: (formula: string, part: string) => Moment | null;
}

/** How values of one type are read. */
interface ParameterRead {
  /** What a value must be, in words. */
  expected: Phrase;
  /** The value; undefined when it does not fit. */
  read: (given: GivenValue, parameter: Parameter, reading: ParameterReading) => Value | ReadRange | undefined;
}

/** Of a type that takes one value alone. */
const single =
  (read: (text: string, parameter: Parameter) => Value | undefined): ParameterRead['read'] =>
  (given, parameter) =>
    Array.isArray(given) ? undefined : read(String(given), parameter);

const chosen = (text: string, { choices, of }: Parameter): Value | undefined => {
  if (choices && !choices.some((c) => c.value === text)) return undefined;
  return of === 'number' ? (parseNumeric(text) ?? undefined) : text;
};

/** Two ends, of which either may be left out; undefined when one cannot be read. */
const ends = <V extends Value>(
  given: GivenValue,
  read: (end: string) => V | null,
): [V | null, V | null] | undefined => {
  const texts = splitRange(String(given));
  if (!texts) return undefined;
  const [from, to] = texts.map((end) => (end === '' ? null : read(end))) as [V | null, V | null];
  return (texts[0] !== '' && !from) || (texts[1] !== '' && !to) ? undefined : [from, to];
};

const readDates: ParameterRead['read'] = (given) => {
  const read = ends(given, (end) => CalendarDate.parse(end));
  if (!read) return undefined;
  const [from, to] = read;
  return from && to && from.day > to.day ? undefined : { from, to };
};

const readWindow: ParameterRead['read'] = (given, { windows = [], asOf }, { timeZone, now, moment }) => {
  const name = String(given);
  const end = asOf === undefined ? new Moment(now) : moment(asOf, 'asOf');
  const own = windows.findIndex(({ value }) => value === name);
  if (own >= 0) {
    const { from, until, label } = windows[own]!;
    const start = moment(from, `windows/${own}/from`);
    return { from: start, to: until === undefined ? end : moment(until, `windows/${own}/until`), words: label };
  }
  if (isUsualWindow(name)) {
    const { label, length } = USUAL_WINDOWS[name];
    return { from: end && new Moment(end.ms - length), to: end, words: label };
  }
  const read = ends(given, (text) => readMoment(text, timeZone));
  if (!read) return undefined;
  const [from, to] = read;
  return from && to && from.ms >= to.ms ? undefined : { from, to };
};

export const PARAMETER_READS: { readonly [K in ParameterType]: ParameterRead } = {
  text: { expected: phrase('type-text'), read: single((text) => text) },
  number: { expected: phrase('expects-number'), read: single((text) => parseNumeric(text.trim()) ?? undefined) },
  date: { expected: phrase('expects-date'), read: single((text) => CalendarDate.parse(text) ?? undefined) },
  dates: {
    expected: phrase('expects-dates'),
    read: readDates,
  },
  window: {
    expected: phrase('expects-window', { names: Object.keys(USUAL_WINDOWS).join(', ') }),
    read: readWindow,
  },
  boolean: {
    expected: phrase('expects-boolean'),
    read: single((text) => (text === 'true' ? true : text === 'false' ? false : undefined)),
  },
  choice: { expected: phrase('expects-choice'), read: single(chosen) },
  choices: {
    expected: phrase('expects-choices'),
    read: (given, parameter) => {
      const values = splitChoices(given).map((text) => chosen(text, parameter));
      return values.includes(undefined) ? undefined : new List(values as Value[]);
    },
  },
};
