export { type LateLibrary, lateLibrary } from './base/late-library.ts';
export { CHART_TYPES, type ChartType } from './chart/chart.ts';
export { CHART_PALETTES, PALETTE } from './chart/colors.ts';
export { drawChart } from './chart/draw.ts';
export { GAUGE_TYPES, type GaugeType } from './chart/gauge.ts';
export { CHART_KINDS } from './chart/kinds.ts';
export { STATE_SHAPES, type StateShape } from './chart/state.ts';
export { type MeasureText, measuredWriter } from './chart/writer.ts';
export {
  type CheckFormulas,
  checkFormulas,
  takeValues,
  type ValuesTaken,
  valueOfProblem,
  withValues,
} from './checking/checked-report.ts';
export { comparePages, type Difference, keptPage } from './checking/compare-pages.ts';
export * from './checking/compare-revisions.ts';
export * from './content/content.ts';
export * from './content/pieces.ts';
export * from './contract/delivery-states.ts';
export { fileOfThing } from './contract/file-names.ts';
export { lookIntoToken, type TokenFinding, type TokenSeen } from './contract/look-into-token.ts';
export {
  ACCESS_LEVELS,
  ACTS,
  type AccessLevel,
  type Act,
  LIBRARY_KINDS,
  type LibraryKind,
  PUBLISHINGS,
  type Publishing,
  RIGHTS,
  type Right,
  TRIED_RIGHTS,
} from './contract/rights.ts';
export { type Completion, completionsFor, offeredEverywhere } from './data/completions.ts';
export * from './data/connections.ts';
export { type GivenValue, joinChoices, splitChoices } from './data/given-values.ts';
export {
  type Column,
  columnType,
  type Grouping,
  hasTotals,
  Level,
  type LevelSort,
  type SubreportLink,
  type TotalPlan,
  type TotalScope,
} from './data/level.ts';
export type { NameMeaning, NameUse } from './data/names.ts';
export {
  fitsParameter,
  type GivenParameters,
  type ReadParameters,
  readParameters,
} from './data/parameters.ts';
export { hasFolds, hasSwitches, planReport, plansOf } from './data/plan.ts';
export { groupOrder } from './data/plan-rows.ts';
export type { PlanContext, PlannedFormula, PlannedItem, ReportPlan } from './data/planned.ts';
export { conjuncts, isConstant, isPushable, joinConjuncts, PUSHABLE_FUNCTIONS } from './data/pushable.ts';
export { PAGE_VALUES, type PageValueName } from './data/reach.ts';
export { type ReportModel, ROW_NUMBER, recipeContext, reportModel } from './data/report-model.ts';
export { decodeRows, type Row, type RowFeed, RowProblem, type RowSource, type WireRow } from './data/rows.ts';
export { levelKeys, ROWS_VERSION, rowsSignature } from './data/signature.ts';
export { totalsIn } from './data/total.ts';
export { isUsualWindow, momentAt, readMoment, splitRange, USUAL_WINDOWS, type UsualWindow } from './data/windows.ts';
export { type Read, readDefinition, readDefinitionText, upgradeDefinition } from './definition/read.ts';
export * from './definition/recipe.ts';
export * from './definition/schema.ts';
export { pageOfSet, pagesFrom, setOf, startsPages } from './definition/sets.ts';
export * from './definition/walk.ts';
export { dayAt, dueOf, nextTimes } from './delivery/calendar.ts';
export { type DeliveryContext, deliveryProblems, scopesOf } from './delivery/check.ts';
export {
  type DeliveryScope,
  factParameters,
  filledMessage,
  formulaValue as deliveryValue,
  messageProblems,
  piecesOf,
} from './delivery/message.ts';
export { daysOf, PERIODS, type Period } from './delivery/periods.ts';
export * from './delivery/schema.ts';
export { deliveredValues } from './delivery/values.ts';
export * from './delivery/when.ts';
export { themeEdit } from './edit/apply-theme.ts';
export { type BoardItem, evenOut, LINE_UPS, type LineUp, lineUp, sameSize } from './edit/arrange.ts';
export {
  type Arrangement,
  AS_MADE,
  arranged,
  type ReaderColumn,
  type ReaderFilter,
  type ReaderSort,
  readerColumns,
} from './edit/arranging.ts';
export { copyBand, freeBands, moveBand } from './edit/bands.ts';
export * from './edit/board.ts';
export { type Change, changesBetween } from './edit/changes.ts';
export { type ChartGroupPart, type ChartPart, chartParts } from './edit/chart.ts';
export { designChecks, overlapsOn, type Seen, slowFormulas } from './edit/checks.ts';
export { type Clip, clipOf, pasteClip, pasteLook, readClip } from './edit/clipboard.ts';
export * from './edit/columns.ts';
export { copyDrawer } from './edit/copying.ts';
export { CROSSTAB_PARTS, type CrosstabPart, moveGroup, partFor, withField } from './edit/crosstab.ts';
export * from './edit/drawers.ts';
export { type ColumnLanding, columnLanding, type Dropped, dropFields, type Landing } from './edit/dropping.ts';
export * from './edit/edit.ts';
export { calculatedFields, type FormulaFacts, formulaFacts, type TotalFacts } from './edit/facts.ts';
export { foldHeading } from './edit/folding.ts';
export * from './edit/grouping.ts';
export { type ChosenField, type GuidedChoices, guidedReport, reportFrame, usualSort } from './edit/guided.ts';
export { withHeld } from './edit/held.ts';
export {
  emptyHistory,
  type History,
  type PackedHistory,
  packHistory,
  record,
  redo,
  undo,
  unpackHistory,
} from './edit/history.ts';
export * from './edit/house.ts';
export { copyItems, freeName, freshId, freshPanel, identifierOf, idMaker, usedIds } from './edit/ids.ts';
export { fieldPartsOf, intoItem } from './edit/into-item.ts';
export type { ReportNames } from './edit/item-edit.ts';
export {
  fieldsAlong,
  type GroupingItem,
  groupBy,
  groupPer,
  type ItemField,
  isGrouping,
  itemFields,
  ownRowsOf,
  totalOf,
} from './edit/item-fields.ts';
export { groupingCompletions, groupingProblems } from './edit/item-formulas.ts';
export * from './edit/laid-bands.ts';
export { linksFor } from './edit/links.ts';
export { type Mend, mendFor } from './edit/mends.ts';
export { keyLinks, type NestingRows, nestedAtFirst, nestingRows } from './edit/nesting-rows.ts';
export { type OwnTheme, ownThemes } from './edit/own-themes.ts';
export {
  mostBandHeight,
  overflows,
  PAPER_CHANGES,
  type PaperChange,
  pageOfBand,
  paperEdit,
  roomIn,
  roomOf,
} from './edit/paper.ts';
export * from './edit/placing.ts';
export {
  filterByPress,
  isPressFilterOn,
  type PressedItem,
  type PressFilter,
  pressFilters,
} from './edit/pressing.ts';
export { type Probe, probeProblems, probeReport, probeValues } from './edit/probe.ts';
export { renamePart, usesOf } from './edit/renaming.ts';
export { modelsOf, repoint } from './edit/repoint.ts';
export { rowsUsers } from './edit/rows-users.ts';
export {
  addAfter,
  addSet,
  drawerBefore,
  isBesidePrevious,
  joinSet,
  moveInRows,
  putBeside,
  type SetPlace,
} from './edit/sets.ts';
export { GAUGE_PARTS, type GaugePart, MAP_PARTS, type MapPart } from './edit/small-figures.ts';
export { type Guide, MOVING, type Snapped, type SnapSettings, snapTo } from './edit/snapping.ts';
export { changeStyle, itemsOfStyle, removeStyle, renameStyle, styleFrom } from './edit/styles.ts';
export { TEMPLATES, type Template, type TemplateChoices, templateReport } from './edit/templates.ts';
export * from './edit/themes.ts';
export { type TotalParts, totalFormula, totalParts, totalScopes } from './edit/totals.ts';
export { turnInto, turnsInto } from './edit/turning.ts';
export {
  EMBEDDING_VERSION,
  FRAME_EVENTS,
  type FrameCalls,
  type FrameEvent,
  type FrameMethod,
  type HostAction,
  type HostSettings,
  type HostValues,
  LOOK_TOKENS,
  type LookToken,
  PARTS,
  type Part,
  readToFrame,
  readToHost,
  type ToFrame,
  type ToHost,
} from './embedding/messages.ts';
export { type ExplainOptions, explainReport } from './explain/explain-report.ts';
export type {
  AskedValue,
  ExplainedFormula,
  ExplainedTotal,
  Explanation,
  ListedRow,
  RowsCut,
} from './explain/explanation.ts';
export { needsRows } from './explain/targets.ts';
export { checkFormula, type FormulaScope, functionNames } from './formula/check.ts';
export { type Checked, type CheckedType, nodes } from './formula/checked.ts';
export { compileFormula } from './formula/compile.ts';
export {
  type AddedFunction,
  type AddedFunctions,
  addedFunctions,
  defineFunction,
  type FunctionSurroundings,
  type PlainOf,
  type PlainValue,
} from './formula/functions/added.ts';
export { type Compiled, type EvaluationContext, NO_PAGE, plainContext } from './formula/functions/context.ts';
export {
  describedFunctions,
  type FunctionFacts,
  fromDescribed,
  type HostFunction,
} from './formula/functions/described.ts';
export {
  Accumulator,
  FUNCTION_GROUPS,
  FUNCTIONS,
  type FunctionDefinition,
  type FunctionTable,
  isCount,
  ROW_FUNCTIONS,
  SPECIAL_FORMS,
  signatureOf,
  TOTAL_STATES,
  TOTALS,
  type TotalName,
} from './formula/functions/index.ts';
export { parseFormula } from './formula/parse.ts';
export { withNames } from './formula/seen-names.ts';
export { writtenName } from './formula/tokens.ts';
export { checkShape } from './items/check/shape.ts';
export { itemWords, newItem, shownFormula, startSize, TURNABLE, type TurnableKind } from './items/edits.ts';
export { pictureProblem } from './items/picture/pictures.ts';
export { pieceWords } from './items/text/edit.ts';
export { DEFAULT_LOOK } from './layout/default-look.ts';
export type { LateFill } from './layout/late-fill.ts';
export { LAYOUT_LIMITS, type LayoutLimits } from './layout/limits.ts';
export { prepareReport } from './layout/prepare.ts';
export { POINTS, type PreparedReport } from './layout/prepared.ts';
export {
  type LayoutOptions,
  type LayoutResult,
  type LayoutWork,
  layoutReport,
  PAGE_FORMS,
  type PageForm,
} from './layout/run.ts';
export { LayoutCancelled } from './layout/running.ts';
export { type LayoutTrace, TraceDiffers } from './layout/trace.ts';
export type { RowListener } from './listing/list-rows.ts';
export type { ListedColumn, ListedSet } from './listing/listed.ts';
export { listingOf, type SetSource } from './listing/listing.ts';
export { followersOf } from './model/followers.ts';
export { relationAt } from './model/lookup-step.ts';
export * from './model/model.ts';
export { parameterAt } from './model/parameter-names.ts';
export { type ParameterType, parameterType, rangeOf } from './model/parameter-types.ts';
export { constantScope, rowScope } from './model/scopes.ts';
export * from './page/page.ts';
export { readablePage } from './page/readable.ts';
export { type LaidRegion, pageSize, readRegions } from './page/regions.ts';
export { marksToSvg, pageToMarks, pageToSvg, type SvgPage } from './page/svg.ts';
export { type FoundPiece, type FoundWords, findOnPage, plainWords, wordsOfPage } from './page/words.ts';
export {
  fillWords,
  PHRASES,
  type Phrase,
  type PhraseCode,
  type ProblemData,
  type ProblemValue,
  phrase,
  saidValue,
} from './problems/phrases.ts';
export {
  type Problem,
  type ProblemCode,
  type ProblemPlace,
  problem,
  problemLine,
  problemText,
} from './problems/problem.ts';
export { asSentence, fillDetail, SaidError } from './problems/said-error.ts';
export { didYouMean, nearest, therePhrase } from './problems/suggest.ts';
export { PROBLEM_WORDS } from './problems/words.ts';
export { type AskedChoices, type ChoicePart, planChoices } from './recipe/choices.ts';
export { circleThrough, recipesTaken } from './recipe/circle.ts';
export { conditionOf } from './recipe/condition-of.ts';
export * from './recipe/conditions.ts';
export { keepingAway } from './recipe/keeping-away.ts';
export { PERIOD_FORMATS, type StepPeriod } from './recipe/periods.ts';
export * from './recipe/plan.ts';
export type * from './recipe/planned.ts';
export { isWritten, stepsOf, tablesOf } from './recipe/shape.ts';
export { mendStep } from './recipe/steps.ts';
export type { StoredRecipe } from './recipe/stored.ts';
export { lackOf } from './recipe/unfinished.ts';
export { comparedColumn, type WrittenPart, writtenParameters, writtenParts } from './recipe/written-parts.ts';
export { type ContentReportOptions, type ContentReportResult, contentReport } from './run/content-report.ts';
export { type ListReportOptions, type ListReportResult, listReport, type ReportListing } from './run/list-report.ts';
export type { OpenedRows } from './run/opened-rows.ts';
export { type RunOptions, type RunResult, runReport } from './run/run-report.ts';
export {
  linkedTexts,
  type PartRows,
  PartTooLarge,
  planSplit,
  type Split,
  type SplitAsked,
  SplitRows,
} from './run/split.ts';
export type { Heading, PageSizeFrom, PlaceInRun, QueryProfile, RunProfile, RunState } from './run/state.ts';
export { AS_STARTED, FOLD_BASES, type FoldState, isSwitchKey, switchesOf, turnFold } from './shape/folds.ts';
export * from './sketch/changes.ts';
export {
  type ChartPoint,
  chartOf,
  chartRows,
  chartSketch,
  type ShownChart,
  sketchChart,
} from './sketch/chart.ts';
export {
  acrossSteps,
  type GroupValue,
  INSIDE,
  INSIDE_BLANK,
  inGroups,
  levelSteps,
  rowSteps,
  shownFormat,
  totalOf as sketchTotal,
} from './sketch/levels.ts';
export { sketchProblems } from './sketch/problems.ts';
export { type Reached, reachedField, reachOf } from './sketch/reach.ts';
export { type SketchReportOptions, sketchReport } from './sketch/report.ts';
export * from './sketch/schema.ts';
export { type SketchRows, sketchRows } from './sketch/steps.ts';
export { type CurrencyDecimals, fieldFormat, isCurrencyCode, MOST_DECIMALS } from './text/currency.ts';
export { Font, FontBook, type FontFile, fontKey, type ShapedGlyph } from './text/fonts.ts';
export { type FormatSettings, formatValue, isLanguage } from './text/format.ts';
export { breakLines } from './text/lines.ts';
export { pluralExamples } from './text/plural.ts';
export { blankWord } from './text/report-words.ts';
export { hasCommonLetters, type TextOrder, textOrderOf } from './text/text-order.ts';
export { fromWindows1252, toWindows1252 } from './text/windows-1252.ts';
export { bestLanguage, languageOfRun, languagesOf } from './translation/choose.ts';
export { translationsAsCsv } from './translation/files/csv.ts';
export { isXliffFile, readTranslations } from './translation/files/read.ts';
export { rowsToTranslate } from './translation/files/rows.ts';
export { isUneven, type TakenTranslations, takeTranslations } from './translation/files/taken.ts';
export { translationsAsXliff } from './translation/files/xliff.ts';
export { missingIn } from './translation/missing.ts';
export { type SpokenText, textsOf } from './translation/texts.ts';
export { dictionaryOf, inLanguage, translationOf } from './translation/translate.ts';
export { CalendarDate, isTimeZone, Moment } from './value/date.ts';
export { Decimal, DIVISION_DIGITS } from './value/decimal.ts';
export {
  add as addNumbers,
  compareNumeric,
  isNumeric,
  type Numeric,
  numericText,
  parseNumeric,
  subtract as subtractNumbers,
  toNumber,
} from './value/number.ts';
export {
  DATA_TYPES,
  type DataType,
  decodeValue,
  encodeValue,
  FormulaError,
  List,
  Picture,
  type Value,
  valueText,
  type WireValue,
} from './value/value.ts';
