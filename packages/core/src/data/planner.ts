import type { Report } from '../definition/schema.ts';
import { type CheckResult, checkFormula, type FormulaScope, typePhrase } from '../formula/check.ts';
import { type Checked, nodes } from '../formula/checked.ts';
import type { Model } from '../model/model.ts';
import { type Phrase, type PhraseCode, type ProblemValue, phrase } from '../problems/phrases.ts';
import { type Problem, type ProblemPlace, problem } from '../problems/problem.ts';
import type { PlannedRecipe } from '../recipe/planned.ts';
import { bestLanguage, languagesOf } from '../translation/choose.ts';
import { inLanguage, modelInLanguage } from '../translation/translate.ts';
import type { Level, SubreportLink, TotalPlan } from './level.ts';
import type { PlanContext, ReportPlan } from './planned.ts';
import { databasesKnow, isPushable } from './pushable.ts';
import { Reach } from './reach.ts';
import { reportModel } from './report-model.ts';
import type { ReachContext, Standing } from './standing.ts';

/** What planning one report shares: its levels and totals so far, and the problems found. */
export class Planner {
  readonly problems: Problem[] = [];
  readonly levels: Level[] = [];
  readonly totals: TotalPlan[] = [];
  private readonly slots = new Map<string, number>();
  /** In the language that it is planned for. */
  readonly report: Report;
  /** By whose order databases sort. */
  private readonly orders: string;
  readonly model: Model | null;
  readonly queries: ReadonlyMap<string, PlannedRecipe>;
  /** Told of names while a formula is checked. */
  private naming: ReachContext['onName'];

  constructor(
    asWritten: Report,
    readonly context: PlanContext,
    /** Plans a report, itself or one nested in it. */
    readonly plan: (planner: Planner) => ReportPlan,
    /** Names of the reports around this one, itself last. */
    readonly chain: readonly string[],
    readonly link: SubreportLink | null,
    /** Ids of the nested reports around this one, itself last. */
    readonly ids: readonly string[] = [],
    /** What all plans of one report share: how many of them are nested ones. */
    readonly family: { nested: number } = { nested: 0 },
  ) {
    const spoken = (wanted: string | undefined): string =>
      (wanted && bestLanguage([wanted], languagesOf(asWritten))) || asWritten.language;
    const report = inLanguage(asWritten, spoken(context.language), context.models);
    this.report = report;
    this.orders = spoken(context.orders ?? context.language);
    const models = context.models.map((one) => modelInLanguage(one, report.language));
    const { model, queries, problems } = reportModel(report, { ...context, models });
    this.model = model;
    this.queries = queries;
    for (const p of problems) this.found(p);
  }

  get reach(): Reach {
    return new Reach({
      model: this.model,
      language: this.report.language,
      roots: this.levels.filter(({ parent, item }) => !parent && item === null),
      parameters: this.report.parameters,
      totals: this.totals,
      slots: this.slots,
      canPush: (formula, orders) => this.canPush(formula, orders),
      onName: this.naming,
      calculated: new Map(),
      functions: this.context.functions,
    });
  }

  found(p: Problem): void {
    const nested = this.chain.length > 1 ? { report: this.report.name } : {};
    this.problems.push({ ...p, place: { ...nested, ...p.place } });
  }

  /** Says that something in the definition cannot be used as it is. */
  malformed(place: ProblemPlace, detail: Phrase, expected: ProblemValue): void {
    this.found(problem('definition-malformed', place, { detail, expected }));
  }

  tryCheck(source: string, standing: Standing, place: ProblemPlace): CheckResult {
    this.nameIn(source, place);
    return checkFormula(source, this.reach.at(standing));
  }

  /** What tells of the names in the formula that is checked next. */
  nameIn(source: string, { path = '' }: ProblemPlace): void {
    const { onName } = this.context;
    const isOwn = this.chain.length === 1;
    this.naming = onName && isOwn ? (at, part, meaning) => onName({ path, source, at, part, meaning }) : undefined;
  }

  /** Null, with the problems noted, when the formula is wrong. */
  check(source: string, standing: Standing, place: ProblemPlace): Checked | null {
    return this.noted(this.tryCheck(source, standing, place), place);
  }

  /** As {@link check}, among names that are looked for as `scope` says; {@link nameIn} comes first. */
  checkIn(source: string, scope: FormulaScope, place: ProblemPlace): Checked | null {
    return this.noted(checkFormula(source, scope), place);
  }

  private noted(result: CheckResult, place: ProblemPlace): Checked | null {
    for (const p of result.ok ? result.warnings : result.problems)
      this.found({ ...p, place: { ...p.place, ...place } });
    return result.ok ? result.formula : null;
  }

  /** As {@link check}, for a formula that must be TRUE or FALSE. */
  condition(source: string | undefined, standing: Standing, place: ProblemPlace, where: PhraseCode): Checked | null {
    if (source === undefined || source.trim() === '') return null;
    const formula = this.check(source, standing, place);
    if (!formula || formula.type === 'boolean' || formula.type === 'any') return formula;
    const data = { where: phrase(where), expected: phrase('type-boolean'), given: typePhrase(formula.type) };
    this.found(problem('wrong-type', place, data));
    return null;
  }

  /** As {@link check}, for a formula that must give a text. */
  text(source: string | undefined, standing: Standing, place: ProblemPlace): Checked | null {
    if (source === undefined || source.trim() === '') return null;
    const formula = this.check(source, standing, place);
    if (!formula || formula.type === 'text' || formula.type === 'any') return formula;
    const data = { where: phrase('a-language'), expected: phrase('type-text'), given: typePhrase(formula.type) };
    this.found(problem('wrong-type', place, data));
    return null;
  }

  /** A parameter of a nested report runs in the database when the formula linked to it does. `orders`: its texts are put in order. */
  canPush(formula: Checked, orders = false): boolean {
    if (!this.context.rowsFromDatabase) return false;
    const { link } = this;
    const pushed = (slot: number): boolean => this.totals[slot]!.column > 0;
    if (!isPushable(formula, pushed) || !databasesKnow(this.orders, formula, orders)) return false;
    if (!link?.outer) return true;
    return [...nodes(formula)].every((node) => {
      // A date of a value of the row around may be none, which must not end the rows of all others.
      if (node.kind === 'call' && node.name === 'DATE' && [...nodes(node)].some((n) => n.kind === 'parameter'))
        return false;
      const linked = node.kind === 'parameter' ? link.values[node.name] : undefined;
      return !linked || isPushable(linked);
    });
  }
}
