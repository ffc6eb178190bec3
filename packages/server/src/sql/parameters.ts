import {
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
  const { name, timeZone, language } = plan.report;
  const report = { name, timeZone, language, runAt: new Moment(Date.now()) };
  for (const [parameter, formula] of Object.entries(plan.link?.values ?? {})) {
    const value = compileFormula(formula)(plainContext(report, outer));
    values[parameter] = value instanceof FormulaError ? null : value;
  }
  return values;
};
