import type { Drawer, Report } from '../definition/schema.ts';
import { allBands, type BandAt, drawersOf, findDrawer } from '../definition/walk.ts';
import { within, withOwnIds } from './copying.ts';
import { applyEdit, type Edit, rounded } from './edit.ts';
import { freeName } from './ids.ts';
import { fitBands, pageOfBand, roomIn, roomOf } from './paper.ts';

/** Space between sets of rows that stand side by side, in millimetres. */
const GAP = 6;

/** Where another set of rows goes: after the others, or next to them. */
export type SetPlace = 'below' | 'beside';

/** The 0-based places, from and until before, of the drawers that stand side by side with the one at `place`. */
const rowOf = (siblings: readonly Drawer[], place: number): { from: number; until: number } => {
  let from = place;
  let until = place + 1;
  if (siblings[place]?.beside) {
    while (siblings[from - 1]?.beside) from--;
    while (siblings[until]?.beside) until++;
  }
  return { from, until };
};

/** The bands of a drawer and of those inside it. */
function* bandsWithin(report: Report, drawer: Drawer): Iterable<BandAt> {
  const ids = new Set([...within(drawer)].map(({ id }) => id));
  for (const at of allBands(report)) if (at.address.drawer !== null && ids.has(at.address.drawer)) yield at;
}

/**
 * The edits that let drawers, neighbours of one another, share the width that they stand in evenly, one alone have all of it; what
 * stands in them is fitted to it.
 */
const sharing = (report: Report, drawers: readonly Drawer[]): Edit[] => {
  const parent = findDrawer(report, drawers[0]!.id)?.parent;
  const around = parent
    ? roomIn(report, { drawer: parent.id, band: 'detail' })
    : roomOf(pageOfBand(report, { drawer: drawers[0]!.id, band: 'detail' }));
  const width = rounded((around - GAP * (drawers.length - 1)) / drawers.length);
  const before = drawers.map(({ id }) => roomIn(report, { drawer: id, band: 'detail' }));
  const shares = drawers.map(({ id }, i): Edit => {
    const beside = drawers.length > 1 ? { x: rounded(i * (width + GAP)), width } : null;
    return { do: 'drawer', drawer: id, settings: { beside } };
  });
  const shared = applyEdit(report, { do: 'all', edits: shares });
  const fits = drawers.flatMap((drawer, i) => fitBands(shared, bandsWithin(shared, drawer), before[i]!, width));
  return [...shares, ...fits];
};

/** Adds an outermost drawer after or next to the one at `after`, 0-based. Sets side by side share the page's width evenly. */
export const addSet = (report: Report, drawer: Drawer, after: number, place: SetPlace): Edit =>
  addAfter(report, null, drawer, after, place);

/** Adds a drawer after or next to another one, at `after`, of the same drawer, or of the report where that is null. */
export const addAfter = (
  report: Report,
  parent: Drawer | null,
  drawer: Drawer,
  after: number,
  place: SetPlace,
): Edit => {
  const siblings = parent ? (parent.drawers ?? []) : report.body;
  const { from, until } = rowOf(siblings, after);
  const add: Edit = { do: 'addDrawer', parent: parent?.id ?? null, at: until, drawer };
  if (place === 'below') return add;
  return { do: 'all', edits: [add, ...sharing(applyEdit(report, add), [...siblings.slice(from, until), drawer])] };
};

/** The drawer that comes right before one inside the same drawer; null for the first. */
export const drawerBefore = (report: Report, id: string): Drawer | null => {
  const found = findDrawer(report, id);
  const siblings = found?.parent ? (found.parent.drawers ?? []) : report.body;
  return siblings[siblings.findIndex((d) => d.id === id) - 1] ?? null;
};

/** Whether a drawer stands side by side with the one before it. */
export const isBesidePrevious = (report: Report, drawer: Drawer): boolean =>
  drawer.beside !== undefined && drawerBefore(report, drawer.id)?.beside !== undefined;

/**
 * Puts a drawer side by side with the one before it, or below it again. All that then stand in a row share the width evenly. Null
 * for the first drawer, which has none before it.
 */
export const putBeside = (report: Report, id: string, on: boolean): Edit | null => {
  const found = findDrawer(report, id);
  if (!found || !drawerBefore(report, id)) return null;
  const siblings = found.parent ? (found.parent.drawers ?? []) : report.body;
  const place = siblings.findIndex((d) => d.id === id);
  const { from } = rowOf(siblings, on ? place - 1 : place);
  const { until } = rowOf(siblings, place);
  // One that stands alone keeps those before it apart from those after it.
  const parted = [siblings.slice(from, place), siblings.slice(place, place + 1), siblings.slice(place + 1, until)];
  const rows = on ? [siblings.slice(from, until)] : parted;
  const edits: Edit[] = [];
  let now = report;
  for (const row of rows.filter(({ length }) => length > 0)) {
    const shared = sharing(now, row);
    edits.push(...shared);
    now = applyEdit(now, { do: 'all', edits: shared });
  }
  return { do: 'all', edits };
};

/**
 * A move of a drawer with what it does to those that stand side by side: they follow one another in the order that they have then,
 * and one that is left alone has the whole width.
 */
export const moveInRows = (report: Report, move: Edit & { do: 'moveDrawer' }): Edit => {
  const after = applyEdit(report, move);
  const edits: Edit[] = [];
  const parents = new Set([findDrawer(report, move.drawer)?.parent?.id ?? null, move.parent]);
  for (const parent of parents) {
    const siblings = parent === null ? after.body : (findDrawer(after, parent)?.drawer.drawers ?? []);
    for (let place = 0; place < siblings.length; ) {
      const { until } = rowOf(siblings, place);
      const row = siblings.slice(place, until);
      if (row[0]!.beside) edits.push(...(row.length > 1 ? inOrder(row) : sharing(after, row)));
      place = until;
    }
  }
  return edits.length === 0 ? move : { do: 'all', edits: [move, ...edits] };
};

/** The edits that let drawers stand one after the other from left to right, each as wide as it is. */
const inOrder = (row: readonly Drawer[]): Edit[] => {
  let x = 0;
  return row.flatMap(({ id, beside }): Edit[] => {
    const at = x;
    x = rounded(x + beside!.width + GAP);
    return beside!.x === at ? [] : [{ do: 'drawer', drawer: id, settings: { beside: { ...beside!, x: at } } }];
  });
};

/** A report with the first set of another one after its own last set, or next to it, and the queries that it takes rows from. */
export const joinSet = (report: Report, other: Report, place: SetPlace): Report => {
  const [set] = other.body;
  if (!set) return report;
  const queries = [...(report.queries ?? [])];
  const renamed = new Map<string, string>();
  for (const query of other.queries ?? []) {
    const same = queries.find(({ name }) => name === query.name);
    if (same && JSON.stringify(same) === JSON.stringify(query)) continue;
    const name = freeName(query.name, new Set(queries.map((q) => q.name)));
    renamed.set(query.name, name);
    queries.push({ ...query, name });
  }
  const drawer = withOwnIds(report, set);
  const names = new Set([...drawersOf(report)].map((at) => at.drawer.name));
  for (const one of within(drawer)) {
    one.name = freeName(one.name, names);
    names.add(one.name);
  }
  if ('entity' in drawer.rows)
    drawer.rows = { ...drawer.rows, entity: renamed.get(drawer.rows.entity) ?? drawer.rows.entity };
  const joined: Report = {
    ...report,
    ...(report.model === undefined && other.model !== undefined ? { model: other.model } : {}),
    ...(queries.length > 0 ? { queries } : {}),
  };
  return applyEdit(joined, addSet(joined, drawer, joined.body.length - 1, place));
};
