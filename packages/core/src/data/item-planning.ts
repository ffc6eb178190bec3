import type { Drawer, Highlight, Item, ItemKind, ItemOf } from '../definition/schema.ts';
import type { Checked } from '../formula/checked.ts';
import { phrase } from '../problems/phrases.ts';
import { type ProblemPlace, problem } from '../problems/problem.ts';
import { isFormatCode } from '../text/format.ts';
import { allWord, blankWord } from '../text/report-words.ts';
import { blankOperands } from './blank-operands.ts';
import type { Level } from './level.ts';
import { itemLevel } from './plan-rows.ts';
import type { PlannedFormula, PlannedHighlight, PlannedOwn } from './planned.ts';
import type { Planner } from './planner.ts';
import type { Standing } from './standing.ts';

/** Where a band stands. `width` in millimetres. */
export interface BandPlace {
  path: string;
  key: string;
  standing: Standing;
  isPage: boolean;
  width: number;
}

/** Plans what only one kind of item has. */
export type PlanItem<K extends ItemKind = ItemKind> = (item: ItemOf<K>, planning: ItemPlanning) => PlannedOwn;

export const planHighlights = (
  planner: Planner,
  list: readonly Highlight[] | undefined,
  standing: Standing,
  place: ProblemPlace,
): PlannedHighlight[] =>
  (list ?? []).flatMap(({ when, look, hide }, i) => {
    const at = { ...place, path: `${place.path}/${i}/when` };
    const condition = planner.condition(when, standing, at, 'a-highlight');
    return condition ? [{ when: condition, look: look ?? {}, hide: hide ?? false }] : [];
  });

/** Equal for two formulas that are made of the same parts; JSON knows no large whole numbers. */
const treeText = (formula: Checked): string =>
  JSON.stringify(formula, (_, value: unknown) => (typeof value === 'bigint' ? `${value}n` : value));

const isBlankTest = (condition: Checked): boolean => condition.kind === 'call' && condition.name === 'ISBLANK';

/** One item while it is planned: checks its formulas where it stands, and tells what is wrong at the item. */
export class ItemPlanning {
  readonly place: ProblemPlace;
  readonly standing: Standing;

  constructor(
    readonly planner: Planner,
    readonly item: Item,
    path: string,
    /** The band that it stands in. */
    readonly band: BandPlace,
  ) {
    this.place = { path, item: item.id };
    this.standing = band.standing;
  }

  /** The place of a part of the item. */
  readonly part = (name: string): ProblemPlace => ({ ...this.place, path: `${this.place.path}/${name}` });

  /** Null, with the problems noted, when there is none or it is wrong. */
  optional(source: string | undefined, name: string): Checked | null {
    return source === undefined ? null : this.planner.check(source, this.standing, this.part(name));
  }

  /** A formula that the item can do without: left out, with the problems noted, when there is none or it is wrong. */
  decided(source: string | undefined, name: string): Record<string, PlannedFormula> {
    const formula = this.optional(source, name);
    return formula ? { [name]: { formula, format: '' } } : {};
  }

  highlights(list: readonly Highlight[] | undefined): PlannedHighlight[] {
    return planHighlights(this.planner, list, this.standing, this.part('highlights'));
  }

  /** A formula whose value the item shows, or the problem that is shown in its place. `standing`: where it stands, if not in the band. */
  formula(
    source: string,
    format: string | undefined,
    standing: Standing = this.standing,
    place: ProblemPlace = this.place,
  ): PlannedFormula {
    const { planner } = this;
    const result = planner.tryCheck(source, standing, place);
    if (!result.ok) {
      const problems = result.problems.map((p) => ({ ...p, place: { ...p.place, ...place } }));
      for (const p of problems) planner.found(p);
      return { problem: problems[0]! };
    }
    for (const p of result.warnings) planner.found({ ...p, place: { ...p.place, ...place } });
    const { formula } = result;
    const operands = blankOperands(formula, planner.levels);
    const wrong = format !== undefined && !isFormatCode(format);
    if (wrong) planner.malformed(place, phrase('not-a-format', { format: format! }), phrase('number-format'));
    return {
      formula,
      format: (wrong ? undefined : format) ?? formula.format ?? '',
      ...this.forBlank(formula),
      ...(operands.length > 0 ? { operands } : {}),
    };
  }

  private forBlank(formula: Checked): { blank?: string } {
    const { language, parameters } = this.planner.report;
    if (this.isGroupValue(formula)) return { blank: blankWord(language) };
    const parameter = formula.kind === 'parameter' ? parameters.find((p) => p.name === formula.name) : undefined;
    return parameter && !parameter.required ? { blank: parameter.allLabel ?? allWord(language) } : {};
  }

  /** Whether a formula in the band of a group shows the value of that group, or of one around it, as it is or unless it is blank. */
  private isGroupValue(formula: Checked): boolean {
    const { scope } = this.standing;
    if (scope?.kind !== 'group') return false;
    const shown = formula.kind === 'if' && isBlankTest(formula.condition) ? formula.yes : formula;
    const written = treeText(shown);
    return scope.level.groups.slice(0, scope.group + 1).some(({ key }) => treeText(key) === written);
  }

  /**
   * Rows of the item's own, as a drawer without bands says which: those that a relation leads to from the row of the band, or
   * an entity's. Null, with the problem noted, when they are not to be found or the band belongs to no one row.
   */
  level(rows: Drawer): Level | null {
    const { planner, place, standing } = this;
    if (!this.band.isPage && standing.scope?.kind !== 'group') return itemLevel(planner, rows, standing.current, place);
    planner.found(problem('own-rows-not-here', place));
    return null;
  }
}
