/** Definitions of reports written in code, whose names a compiler checks against a model. */
export type { CalculatedInput, ColumnInput, ParameterInput, ReportSettings, ReportWords } from './asked.ts';
export { BegunReport, report } from './begun-report.ts';
export { BegunRows } from './begun-rows.ts';
export { average, type ColumnTotal, count, countDistinct, maximum, minimum, sum } from './totals.ts';
export {
  type EntityName,
  type EntityShape,
  type ManyRelation,
  type ModelShape,
  type Path,
  type Target,
  type TypedModel,
  typedModel,
} from './typed-model.ts';
