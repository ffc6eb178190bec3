import type { Parameter, Report } from '../definition/schema.ts';
import { checkFormula } from '../formula/check.ts';
import { compileFormula } from '../formula/compile.ts';
import { plainContext } from '../formula/functions/context.ts';
import { rangeOf } from '../model/parameter-names.ts';
import { constantScope } from '../model/scopes.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { didYouMean } from '../problems/suggest.ts';
import { formatValue } from '../text/format.ts';
import { CalendarDate, Moment } from '../value/date.ts';
import { parseNumeric } from '../value/number.ts';
import { FormulaError, List, type Value, type WireValue } from '../value/value.ts';
import { isUsualWindow, readMoment, splitRange, USUAL_WINDOWS } from './windows.ts';

/** A parameter's value as it travels: several choices as a list, or as a text with commas between them. */
export type GivenValue = WireValue | readonly (string | number)[];
export type GivenParameters = Record<string, GivenValue | undefined>;

export interface ReadParameters {
  /**
   * By name; of a range also by `name.from` and `name.to`, and by its name what to call it. An error where the problems
   * say what is wrong with the parameter.
   */
  values: Record<string, Value>;
  problems: Problem[];
}

export interface ReadOptions {
  use?: 'run' | 'design';
  /** Values that the host's server set in the token. */
  host?: GivenParameters;
  /** The moment of the run, in milliseconds since 1970. */
  now?: number;
}

const EXPECTED: Record<Parameter['type'], string> = {
  text: 'text',
  number: 'a number such as 2025 or 12.5',
  date: 'a date such as 2025-07-12',
  dates: 'two dates such as 2025-06-01..2025-09-30, the first not after the second',
  window: `one of ${Object.keys(USUAL_WINDOWS).join(', ')} or two times such as 2025-07-12T08:00..2025-07-12T18:00`,
  boolean: 'true or false',
  choice: 'one of its choices',
  choices: 'some of its choices',
};

/** What somebody gave under a name, and not what every object has. */
const own = (given: GivenParameters, name: string): GivenValue | undefined =>
  Object.hasOwn(given, name) ? given[name] : undefined;

const isBlank = (value: GivenValue | undefined): boolean =>
  value === undefined || value === null || value === '' || (Array.isArray(value) && value.length === 0);

/** Several values of one parameter: a list, or a text in which commas part them; a comma in a value is written `\,`. */
export const splitChoices = (given: GivenValue): string[] =>
  Array.isArray(given)
    ? given.map(String)
    : String(given)
        .split(/(?<!\\),/)
        .map((part) => part.trim().replace(/\\,/g, ','))
        .filter(Boolean);

export const joinChoices = (values: readonly string[]): string => values.map((v) => v.replace(/,/g, '\\,')).join(',');

/** What of a report decides on its parameters. */
export type ParameterReport = Pick<Report, 'name' | 'language' | 'timeZone' | 'parameters'>;

/** Reads parameters of one report. Formulas in them may read the parameters before. */
class ParameterReader {
  readonly values: Record<string, Value> = Object.create(null);
  readonly problems: Problem[] = [];

  constructor(
    private readonly report: ParameterReport,
    private readonly now: number,
  ) {}

  /** The value of a formula; blank when it fails, which is a problem. */
  private worked(source: string, place: string): Value {
    const checked = checkFormula(source, constantScope(this.report.parameters));
    if (!checked.ok) {
      this.problems.push(...checked.problems.map((p) => ({ ...p, place: { ...p.place, path: place } })));
      return null;
    }
    const { name, timeZone, language } = this.report;
    const value = compileFormula(checked.formula)(
      plainContext({ name, timeZone, language, runAt: new Moment(this.now) }, this.values),
    );
    if (!(value instanceof FormulaError)) return value;
    this.problems.push(problem('wrong-default', { path: place }, { name: source, detail: value.detail || value.code }));
    return null;
  }

  private moment(value: Value): Moment | null {
    if (value instanceof CalendarDate) return readMoment(value.toString(), this.report.timeZone);
    return value instanceof Moment ? value : null;
  }

  private words(from: Value, to: Value): string {
    const { timeZone, language } = this.report;
    const show = (value: Value): string =>
      value === null
        ? '…'
        : formatValue(value, value instanceof Moment ? 'd mmm yyyy hh:mm' : 'd mmm yyyy', { timeZone, language });
    return from === null && to === null ? '' : `${show(from)} – ${show(to)}`;
  }

  private range(name: string, from: Value, to: Value, words = this.words(from, to)): void {
    this.values[name] = words === '' ? null : words;
    this.values[`${name}.from`] = from;
    this.values[`${name}.to`] = to;
  }

  /** Takes a given value; false when it does not fit. */
  take(parameter: Parameter, given: GivenValue, path: string): boolean {
    const { name, type } = parameter;
    if (type === 'dates') {
      const ends = splitRange(String(given));
      const [from, to] = (ends ?? ['?', '?']).map((end) => (end === '' ? null : CalendarDate.parse(end)));
      if (!ends || (ends[0] !== '' && !from) || (ends[1] !== '' && !to) || (from && to && from.day > to.day))
        return false;
      this.range(name, from ?? null, to ?? null);
      return true;
    }
    if (type === 'window') return this.window(parameter, String(given), path);
    const value = readSingle(parameter, given);
    if (value !== undefined) this.values[name] = value;
    return value !== undefined;
  }

  private window(parameter: Parameter, given: string, path: string): boolean {
    const { name, windows = [], asOf } = parameter;
    const end = asOf === undefined ? new Moment(this.now) : this.moment(this.worked(asOf, `${path}/asOf`));
    const own = windows.findIndex((w) => w.value === given);
    if (own >= 0) {
      const { from, until, label } = windows[own]!;
      const start = this.moment(this.worked(from, `${path}/windows/${own}/from`));
      const stop = until === undefined ? end : this.moment(this.worked(until, `${path}/windows/${own}/until`));
      this.range(name, start, stop, label);
      return true;
    }
    if (isUsualWindow(given)) {
      const { label, length } = USUAL_WINDOWS[given];
      this.range(name, end && new Moment(end.ms - length), end, label);
      return true;
    }
    const ends = splitRange(given);
    const [from, to] = (ends ?? ['?', '?']).map((part) =>
      part === '' ? null : readMoment(part, this.report.timeZone),
    );
    if (!ends || (ends[0] !== '' && !from) || (ends[1] !== '' && !to) || (from && to && from.ms >= to.ms)) return false;
    this.range(name, from ?? null, to ?? null);
    return true;
  }

  /** What a parameter has when nothing was given. */
  byFormula(parameter: Parameter, path: string): boolean {
    const { name, defaultFormula, defaultUntil } = parameter;
    if (defaultFormula === undefined) return false;
    const value = this.worked(defaultFormula, `${path}/defaultFormula`);
    const range = rangeOf(parameter);
    if (!range) {
      this.values[name] = value;
      return value !== null;
    }
    const until = defaultUntil === undefined ? null : this.worked(defaultUntil, `${path}/defaultUntil`);
    if (range === 'datetime') this.range(name, this.moment(value), this.moment(until));
    else this.range(name, value instanceof CalendarDate ? value : null, until instanceof CalendarDate ? until : null);
    return value !== null;
  }

  /** Makes whatever reads the parameter an error: a value that is wrong is no reason to show everything. */
  refuse(parameter: Parameter): void {
    const { name, label } = parameter;
    const error = new FormulaError('#VALUE!', label);
    this.values[name] = error;
    if (rangeOf(parameter)) Object.assign(this.values, { [`${name}.from`]: error, [`${name}.to`]: error });
  }

  blank(parameter: Parameter): void {
    if (rangeOf(parameter)) this.range(parameter.name, null, null);
    else this.values[parameter.name] = null;
  }
}

/** A value that is one: anything but a range. Undefined when it does not fit. */
const readSingle = (parameter: Parameter, given: GivenValue): Value | undefined => {
  const { type, choices, of } = parameter;
  if (Array.isArray(given) && type !== 'choices') return undefined;
  const chosen = (text: string): Value | undefined => {
    if (choices && !choices.some((c) => c.value === text)) return undefined;
    return of === 'number' ? (parseNumeric(text) ?? undefined) : text;
  };
  switch (type) {
    case 'text':
      return String(given);
    case 'number':
      return parseNumeric(String(given).trim()) ?? undefined;
    case 'date':
      return CalendarDate.parse(String(given)) ?? undefined;
    case 'boolean':
      return String(given) === 'true' ? true : String(given) === 'false' ? false : undefined;
    case 'choice':
      return chosen(String(given));
    case 'choices': {
      const values = splitChoices(given).map(chosen);
      return values.includes(undefined) ? undefined : new List(values as Value[]);
    }
    case 'dates':
    case 'window':
      return undefined;
    default:
      return type satisfies never;
  }
};

/** Whether a value fits a parameter, as a form asks before it sends it. */
export const fitsParameter = (report: ParameterReport, parameter: Parameter, given: GivenValue): boolean => {
  if (isBlank(given)) return !parameter.required;
  const { problems } = readParameters({ ...report, parameters: [parameter] }, { [parameter.name]: given });
  return !problems.some((p) => p.code === 'wrong-parameter');
};

/**
 * Checks given values and fills in defaults; at design time sample values come first. A parameter without any value is
 * blank, and a problem when it is required.
 */
export const readParameters = (
  report: ParameterReport,
  given: GivenParameters,
  options: ReadOptions = {},
): ReadParameters => {
  const { use = 'run', host = {}, now = Date.now() } = options;
  const reader = new ParameterReader(report, now);
  const { values, problems } = reader;
  const names = report.parameters.map((p) => p.name);
  for (const name of Object.keys(given)) {
    if (!names.includes(name)) {
      const hint = didYouMean(name, names, names.length ? `It has ${names.join(', ')}.` : 'It has none.');
      problems.push(problem('unknown-parameter', { path: 'parameters' }, { name, hint }));
    }
  }
  for (const [i, parameter] of report.parameters.entries()) {
    const { name, label, fromHost } = parameter;
    const path = `parameters/${i}`;
    if (fromHost && !isBlank(own(given, name))) problems.push(problem('parameter-from-host', { path }, { label }));
    const before = problems.length;
    const asked = own(fromHost ? host : given, name);
    const sample = use === 'design' ? parameter.sample : undefined;
    const raw = !isBlank(asked) ? asked : !isBlank(sample) ? sample : parameter.default;
    if (!isBlank(raw)) {
      if (!reader.take(parameter, raw!, path)) {
        reader.blank(parameter);
        problems.push(
          problem('wrong-parameter', { path }, { label, value: String(raw), expected: EXPECTED[parameter.type] }),
        );
      }
    } else if (!reader.byFormula(parameter, path)) {
      reader.blank(parameter);
      if (parameter.required) problems.push(problem('missing-parameter', { path }, { name, label }));
    }
    if (problems.length > before) reader.refuse(parameter);
  }
  return { values, problems };
};
