import type { Drawer, Report } from '../definition/schema.ts';
import { setOf } from '../definition/sets.ts';
import { allBands, type BandAt, drawersOf } from '../definition/walk.ts';
import { within, withOwnIds } from './copying.ts';
import { applyEdit, type Edit, rounded } from './edit.ts';
import { freeName } from './ids.ts';
import { fitBands, pageOfBand, roomIn, roomOf } from './paper.ts';

/** Space between sets of rows that stand side by side, in millimetres. */
const GAP = 6;

/** Where another set of rows goes: after the others, or next to them. */
export type SetPlace = 'below' | 'beside';

/** The 0-based places, from and until before, of the sets that stand side by side with the one at `place`. */
const rowOf = ({ body }: Report, place: number): { from: number; until: number } => {
  let from = place;
  let until = place + 1;
  if (body[place]?.beside) {
    while (body[from - 1]?.beside) from--;
    while (body[until]?.beside) until++;
  }
  return { from, until };
};

/** The bands of a set of rows and of the drawers inside it. */
function* bandsOfSet(report: Report, place: number): Iterable<BandAt> {
  for (const at of allBands(report))
    if (at.address.drawer !== null && setOf(report, at.address.drawer) === place) yield at;
}

/**
 * Adds an outermost drawer after or next to the one at `after`, 0-based. Sets side by side share the page's width evenly, and
 * what stands in them is fitted to it.
 */
export const addSet = (report: Report, drawer: Drawer, after: number, place: SetPlace): Edit => {
  const { from, until } = rowOf(report, after);
  if (place === 'below') return { do: 'addDrawer', parent: null, at: until, drawer };
  const count = until - from + 1;
  const room = roomOf(pageOfBand(report, { drawer: report.body[from]!.id, band: 'detail' }));
  const width = rounded((room - GAP * (count - 1)) / count);
  const shareOf = (i: number): Drawer['beside'] => ({ x: rounded(i * (width + GAP)), width });
  const sets = report.body.slice(from, until);
  const shares = sets.map(({ id }, i): Edit => ({ do: 'drawer', drawer: id, settings: { beside: shareOf(i) } }));
  const add: Edit = {
    do: 'addDrawer',
    parent: null,
    at: until,
    drawer: { ...drawer, beside: shareOf(count - 1) },
  };
  const shared = applyEdit(report, { do: 'all', edits: [...shares, add] });
  const before = [...sets.map(({ id }) => roomIn(report, { drawer: id, band: 'detail' })), room];
  const fits = before.flatMap((was, i) => fitBands(shared, bandsOfSet(shared, from + i), was, width));
  return { do: 'all', edits: [...shares, add, ...fits] };
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
