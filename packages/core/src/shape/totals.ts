import type { Level, TotalPlan, TotalScope } from '../data/level.ts';
import type { Row } from '../data/rows.ts';
import { carrierOf } from '../data/total.ts';
import type { Compiled, EvaluationContext, TotalValues } from '../formula/functions/context.ts';
import { Accumulator, emptyTotal, totalOf } from '../formula/functions/index.ts';
import { phrase } from '../problems/phrases.ts';
import { type TextOrder, textOrderOf } from '../text/text-order.ts';
import { FormulaError, type Value } from '../value/value.ts';
import type { HeldRow } from './reader.ts';

/** A running total counts in sums. */
const accumulatorFor = ({ name, when, into }: TotalPlan, texts: TextOrder): Accumulator =>
  into ?? new Accumulator(when === 'running' || name === 'RANK' ? 'SUM' : name, texts);

/** Totals by their scope: each kind of one level, groups by their place. Looked up for every row, so without any key to build. */
type ByScope = Record<Exclude<TotalScope['kind'], 'cell'>, TotalPlan[][]>[];

const NO_TOTALS: readonly TotalPlan[] = [];

const byScope = (levels: readonly Level[], plans: readonly TotalPlan[]): ByScope =>
  levels.map((level) => {
    const of = (kind: TotalScope['kind'], group = 0): TotalPlan[] =>
      plans.filter(({ scope }) => scope.level === level && scope.kind === kind && scope.group === group);
    const groups = level.groups.map((_, g) => of('group', g));
    return { set: [of('set')], group: groups, row: [of('row')], others: [of('others')], page: [of('page')] };
  });

/** The totals of one report while it runs. */
export class Totals implements TotalValues {
  private readonly accumulators: Accumulator[];
  /** Of totals ahead of their rows; the others are read from their accumulators. */
  private readonly values: Value[];
  private readonly startsWith: ByScope;
  private readonly countedAt: TotalPlan[][] = [];
  private readonly othersAt: TotalPlan[][] = [];
  private readonly onPageAt: TotalPlan[][] = [];
  /** Brought by a column of the level's rows. */
  private readonly brought: TotalPlan[][] = [];
  /** Worked out here from rows read ahead, by their scope. */
  private readonly heldBy: ByScope;
  readonly context: EvaluationContext;
  private readonly texts: TextOrder;
  /** Why a total cannot be told, by its slot: some of the rows that it counts are not known. */
  private readonly unknown: (FormulaError | undefined)[] = [];

  constructor(
    private readonly plans: readonly TotalPlan[],
    private readonly formulas: readonly Compiled[],
    levels: readonly Level[],
    context: Omit<EvaluationContext, 'totals'>,
  ) {
    this.context = { ...context, totals: this };
    this.texts = textOrderOf(context.report.language);
    this.accumulators = plans.map((plan) => accumulatorFor(plan, this.texts));
    this.values = plans.map((plan) => emptyOf(plan));
    for (const level of levels) {
      const at = (keep: (t: TotalPlan) => boolean): TotalPlan[] => plans.filter((t) => t.counted === level && keep(t));
      const isPage = (t: TotalPlan): boolean => t.scope.kind === 'page';
      // What a cell counts is known where its item is laid out.
      const counts = (t: TotalPlan): boolean => t.when !== 'ahead' && !isPage(t) && t.scope.kind !== 'cell';
      this.countedAt[level.index] = at((t) => counts(t) && t.scope.kind !== 'others');
      this.othersAt[level.index] = at((t) => counts(t) && t.scope.kind === 'others');
      this.onPageAt[level.index] = at(isPage);
      this.brought[level.index] = plans.filter((t) => t.column > 0 && carrierOf(t) === level);
    }
    // The database has counted all rows of a level of which it is not known which ones it shows.
    for (const level of levels) if (level.refused) this.fail(level, true);
    this.startsWith = byScope(
      levels,
      plans.filter((t) => t.when !== 'ahead'),
    );
    this.heldBy = byScope(
      levels,
      plans.filter((t) => t.when === 'ahead' && t.column === 0),
    );
  }

  /** Rows of a level are missing: what counts them here is an error; `also`: what the database has counted is as well. */
  fail(level: Level, also = false): void {
    for (const { slot, counted, column } of this.plans) {
      if (counted.isWithin(level) && (also || column === 0)) this.unknown[slot] = ROWS_MISSING;
    }
  }

  value(slot: number): Value {
    const unknown = this.unknown[slot];
    if (unknown) return unknown;
    return this.plans[slot]!.when === 'ahead' ? this.values[slot]! : this.accumulators[slot]!.result();
  }

  /** Values as they are now, for text that is laid out later; those that count the page are read then. */
  freeze(slots: readonly number[]): TotalValues {
    const now = new Map<number, Value>();
    for (const slot of slots) {
      const { scope, when } = this.plans[slot]!;
      if (scope.kind !== 'page' || when === 'running') now.set(slot, this.value(slot));
    }
    return { value: (slot) => (now.has(slot) ? now.get(slot)! : this.value(slot)) };
  }

  /** Totals of a scope start anew; those ahead of it are empty until rows bring them. */
  start(level: Level, kind: keyof ByScope[number], group = 0): void {
    for (const { slot } of this.startsWith[level.index]![kind][group] ?? NO_TOTALS) this.accumulators[slot]!.reset();
    if (kind !== 'set') return;
    for (const plan of this.brought[level.index]!) this.values[plan.slot] = emptyOf(plan);
  }

  /** The rows of the level that are shown are over, while others of it are still to be counted. */
  rowsOver(level: Level): void {
    for (const { scope, into } of this.plans) {
      const isWhole = scope.level === level && (scope.kind === 'set' || scope.kind === 'others');
      if (into && scope.level.isWithin(level) && !isWhole) into.over();
    }
  }

  /** The level's row has become current: takes what it brings. */
  take(level: Level, row: Row, held: HeldRow | null): void {
    for (const { slot, column } of this.brought[level.index]!) this.values[slot] = row[column] ?? null;
    if (held?.totals) for (const [slot, value] of held.totals) this.values[slot] = value;
  }

  /** Counts the level's current row. */
  count(level: Level, isOther = false): void {
    const { context, formulas, accumulators } = this;
    for (const { slot } of this.countedAt[level.index]!) accumulators[slot]!.add(formulas[slot]!(context));
    if (isOther) for (const { slot } of this.othersAt[level.index]!) accumulators[slot]!.add(formulas[slot]!(context));
  }

  /** What to do once the level's current row has its place on a page; null when nothing counts by page. */
  landing(level: Level): (() => void) | null {
    const plans = this.onPageAt[level.index]!;
    if (plans.length === 0) return null;
    const { context } = this;
    const values = plans.map(({ slot }) => this.formulas[slot]!(context));
    return () => {
      for (const [i, { slot }] of plans.entries()) this.accumulators[slot]!.add(values[i]!);
    };
  }

  /** A page is complete: totals of the page start anew, running ones go on. */
  pageCompleted(): void {
    for (const { slot, scope, when } of this.plans) {
      if (scope.kind === 'page' && when === 'behind') this.accumulators[slot]!.reset();
    }
  }

  /** Whether totals before their rows must be worked out here for this scope. */
  isHeld(level: Level, kind: keyof ByScope[number], group = 0): boolean {
    return (this.heldBy[level.index]![kind][group] ?? NO_TOTALS).length > 0;
  }

  /** Totals of the scope that are worked out here, without ranks. */
  heldTotals(level: Level, kind: keyof ByScope[number], group = 0): TotalPlan[] {
    return (this.heldBy[level.index]![kind][group] ?? NO_TOTALS).filter((t) => t.name !== 'RANK');
  }

  /** Ranks of the level's rows that are worked out here. */
  heldRanks(level: Level): TotalPlan[] {
    return this.plans.filter((t) => t.name === 'RANK' && t.counted === level && t.column === 0);
  }

  set(slot: number, value: Value): void {
    this.values[slot] = value;
  }

  /** Works a total out from rows read ahead; they become current one after the other. */
  ofRows(total: TotalPlan, level: Level, rows: readonly HeldRow[]): Value {
    if (total.name === 'RANK') return null;
    return totalOf(total.name, this.valuesOf(total, level, rows), this.texts);
  }

  private *valuesOf(total: TotalPlan, at: Level, rows: readonly HeldRow[]): Iterable<Value> {
    const { context } = this;
    for (const held of rows) {
      context.rows[at.index] = held.row;
      this.take(at, held.row, held);
      if (total.counted === at) yield this.formulas[total.slot]!(context);
      else {
        for (const [child, set] of held.inner) {
          if (!total.counted.isWithin(child)) continue;
          yield* this.valuesOf(total, child, set.rows);
          yield* this.valuesOf(total, child, set.others);
        }
      }
    }
  }

  /** The formula of a total for the rows that are current. */
  formula(slot: number): Value {
    return this.formulas[slot]!(this.context);
  }
}

const ROWS_MISSING = new FormulaError('#REF!', phrase('e-rows-missing'));

/** What a total of no rows is. */
const emptyOf = ({ name }: TotalPlan): Value => (name === 'RANK' ? null : emptyTotal(name));
