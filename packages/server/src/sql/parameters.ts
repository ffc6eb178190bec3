import {
  type Checked,
  compileFormula,
  type GivenParameters,
  Moment,
  plainContext,
  type ReportPlan,
  readParameters,
  type Value,
} from '@gaveta/core/internal';

/**
 * Parameters of a plan that do not depend on rows: given ones, those of the host, linked constants, defaults. `path`: the
 * plans around it, outermost first. An error where a link or default gives one.
 */
export const parameterValues = (
  path: readonly ReportPlan[],
  given: Record<string, Value>,
  host: GivenParameters,
): Record<string, Value> => {
  const plan = path.at(-1)!;
  if (path.length === 1) return given;
  const outer = parameterValues(path.slice(0, -1), given, host);
  const { values } = readParameters(plan.report, {}, { host });
  if (plan.link?.outer) return values;
  for (const [parameter, formula] of Object.entries(plan.link?.values ?? {})) {
    values[parameter] = constantValue(formula, plan, outer);
  }
  return values;
};

/** The value of a formula that reads no row. */
export const constantValue = (
  formula: Checked,
  { report: { name, timeZone, language } }: Pick<ReportPlan, 'report'>,
  parameters: Record<string, Value>,
): Value =>
  compileFormula(formula)(plainContext({ name, timeZone, language, runAt: new Moment(Date.now()) }, parameters));
