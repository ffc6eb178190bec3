import {
  type Checked,
  compileFormula,
  FormulaError,
  Moment,
  plainContext,
  type ReportPlan,
  readParameters,
  type Value,
} from '@gaveta/core';

/** Parameters of a plan that do not depend on rows: given ones, linked constants, defaults. `path`: the plans around it, outermost first. */
export const parameterValues = (path: readonly ReportPlan[], given: Record<string, Value>): Record<string, Value> => {
  const plan = path.at(-1)!;
  if (path.length === 1) return given;
  const outer = parameterValues(path.slice(0, -1), given);
  const { values } = readParameters(plan.report, {});
  if (plan.link?.outer) return values;
  for (const [parameter, formula] of Object.entries(plan.link?.values ?? {})) {
    const value = constantValue(formula, plan, outer);
    values[parameter] = value instanceof FormulaError ? null : value;
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
