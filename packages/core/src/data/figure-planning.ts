import type { OwnRows } from '../definition/schema.ts';
import { typePhrase } from '../formula/check.ts';
import type { Checked } from '../formula/checked.ts';
import { type PhraseCode, phrase } from '../problems/phrases.ts';
import { problem } from '../problems/problem.ts';
import type { ItemPlanning } from './item-planning.ts';
import { ownDrawer } from './own-rows.ts';
import type { PlannedFigure, PlannedFormula } from './planned.ts';
import { type SummaryKey, SummaryPlanning } from './summary-planning.ts';

/** Formulas with values that other reports or parameters get. */
export type FigureLink = { report: string; parameters: Record<string, string> } | { set: Record<string, string> };

/** Plans an item that draws numbers: groups, and formulas over their totals, known by their paths in the item. */
export class FigurePlanning {
  private readonly formulas: Record<string, PlannedFormula> = {};
  private isFine = true;

  private constructor(
    private readonly planning: ItemPlanning,
    /** Null when its formulas stand where the item does, over no groups of its own. */
    private readonly summing: SummaryPlanning | null,
  ) {}

  /** Null, with the problem noted, when there are no rows to group. */
  static begin(planning: ItemPlanning, rows: OwnRows | undefined): FigurePlanning | null {
    const summing = SummaryPlanning.begin(planning, ownDrawer(planning.item.id, rows));
    return summing && new FigurePlanning(planning, summing);
  }

  /** An item that groups nothing: its formulas are worked out where it stands. */
  static here(planning: ItemPlanning): FigurePlanning {
    return new FigurePlanning(planning, null);
  }

  private formula(source: string, format: string | undefined, path: string): PlannedFormula {
    const { planning, summing } = this;
    return summing
      ? summing.formula(source, format, path)
      : planning.formula(source, format, planning.standing, planning.part(path));
  }

  private decided(source: string | undefined, path: string): Checked | null {
    return this.summing ? this.summing.decided(source, path) : this.planning.optional(source, path);
  }

  /** Groups the rows by a value as well. */
  key(key: SummaryKey | undefined, name: string): void {
    if (key && this.summing && !this.summing.key(key, name)) this.isFine = false;
  }

  private isNumber(formula: Checked, path: string, where: PhraseCode): boolean {
    if (formula.type === 'number' || formula.type === 'any') return true;
    const data = { where: phrase(where), expected: phrase('type-number'), given: typePhrase(formula.type) };
    this.planning.planner.found(problem('wrong-type', this.planning.part(path), data));
    return false;
  }

  /** A number over the totals of a group, which is shown: without it there is nothing to draw. */
  measure(source: string, format: string | undefined, path: string): void {
    const planned = this.formula(source, format, path);
    if ('formula' in planned && this.isNumber(planned.formula, path, 'a-measure')) this.formulas[path] = planned;
  }

  /** A number that the item can do without. */
  number(source: string | undefined, path: string): void {
    if (source === undefined || source.trim() === '') return;
    const formula = this.decided(source, path);
    if (formula && this.isNumber(formula, path, 'a-place-on-scale')) this.formulas[path] = { formula, format: '' };
  }

  /** Any value that the item can do without. */
  value(source: string | undefined, path: string): void {
    const formula = this.decided(source, path);
    if (formula) this.formulas[path] = { formula, format: '' };
  }

  condition(source: string, path: string): void {
    const { planning, summing } = this;
    const formula = summing
      ? summing.condition(source, path, 'a-highlight')
      : planning.planner.condition(source, planning.standing, planning.part(path), 'a-highlight');
    if (formula) this.formulas[path] = { formula, format: '' };
  }

  /** What a click on a part of it leads to. */
  link(link: FigureLink | undefined, path: string): void {
    if (!link) return;
    const values = 'set' in link ? link.set : link.parameters;
    for (const [name, source] of Object.entries(values)) this.value(source, `${path}/${name}`);
  }

  /** Null, with the problem noted, when it cannot be drawn. `downKeys`: how many of the keys, the first ones, lead down. */
  finish(downKeys: number): PlannedFigure | null {
    const { isFine, summing, formulas } = this;
    if (!isFine) return null;
    if (!summing) return { summary: null, downKeys, formulas };
    const summary = summing.finish();
    return summary && { summary, downKeys, formulas };
  }
}
