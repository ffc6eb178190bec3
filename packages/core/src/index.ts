/** What those who build on Gaveta use of its engine. Everything else is its own and may change. */

// Planning and running a report over rows of one’s own.
export { type GivenParameters, type ReadParameters, readParameters } from './data/parameters.ts';
export { planReport, plansOf } from './data/plan.ts';
export type { PlanContext, ReportPlan } from './data/planned.ts';
export { RowProblem, type RowSource, type WireRow } from './data/rows.ts';
// Definitions: reading and checking them.
export { type Read, readDefinition, readDefinitionText, upgradeDefinition } from './definition/read.ts';
export { type Recipe, type Source, type Step, stepsSchema } from './definition/recipe.ts';
export {
  type Band,
  type Drawer,
  definitionJsonSchema,
  type Group,
  type Item,
  type ItemKind,
  type Parameter,
  parameterSchema,
  type Report,
} from './definition/schema.ts';
// Functions of a host’s own.
export {
  type AddedFunction,
  type AddedFunctions,
  defineFunction,
  type FunctionSurroundings,
  type PlainOf,
  type PlainValue,
} from './formula/functions/added.ts';
export type { LayoutWork } from './layout/run.ts';
export { LayoutCancelled } from './layout/running.ts';
// Data models.
export type { Entity, Field, Model, Relation } from './model/model.ts';
// Pages, and how they are drawn.
export * from './page/page.ts';
export { pageToSvg } from './page/svg.ts';
// What is wrong with them, in words.
export { type Problem, type ProblemCode, type ProblemPlace, problemLine, problemText } from './problems/problem.ts';
export type { StoredRecipe } from './recipe/stored.ts';
export type { OpenedRows } from './run/opened-rows.ts';
export { type RunOptions, type RunResult, runReport } from './run/run-report.ts';
export { AS_STARTED, type FoldState, turnFold } from './shape/folds.ts';
export { FontBook, type FontFile } from './text/fonts.ts';

// Values as formulas have them.
export { CalendarDate, Moment } from './value/date.ts';
export { Decimal } from './value/decimal.ts';
export { type DataType, FormulaError, type Value, type WireValue } from './value/value.ts';
