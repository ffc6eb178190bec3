import type { Parameter, Report } from '../definition/schema.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { didYouMean } from '../problems/suggest.ts';
import { CalendarDate } from '../value/date.ts';
import { parseNumeric } from '../value/number.ts';
import type { Value, WireValue } from '../value/value.ts';

export type GivenParameters = Record<string, WireValue | undefined>;

export interface ReadParameters {
  values: Record<string, Value>;
  problems: Problem[];
}

const EXPECTED: Record<Parameter['type'], string> = {
  text: 'text',
  number: 'a number such as 2025 or 12.5',
  date: 'a date such as 2025-07-12',
  choice: 'one of its choices',
};

const isBlank = (value: WireValue | undefined): boolean => value === undefined || value === null || value === '';

/** One parameter's value from what a reader, an address or a file gave. Undefined when it does not fit. */
export const readParameter = (parameter: Parameter, given: WireValue): Value | undefined => {
  switch (parameter.type) {
    case 'text':
      return String(given);
    case 'number':
      return parseNumeric(String(given).trim()) ?? undefined;
    case 'date':
      return CalendarDate.parse(String(given)) ?? undefined;
    case 'choice':
      return !parameter.choices || parameter.choices.some((c) => c.value === String(given)) ? String(given) : undefined;
    default:
      return parameter.type satisfies never;
  }
};

/**
 * Checks given values and fills in defaults; at design time sample values come first. A parameter without any value is
 * blank, and a problem when it is required.
 */
export const readParameters = (
  report: Report,
  given: GivenParameters,
  use: 'run' | 'design' = 'run',
): ReadParameters => {
  const values: Record<string, Value> = {};
  const problems: Problem[] = [];
  const names = report.parameters.map((p) => p.name);
  for (const name of Object.keys(given)) {
    if (!names.includes(name)) {
      const hint = didYouMean(name, names, names.length ? `It has ${names.join(', ')}.` : 'It has none.');
      problems.push(problem('unknown-parameter', { path: 'parameters' }, { name, hint }));
    }
  }
  for (const [i, parameter] of report.parameters.entries()) {
    const { name, label } = parameter;
    const fallback = use === 'design' ? (parameter.sample ?? parameter.default) : parameter.default;
    const raw = isBlank(given[name]) ? fallback : given[name];
    const place = { path: `parameters/${i}` };
    if (isBlank(raw)) {
      values[name] = null;
      if (parameter.required) problems.push(problem('missing-parameter', place, { name, label }));
      continue;
    }
    const value = readParameter(parameter, raw!);
    values[name] = value ?? null;
    if (value === undefined) {
      problems.push(
        problem('wrong-parameter', place, { label, value: String(raw), expected: EXPECTED[parameter.type] }),
      );
    }
  }
  return { values, problems };
};
