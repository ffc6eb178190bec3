import type { Drawer, ItemOf } from '../definition/schema.ts';
import { checkFormula } from '../formula/check.ts';
import { type Checked, withParts } from '../formula/checked.ts';
import { findEntity } from '../model/model.ts';
import { problem } from '../problems/problem.ts';
import { Level } from './level.ts';
import type { Planner } from './planner.ts';
import { conjuncts, joinConjuncts } from './pushable.ts';
import { Reach } from './reach.ts';
import { slotFor } from './reach-totals.ts';

/**
 * Conditions that hold for a row whose subreports have rows for it, one for each set of rows of each subreport that stands in
 * the row's bands. A subreport of which that cannot be told ahead (it chooses its rows by more than what is linked to it) is a
 * warning; null then, since rows must not be left out for it.
 */
export const hasSubreportRows = (planner: Planner, level: Level): Checked[] | null => {
  const conditions: Checked[] = [];
  let isKnown = true;
  for (const name of ['detail', 'detailFooter'] as const) {
    for (const item of level.drawer[name]?.items ?? []) {
      if (item.kind !== 'subreport') continue;
      const found = rowsOf(planner, level, item);
      if (found) conditions.push(...found);
      else {
        isKnown = false;
        const report = planner.context.report(item.report)?.name ?? item.report;
        const place = { path: `${level.path}/${name}`, item: item.id };
        planner.found(problem('inner-rows-unknown', place, { report }, 'warning'));
      }
    }
  }
  return isKnown ? conditions : null;
};

/** Null when it cannot be told. What is wrong with the subreport itself is told where it is planned. */
const rowsOf = (planner: Planner, outer: Level, item: ItemOf<'subreport'>): Checked[] | null => {
  const nested = planner.context.report(item.report);
  // Its names must mean the same here, and rows of its own queries are not known here.
  if (!nested || nested.model !== planner.report.model) return null;
  const links = new Map<string, Checked>();
  for (const [name, source] of Object.entries(item.links)) {
    const checked = checkFormula(source, planner.reach.at({ current: outer, scope: null, ahead: true, decides: true }));
    if (!checked.ok) return null;
    const { formula } = checked;
    links.set(name, formula);
    if (formula.kind !== 'parameter' || !formula.range) continue;
    for (const end of ['from', 'to'])
      links.set(`${name}.${end}`, { kind: 'parameter', name: `${formula.name}.${end}`, type: formula.range });
  }
  const conditions: Checked[] = [];
  for (const [i, root] of nested.body.entries()) {
    const shared = i === 0 ? item.rows : undefined;
    // It shows the row itself: what lies inside are the rows of its inner drawers.
    const sets = shared === 'current' ? (root.drawers ?? []) : [shared ? { ...root, rows: shared } : root];
    for (const set of sets) {
      const some = someOf(planner, outer, item.id, set, links, nested.parameters);
      if (!some) return null;
      conditions.push(some);
    }
  }
  return conditions;
};

/** `COUNT(rows) > 0` over rows that a drawer of another report takes for each row of `outer`. */
const someOf = (
  planner: Planner,
  outer: Level,
  item: string,
  set: Drawer,
  links: ReadonlyMap<string, Checked>,
  parameters: Planner['report']['parameters'],
): Checked | null => {
  const { id, name, rows, filter } = set;
  const relation = 'relation' in rows ? outer.entity.relations.find((r) => r.name === rows.relation) : null;
  const entity = planner.model && findEntity(planner.model, 'entity' in rows ? rows.entity : (relation?.to ?? ''));
  if (!entity || relation === undefined || planner.queries.has(entity.name)) return null;
  const drawer: Drawer = { id, name, rows, ...(set.calculated ? { calculated: set.calculated } : {}) };
  const level = new Level(planner.levels.length, drawer, outer.path, entity, outer, relation, null, item);
  if (filter?.trim()) {
    const reach = new Reach({ ...planner.reach.context, parameters: [...parameters], onName: undefined });
    const checked = checkFormula(filter, reach.at({ current: level, scope: null, ahead: true, decides: true }));
    const linked = checked.ok ? asLinked(checked.formula, links) : null;
    if (!linked) return null;
    const parts = conjuncts(linked);
    level.pushedFilter = joinConjuncts(parts.filter((part) => planner.canPush(part)));
    level.localFilter = joinConjuncts(parts.filter((part) => !planner.canPush(part)));
  }
  planner.levels.push(level);
  const slot = slotFor(planner.reach.context, {
    name: 'COUNT',
    formula: { kind: 'rows', level: level.index, type: 'any' },
    counted: level,
    scope: { level: outer, kind: 'row', group: 0 },
    when: 'ahead',
  });
  // A database that counts them does not send them.
  level.isFetched = planner.totals[slot]!.column === 0;
  return {
    kind: 'binary',
    operator: '>',
    left: { kind: 'total', slot, name: 'COUNT', type: 'number' },
    right: { kind: 'literal', value: 0, type: 'number' },
    type: 'boolean',
  };
};

/** With what is linked in the place of parameters; null when the formula reads one that nothing is linked to. */
const asLinked = (formula: Checked, links: ReadonlyMap<string, Checked>): Checked | null => {
  if (formula.kind === 'parameter') return links.get(formula.name) ?? null;
  let isWhole = true;
  const linked = withParts(formula, (part) => {
    const one = asLinked(part, links);
    isWhole &&= one !== null;
    return one ?? part;
  });
  return isWhole ? linked : null;
};
