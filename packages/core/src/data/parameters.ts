import type { Parameter, Report } from '../definition/schema.ts';
import { checkFormula } from '../formula/check.ts';
import { compileFormula } from '../formula/compile.ts';
import { plainContext } from '../formula/functions/context.ts';
import { rangeOf } from '../model/parameter-types.ts';
import { constantScope } from '../model/scopes.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { didYouMean, hasPhrase } from '../problems/suggest.ts';
import { formatValue } from '../text/format.ts';
import { CalendarDate, Moment } from '../value/date.ts';
import { FormulaError, type Value } from '../value/value.ts';
import type { GivenValue } from './given-values.ts';
import { PARAMETER_READS, type ReadRange } from './read-parameter.ts';
import { readMoment } from './windows.ts';

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

/** What somebody gave under a name, and not what every object has. */
const own = (given: GivenParameters, name: string): GivenValue | undefined =>
  Object.hasOwn(given, name) ? given[name] : undefined;

const isBlank = (value: GivenValue | undefined): boolean =>
  value === undefined || value === null || value === '' || (Array.isArray(value) && value.length === 0);

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
    const value = PARAMETER_READS[type].read(given, parameter, {
      timeZone: this.report.timeZone,
      now: this.now,
      moment: (formula, part) => this.moment(this.worked(formula, `${path}/${part}`)),
    });
    if (value === undefined) return false;
    if (isRange(parameter, value)) this.range(name, value.from, value.to, value.words);
    else this.values[name] = value;
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

/** Types of ranges read ranges, and no others do. */
const isRange = (parameter: Parameter, value: Value | ReadRange): value is ReadRange => rangeOf(parameter) !== null;

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
      const hint = didYouMean(name, names, hasPhrase(names));
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
          problem(
            'wrong-parameter',
            { path },
            { label, value: String(raw), expected: PARAMETER_READS[parameter.type].expected },
          ),
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
