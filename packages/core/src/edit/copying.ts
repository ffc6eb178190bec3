import type { PlanContext } from '../data/planned.ts';
import type { Drawer, Report } from '../definition/schema.ts';
import { allBands, drawersOf, findDrawer } from '../definition/walk.ts';
import { columnSets } from './columns.ts';
import { freeName, freshPanel, idMaker } from './ids.ts';
import { renamePart } from './renaming.ts';

/** The drawer and all inside it. */
export const within = (drawer: Drawer): Drawer[] => [drawer, ...(drawer.drawers ?? []).flatMap(within)];

/**
 * A drawer with all inside it, under ids and names of its own: its formulas reach its own rows, and its columns and panels
 * go their own way.
 */
export const copyDrawer = (report: Report, drawer: Drawer, context: PlanContext): Drawer => {
  const names = new Set([...drawersOf(report)].map((d) => d.drawer.name));
  let renamed = report;
  for (const { id, name } of within(drawer)) {
    const own = freeName(name, names);
    names.add(own);
    renamed = renamePart(renamed, { kind: 'drawer', drawer: id }, own, context);
  }
  return withOwnIds(report, findDrawer(renamed, drawer.id)!.drawer);
};

/** A drawer with all inside it under ids that the report does not have yet; its columns and panels go their own way. */
export const withOwnIds = (report: Report, drawer: Drawer): Drawer => {
  const copy = structuredClone(drawer);
  const idFor = idMaker(report);
  for (const one of within(copy)) one.id = idFor(one.id.replace(/\d+$/, ''));

  const taken = new Set(columnSets(report).keys());
  const sets = new Map<string, string>();
  const panels = new Map<string, string>();
  const fresh = (map: Map<string, string>, name: string, make: () => string): string => {
    const known = map.get(name) ?? make();
    map.set(name, known);
    return known;
  };
  for (const { band, address } of allBands({ ...report, body: [copy] })) {
    if (address.drawer === null) continue;
    for (const item of band.items) {
      item.id = idFor(item.kind);
      if (item.column) {
        const set = fresh(sets, item.column.set, () =>
          freeName(item.column!.set, new Set([...taken, ...sets.values()])),
        );
        item.column = { ...item.column, set };
      }
      if (item.panel !== undefined)
        item.panel = fresh(panels, item.panel, () => freshPanel(report, [...panels.values()]));
    }
  }
  return copy;
};
