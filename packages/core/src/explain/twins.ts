import type { Level, TotalPlan, TotalScope } from '../data/level.ts';
import type { PlannedItem, ReportPlan } from '../data/planned.ts';
import { type Checked, formulaKey } from '../formula/checked.ts';
import type { TotalName } from '../formula/functions/index.ts';
import { textOrderOf } from '../text/text-order.ts';
import { List, type Value } from '../value/value.ts';
import type { AskedCell } from './asked-cell.ts';
import { type Collected, Collector } from './collector.ts';
import { formulaWords } from './formula-words.ts';
import type { ExplainedNames, ShownColumn } from './names.ts';
import { summaryOf } from './targets.ts';

/** A total that the value is made of, with what collects its rows. */
export interface Twin {
  total: TotalPlan;
  /** Null for a rank, which counts nothing, and for totals whose rows are read ahead as a tree. */
  collector: Collector | null;
  /** Slot of the list that stands in its place where rows are recursive. */
  list: number | null;
  columns: ShownColumn[];
}

/** Puts something beside a total that counts the same rows at the same moments. `cell`: whose rows alone are counted. */
export const twinOf = (
  plan: ReportPlan,
  planned: PlannedItem,
  total: TotalPlan,
  names: ExplainedNames,
  cell: AskedCell | null,
): Twin => {
  const { scope, counted, name, when } = total;
  const around: TotalScope = scope.of ?? scope;
  if (name === 'RANK') return { total, collector: null, list: null, columns: [] };
  const keys = scope.kind === 'cell' ? (summaryOf(planned)?.keys ?? []) : [];
  const columns = [
    ...columnsOf(names, around, total),
    ...keys.map((key): ShownColumn => ({ ...key, label: names.key(key) })),
  ];
  const formula: Checked = {
    kind: 'tuple',
    type: 'list',
    items: [total.formula, ...keys.map((key) => key.formula), ...columns.map((column) => column.formula)],
  };
  const slot = plan.totals.length;
  const isTree = around.kind === 'row' && around.level.tree !== null;
  const collector = isTree
    ? null
    : new Collector(
        name as TotalName,
        textOrderOf(plan.report.language),
        keys.length,
        (values) => cell === null || cell.holds(planned, values),
        around.kind === 'page',
      );
  plan.totals.push({
    slot,
    name: 'LIST',
    formula,
    counted,
    scope: around,
    when: isTree ? 'ahead' : when === 'running' ? 'running' : 'behind',
    column: 0,
    ...(collector ? { into: collector } : {}),
  });
  return { total, collector, list: isTree ? slot : null, columns };
};

/** What is counted, and what pages show of the rows from below the scope to the counted ones. */
const columnsOf = (
  names: ExplainedNames,
  { level: outer, kind }: TotalScope,
  { counted, formula, name }: TotalPlan,
): ShownColumn[] => {
  const chain: Level[] = [];
  for (let level: Level | null = counted; level; level = level.parent) {
    if (level === outer && kind === 'row') break;
    chain.unshift(level);
    if (level === outer) break;
  }
  const shown = chain.flatMap((level) =>
    names
      .shown(level)
      .map((column) => (level === counted ? column : { ...column, label: `${column.label} (${level.entity.label})` })),
  );
  const key = formulaKey(formula);
  const own = shown.find((column) => formulaKey(column.formula) === key);
  const counts: ShownColumn = {
    label: own?.label ?? formulaWords(formula, names),
    formula,
    format: own?.format ?? (name === 'COUNTA' ? '' : (formula.format ?? '')),
  };
  // That there is a row says nothing in a column of its own.
  const columns = shown.filter((column) => column !== own);
  return formula.kind === 'rows' && columns.length > 0 ? columns : [counts, ...columns];
};

/** What the list in the place of a total of a tree has counted. */
export const collectedIn = (total: TotalPlan, value: Value, language: string): Collected | null => {
  const collector = new Collector(total.name as TotalName, textOrderOf(language), 0, () => true);
  collector.want(false);
  if (value instanceof List) for (const row of value.values) collector.add(row);
  collector.complete();
  return collector.found;
};
