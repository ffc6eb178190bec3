import type { GivenValue } from '../data/given-values.ts';
import { momentAt } from '../data/windows.ts';
import type { Parameter } from '../definition/schema.ts';
import { rangeOf } from '../model/parameter-types.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { CalendarDate } from '../value/date.ts';
import { FormulaError, List, type Value, valueText } from '../value/value.ts';
import { type DeliveryScope, formulaValue } from './message.ts';
import { daysOf } from './periods.ts';
import type { DeliveredValue } from './schema.ts';

/** A value as it travels to a parameter. */
const asGiven = (value: Value): GivenValue => {
  if (value instanceof List) return value.values.map(valueText);
  if (typeof value === 'boolean') return value;
  return value === null ? null : value instanceof CalendarDate ? value.toString() : valueText(value);
};

/** What the parameters of a report get for one part of a delivery, and what is wrong with it. `row`: that of the part. */
export const deliveredValues = (
  values: Readonly<Record<string, DeliveredValue>>,
  parameters: readonly Parameter[],
  scope: DeliveryScope,
  row: readonly Value[] | null = null,
): { values: Record<string, GivenValue>; problems: Problem[] } => {
  const { runAt, timeZone } = scope.report;
  const today = new CalendarDate(Math.floor(runAt.wallClock(timeZone) / 86_400_000));
  const problems: Problem[] = [];
  const given: Record<string, GivenValue> = {};
  for (const [name, value] of Object.entries(values)) {
    if (typeof value !== 'object' || Array.isArray(value)) {
      given[name] = value as GivenValue;
      continue;
    }
    const { formula, period } = value as { formula?: string; period?: never };
    const parameter = parameters.find((one) => one.name === name);
    if (formula !== undefined) {
      const { value: found } = formulaValue(formula, scope, row, { date: today });
      // A blank value would show the rows of everybody.
      const isMissing = row !== null && (found === null || found === '');
      if (found instanceof FormulaError || isMissing)
        problems.push(
          problem('delivered-value-wrong', { path: `values/${name}` }, { name: parameter?.label ?? name, formula }),
        );
      else given[name] = asGiven(found);
      continue;
    }
    const { from, to } = daysOf(period!, today);
    const range = parameter ? rangeOf(parameter) : null;
    if (range === 'date') given[name] = `${from}..${to}`;
    else if (range === 'datetime') {
      const until = momentAt(to.day + 1, 0, timeZone);
      given[name] = `${momentAt(from.day, 0, timeZone)}..${until}`;
    } else if (parameter?.type === 'date') given[name] = from.toString();
    else
      problems.push(problem('delivered-period-wrong', { path: `values/${name}` }, { name: parameter?.label ?? name }));
  }
  return { values: given, problems };
};
