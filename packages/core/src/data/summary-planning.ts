import type { Drawer, Group } from '../definition/schema.ts';
import { typePhrase } from '../formula/check.ts';
import { type Checked, nodes } from '../formula/checked.ts';
import type { TotalName } from '../formula/functions/index.ts';
import type { FormulaScope } from '../formula/scope.ts';
import { type PhraseCode, phrase } from '../problems/phrases.ts';
import { type ProblemPlace, problem } from '../problems/problem.ts';
import type { DataType } from '../value/value.ts';
import type { ItemPlanning } from './item-planning.ts';
import { Level, type TotalPlan, type TotalScope } from './level.ts';
import { groupKey, itemLevel, refusalOf } from './plan-rows.ts';
import type { PlannedFormula } from './planned.ts';
import { countedRows, slotFor } from './reach-totals.ts';
import type { Standing } from './standing.ts';
import type { PlannedKey, PlannedSummary, SummaryPart } from './summary.ts';
import { rowsAreInDatabase, stateType, totalsIn } from './total.ts';

/** One of the values that an item groups rows by. */
export interface SummaryKey extends Pick<Group, 'name' | 'by' | 'per' | 'width'> {
  /** Number format of its labels; the field’s own without it. */
  format?: string | undefined;
}

/** Totals of which the parts of a group tell the whole: the database may bring the parts. */
const ADD_UP: ReadonlySet<TotalName> = new Set([
  'SUM',
  'COUNT',
  'COUNTA',
  'MIN',
  'MAX',
  'AVERAGE',
  'VAR',
  'VARP',
  'STDEV',
  'STDEVP',
]);
/** Totals that need each value once, or as often as it is there. */
const BY_VALUE: ReadonlySet<TotalName> = new Set(['COUNTDISTINCT', 'MEDIAN']);

/** Totals that stay the same when rows come several times. */
const AGAIN: ReadonlySet<TotalName> = new Set(['COUNTDISTINCT', 'MIN', 'MAX']);

/** Plans what an item shows of rows in groups. */
export class SummaryPlanning {
  private readonly cell: Level;
  private readonly keys: PlannedKey[] = [];
  private readonly groups = new Map<string, Checked>();
  /** The level whose rows the keys are of, or one around it. */
  private within: Level;
  private readonly formulas: Checked[] = [];

  private constructor(
    private readonly planning: ItemPlanning,
    /** The item’s own rows; null when it groups those of its place. */
    private readonly own: Level | null,
    private scope: TotalScope,
  ) {
    const { planner, place } = planning;
    const { id } = planning.item;
    const { drawer, entity } = scope.level;
    this.cell = new Level(
      planner.levels.length,
      { id, name: id, rows: drawer.rows },
      `${place.path}/cell`,
      entity,
      null,
      null,
      null,
      id,
    );
    this.cell.isFetched = false;
    planner.levels.push(this.cell);
    this.within = scope.level;
  }

  /**
   * `rows`: the item’s own rows, as a drawer without bands says which; without them it groups those that a total counts
   * where it stands. Null, with the problem noted, when they are not to be found.
   */
  static begin(planning: ItemPlanning, rows: Drawer | null): SummaryPlanning | null {
    const { planner, place, standing } = planning;
    if (rows) {
      const hangsOnRow = 'relation' in rows.rows || planning.band.isPage;
      const own = hangsOnRow ? planning.level(rows) : itemLevel(planner, rows, null, place);
      return own && new SummaryPlanning(planning, own, { level: own, kind: 'set', group: 0 });
    }
    const { scope } = standing;
    if (scope && ['set', 'group', 'row'].includes(scope.kind)) return new SummaryPlanning(planning, null, scope);
    planner.found(problem('no-rows-to-group', place));
    return null;
  }

  /** Where the formula of a key stands: among the rows that are counted. */
  private get keyStanding(): Standing {
    const { standing } = this.planning;
    const { own } = this;
    return own
      ? { current: own, scope: null, ahead: false, decides: true }
      : { ...standing, scope: null, decides: true };
  }

  /** Adds a value to group by. False, with the problem noted, when its formula is wrong. */
  key(key: SummaryKey, name: string): boolean {
    const { planner } = this.planning;
    const place = this.planning.part(`${name}/by`);
    const by = this.own ? planner.check(key.by, this.keyStanding, place) : this.keyOfPlace(key.by, place);
    if (!by) return false;
    if (by.type === 'picture' || by.type === 'list') {
      const data = { where: phrase('a-group'), expected: phrase('value-to-group-by'), given: typePhrase(by.type) };
      planner.found(problem('wrong-type', place, data));
      return false;
    }
    const formula = groupKey(planner, key, by, place);
    if (!formula) return false;
    const type: DataType = formula.type === 'any' || formula.type === 'list' ? 'text' : formula.type;
    const column = this.keys.push({ name: key.name, formula, type, format: key.format ?? formula.format ?? '' });
    const { format } = formula;
    this.groups.set(key.name, {
      kind: 'field',
      level: this.cell.index,
      column,
      type: formula.type,
      ...(format ? { format } : {}),
    });
    return true;
  }

  /** A key of the rows of the place: finds the innermost drawer whose fields it reads. */
  private keyOfPlace(source: string, place: ProblemPlace): Checked | null {
    const { planner, standing } = this.planning;
    planner.nameIn(source, place);
    let isFine = true;
    const check = (inner: FormulaScope): Checked | null => {
      const result = planner.checkIn(source, inner, place);
      isFine = result !== null;
      return result;
    };
    const found = countedRows(planner.reach, this.scope, standing, check);
    if (found && 'code' in found) planner.found({ ...found, place: { ...found.place, ...place } });
    if (!found || 'code' in found || !isFine) return null;
    const { formula, counted, scope } = found;
    if (scope.level !== this.scope.level && this.keys.length === 0) {
      this.scope = scope;
      this.within = scope.level;
    }
    if (counted.isWithin(this.within)) this.within = counted;
    else if (!this.within.isWithin(counted)) {
      planner.found(
        problem('total-fields-apart', place, { names: [counted.drawer.name, this.within.drawer.name].join(', ') }),
      );
      return null;
    }
    return formula;
  }

  /** Where the formulas of a cell stand. */
  get standing(): Standing {
    const { own, planning } = this;
    const around: Standing = own ? { current: own.parent, scope: null, ahead: false } : planning.standing;
    return { ...around, ahead: false, scope: { ...this.scope, kind: 'cell', of: this.scope }, groups: this.groups };
  }

  /** A formula of the cells, or the problem that is shown in its place. */
  formula(source: string, format: string | undefined, name: string): PlannedFormula {
    const planned = this.planning.formula(source, format, this.standing, this.planning.part(name));
    if ('formula' in planned) this.formulas.push(planned.formula);
    return planned;
  }

  /** Totals of a formula that was checked at the standing of the cells are counted as well. */
  reads(formula: Checked): void {
    this.formulas.push(formula);
  }

  /** A formula of the cells that can be done without; null, with the problem noted, when it is wrong. */
  decided(source: string | undefined, name: string): Checked | null {
    if (source === undefined) return null;
    const formula = this.planning.planner.check(source, this.standing, this.planning.part(name));
    if (formula) this.formulas.push(formula);
    return formula;
  }

  /** As {@link decided}, for a condition. `where`: what asks for it. */
  condition(source: string | undefined, name: string, where: PhraseCode): Checked | null {
    const { planner } = this.planning;
    const formula = planner.condition(source, this.standing, this.planning.part(name), where);
    if (formula) this.formulas.push(formula);
    return formula;
  }

  /** What is to be counted, once all keys and formulas are known. Null, with the problem noted, when it cannot be. */
  finish(): PlannedSummary | null {
    const { planner, place } = this.planning;
    const totals = [...new Set(this.formulas.flatMap((formula) => totalsIn(formula, planner.totals)))].filter(
      (total) => total.scope.kind === 'cell',
    );
    const byLevel = new Map<Level, TotalPlan[]>();
    for (const total of totals) {
      // Rows of a drawer around come once for each of the rows that are grouped, which these do not mind.
      const isSame = total.name !== 'RANK' && AGAIN.has(total.name) && this.within.isWithin(total.counted);
      const counted = isSame ? this.within : total.counted;
      byLevel.set(counted, [...(byLevel.get(counted) ?? []), total]);
    }
    // Without a total there are the groups all the same.
    if (byLevel.size === 0) byLevel.set(this.within, []);
    for (const counted of byLevel.keys()) {
      if (counted.isWithin(this.within)) continue;
      const names = [counted.drawer.name, this.within.drawer.name].join(', ');
      planner.found(problem('total-fields-apart', place, { names }));
      return null;
    }
    const parts = [...byLevel].map(([counted, list]) => this.part(counted, list));
    return { cell: this.cell, keys: this.keys, parts, scope: this.scope };
  }

  private part(counted: Level, totals: TotalPlan[]): SummaryPart {
    const { planner, standing } = this.planning;
    const { own, scope } = this;
    if (this.isPushed(counted, totals)) {
      if (own) own.isFetched = false;
      return { counted, totals, level: this.groupsFrom(counted, totals), listed: null };
    }
    if (own) return { counted, totals, level: null, listed: null };
    const items = [...this.keys.map((key) => key.formula), ...totals.map((total) => total.formula)];
    const slot = slotFor(planner.reach.context, {
      name: 'LIST',
      formula: { kind: 'tuple', items, type: 'list' },
      counted,
      scope,
      when: standing.ahead ? 'ahead' : 'behind',
    });
    return { counted, totals, level: null, listed: planner.totals[slot]! };
  }

  /** Whether the database can group the rows. */
  private isPushed(counted: Level, totals: readonly TotalPlan[]): boolean {
    const { planner } = this.planning;
    const { scope } = this;
    if (counted.sharedWith || scope.level.sharedWith || !rowsAreInDatabase(scope, counted)) return false;
    if (!totals.every(({ name }) => name !== 'RANK' && (ADD_UP.has(name) || BY_VALUE.has(name)))) return false;
    const keys = this.keys.map(({ formula }) => formula);
    // What the database groups by has the rows’ own fields alone.
    const readsRows = (formula: Checked): boolean =>
      [...nodes(formula)].every(
        (node) => node.kind !== 'total' && (node.kind !== 'field' || this.isAround(counted, node.level)),
      );
    return (
      keys.every((formula) => readsRows(formula) && planner.canPush(formula)) &&
      totals.every(
        ({ name, formula }) => readsRows(formula) && planner.canPush(formula, name === 'MIN' || name === 'MAX'),
      )
    );
  }

  private isAround(counted: Level, index: number): boolean {
    for (let level: Level | null = counted; level; level = level.parent) if (level.index === index) return true;
    return false;
  }

  /** The level that brings the groups of the counted rows. */
  private groupsFrom(counted: Level, totals: readonly TotalPlan[]): Level {
    const { planner, place, item } = this.planning;
    const { scope } = this;
    const level = new Level(
      planner.levels.length,
      { id: item.id, name: counted.drawer.name, rows: counted.drawer.rows },
      `${place.path}/groups/${counted.index}`,
      counted.entity,
      scope.kind === 'set' ? scope.level.parent : scope.level,
      null,
      null,
      item.id,
    );
    level.grouping = { counted, scope };
    for (const { formula, type } of this.keys) level.columns.push({ kind: 'value', formula, type });
    for (const total of totals) {
      if (total.name !== 'RANK' && BY_VALUE.has(total.name)) {
        const { type } = total.formula;
        level.columns.push({
          kind: 'value',
          formula: total.formula,
          type: type === 'any' || type === 'list' ? 'text' : type,
        });
      } else level.columns.push({ kind: 'state', total, type: stateType(total.name, total.formula) });
    }
    level.columns.push({ kind: 'times' });
    level.refused = refusalOf(counted, level.parent);
    planner.levels.push(level);
    return level;
  }
}
