import { type Checked, nodes } from '../formula/checked.ts';
import { isCount, TOTAL_STATES, TOTALS } from '../formula/functions/index.ts';
import type { DataType } from '../value/value.ts';
import type { Level, TotalPlan, TotalScope } from './level.ts';

/** The level whose rows carry the total when the database works it out. */
export const carrierOf = (total: Pick<TotalPlan, 'name' | 'scope' | 'counted'>): Level =>
  total.name === 'RANK' ? total.counted : total.scope.level;

export const sameScope = (a: TotalScope, b: TotalScope): boolean =>
  a.level === b.level && a.kind === b.kind && a.group === b.group;

const resultType = (name: TotalPlan['name'], formula: Checked): DataType => {
  if (name === 'RANK' || TOTALS[name].gives === 'number') return 'number';
  return formula.type === 'any' || formula.type === 'list' ? 'text' : formula.type;
};

/** Type in which a total's state travels from a database. */
export const stateType = (name: TotalPlan['name'], formula: Checked): DataType => {
  if (name === 'RANK' || isCount(name)) return 'number';
  if (TOTAL_STATES[name] !== 'value') return 'text';
  return resultType(name, formula);
};

/** Whether the database counts the same rows: nothing on the way from the scope to the counted rows happens here. */
export const rowsAreInDatabase = (scope: TotalScope, counted: Level): boolean => {
  // A group counts the rows that it shows, and which those are is not known before all groups are in order.
  if (scope.kind === 'group' && scope.level.isCut) return false;
  for (let level: Level | null = counted; level; level = level.parent) {
    const isScopeRow = level === scope.level && scope.kind === 'row';
    if (!isScopeRow && (level.localFilter !== null || level.settlesLocally)) return false;
    if (level.tree !== null) return false;
    if (level === scope.level) return true;
  }
  return false;
};

/** The totals that a formula reads. */
export const totalsIn = (formula: Checked, totals: readonly TotalPlan[]): TotalPlan[] =>
  [...nodes(formula)].flatMap((node) => (node.kind === 'total' ? [totals[node.slot]!] : []));
