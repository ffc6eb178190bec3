import type { Drawer, Item, Report } from '../definition/schema.ts';
import { type BandAddress, findBand } from '../definition/walk.ts';
import { startWithin } from '../items/edits.ts';
import type { Entity, Model } from '../model/model.ts';
import { addColumn, type ColumnSet, columnSets, fitColumns, newColumnSet, reorderColumn } from './columns.ts';
import { newDrawer } from './drawers.ts';
import { applyEdit, type Edit } from './edit.ts';
import { usedIds } from './ids.ts';
import { roomIn } from './paper.ts';
import { innerDrawer, itemFor, kindFor, nextPlace, type Placeable, type PlacedKind } from './placing.ts';

/** Where fields are dropped, in millimetres from the left and top of the band. */
export interface Landing {
  address: BandAddress;
  x: number;
  y: number;
  /** Nobody pointed there: a better place may be taken. */
  isAnywhere?: true;
}

export interface Dropped {
  edit: Edit;
  /** Items that came of it. */
  items: string[];
  /** The drawer that was made for them. */
  drawer: string | null;
}

interface Around {
  model: Model | null;
  entities: ReadonlyMap<string, Entity>;
}

/**
 * What dropping fields does. One becomes an item of the kind that fits; several of one drawer a column set. Fields of rows
 * that no drawer holds yet bring that drawer. A total goes under the column of its field, and a field that is dropped
 * right of a column set becomes its next column. Null when nothing can be dropped there.
 */
export const dropFields = (
  report: Report,
  fields: readonly Placeable[],
  landing: Landing,
  { model, entities }: Around,
  kind?: PlacedKind,
): Dropped | null => {
  const [first] = fields;
  if (!first) return null;
  const before = usedIds(report);
  const done = (edit: Edit, drawer: string | null = null): Dropped => {
    const after = usedIds(applyEdit(report, edit));
    return { edit, drawer, items: [...after].filter((id) => !before.has(id) && id !== drawer) };
  };
  if (first.table) {
    const made = intoFirstDrawer(report, fields, first.table);
    return made && done(made.edit, made.drawer);
  }
  if (first.relation !== undefined) {
    const made = intoNewDrawer(report, fields, model, entities);
    return made && done(made.edit, made.drawer);
  }
  const { address } = landing;
  const band = findBand(report, address);
  if (!band) return null;
  const isOwn = fields.every((f) => f.drawer !== null && f.drawer.id === address.drawer);
  const inRows = isOfRows(address);
  const between = kind === undefined ? columnLanding(report, fields, landing) : null;
  if (between) return done(intoColumns(report, fields, between, roomIn(report, address)));
  if (fields.length > 1 && isOwn && inRows && kind === undefined) {
    const left = nearestFree(band.items, landing.x);
    return done(newColumnSet(report, { drawer: address.drawer!, fields, left, right: roomIn(report, address) }));
  }
  const edits: Edit[] = [];
  let current = report;
  for (const [i, field] of fields.entries()) {
    const now = findBand(current, address)!;
    const at = i === 0 ? landing : nextPlace(now, roomIn(current, address), 40);
    const wanted = kind ?? kindFor(field, address);
    const placed = itemFor(current, field, address, at, wanted);
    const inside = { ...placed, x: startWithin(roomIn(current, address), placed) };
    const under = underColumn(current, field, inside, now.items, wanted);
    const item = under === inside && landing.isAnywhere ? underValue(current, field, inside, now.items, wanted) : under;
    const add: Edit = { do: 'add', band: address, items: [item] };
    edits.push(add);
    current = applyEdit(current, add);
  }
  return done({ do: 'all', edits });
};

/** The drawer that holds the rows of these fields, with the fields as its columns. */
const intoNewDrawer = (
  report: Report,
  fields: readonly Placeable[],
  model: Model | null,
  entities: ReadonlyMap<string, Entity>,
): { edit: Edit; drawer: string } | null => {
  const { drawer: parent, relation } = fields[0]!;
  const entity = parent && entities.get(parent.id);
  if (!model || !parent || !entity || relation === undefined) return null;
  const made = innerDrawer(report, model, parent.id, relation, entity.name);
  if (!made) return null;
  const own = fields.filter((f) => f.relation === relation && f.drawer?.id === parent.id);
  return asColumns(report, made, own, 8);
};

/** The outermost drawer, with the fields of its table as its columns. Null when there is one already. */
const intoFirstDrawer = (
  report: Report,
  fields: readonly Placeable[],
  { model, entity }: NonNullable<Placeable['table']>,
): { edit: Edit; drawer: string } | null => {
  if (report.body.length > 0) return null;
  const drawer = newDrawer(report, { entity }, entity);
  const edits: Edit[] = [
    ...(report.model === model ? [] : [{ do: 'report' as const, settings: { model } }]),
    { do: 'addDrawer', parent: null, at: 0, drawer },
  ];
  const own = fields.filter((f) => f.table?.model === model && f.table.entity === entity);
  return asColumns(report, { edit: { do: 'all', edits }, drawer }, own, 0);
};

/** A new drawer with fields as its columns, from `left` on, in millimetres. */
const asColumns = (
  report: Report,
  made: { edit: Edit; drawer: Drawer },
  fields: readonly Placeable[],
  left: number,
): { edit: Edit; drawer: string } => {
  const { id } = made.drawer;
  const withDrawer = applyEdit(report, made.edit);
  const columns = newColumnSet(withDrawer, {
    drawer: id,
    fields: fields.map(({ label, type, path }) => ({ label, type, path, drawer: made.drawer })),
    left,
    right: roomIn(withDrawer, { drawer: id, band: 'detail' }),
  });
  const less: Edit = { do: 'band', band: { drawer: id, band: 'detail' }, settings: { height: 6 } };
  return { edit: { do: 'all', edits: [made.edit, less, columns] }, drawer: id };
};

/** The place itself, unless something stands there: then right of it. */
const nearestFree = (items: readonly Item[], x: number): number =>
  items.some((i) => i.x < x + 10 && i.x + i.width > x) ? 0 : x;

/** Whether columns stand in a band: in that of each row, or the one above all rows. */
const isOfRows = (address: BandAddress): boolean =>
  address.drawer !== null && address.group === undefined && (address.band === 'header' || address.band === 'detail');

/** Where fields that are let go become columns of a set. */
export interface ColumnLanding {
  set: string;
  /** How many of its columns stand before them. */
  at: number;
  /** In millimetres from the left of the band. */
  x: number;
}

/** How far below its row, and left of its first column, a set takes what is let go, in millimetres. */
const NEAR_SET = 2;

/**
 * The place between two columns of a set, or at either end of it, where fields would become columns; null where they would stand
 * by themselves.
 */
export const columnLanding = (
  report: Report,
  fields: readonly Placeable[],
  { address, x, y }: Landing,
): ColumnLanding | null => {
  if (!isOfRows(address) || fields.length === 0) return null;
  const isOwn = ({ drawer, table, relation }: Placeable): boolean =>
    drawer?.id === address.drawer && !table && relation === undefined;
  if (!fields.every(isOwn)) return null;
  const items = findBand(report, address)?.items ?? [];
  for (const { set, columns } of columnSets(report).values()) {
    const inBand = items.find((item) => item.column?.set === set);
    if (!inBand || y > inBand.y + inBand.height + NEAR_SET || x < columns[0]!.x - NEAR_SET) continue;
    const at = columns.filter((column) => column.x + column.width / 2 <= x).length;
    const [before, after] = [columns[at - 1], columns[at]];
    const right = before ? before.x + before.width : columns[0]!.x;
    return { set, at, x: after ? (before ? (right + after.x) / 2 : after.x) : right };
  }
  return null;
};

/** Fields as columns at a place of a set; all of them get narrower where the band has no room for more. */
const intoColumns = (report: Report, fields: readonly Placeable[], { set, at }: ColumnLanding, room: number): Edit => {
  const edits: Edit[] = [];
  let current = report;
  const make = (edit: Edit | null): void => {
    if (!edit) return;
    edits.push(edit);
    current = applyEdit(current, edit);
  };
  const now = (): ColumnSet => columnSets(current).get(set)!;
  for (const [i, field] of fields.entries()) {
    const before = new Set(now().columns.map(({ name }) => name));
    make(addColumn(current, set, field));
    const made = now().columns.find(({ name }) => !before.has(name));
    if (made) make(reorderColumn(now(), made.name, at + i));
  }
  const right = Math.max(...now().columns.map((column) => column.x + column.width));
  if (right > room) make(fitColumns(now(), room));
  return { do: 'all', edits };
};

/** Whether something of a band stands at the height of an item, from a place over a width. */
const isTakenIn = (beside: readonly Item[], item: Item, x: number, width: number): boolean =>
  beside.some(
    (one) => one.x < x + width && one.x + one.width > x && one.y < item.y + item.height && one.y + one.height > item.y,
  );

/** A total that nobody gave a place stands under the value of each row that it adds up, where there is room. */
const underValue = (report: Report, field: Placeable, item: Item, beside: readonly Item[], kind: PlacedKind): Item => {
  const rows = kind === 'total' && field.drawer ? findBand(report, { drawer: field.drawer.id, band: 'detail' }) : null;
  const value = rows?.items.find((one) => one.kind === 'field' && one.formula === field.path.join('.'));
  if (!value || isTakenIn(beside, item, value.x, value.width)) return item;
  return { ...item, x: value.x, width: value.width };
};

/** A total takes place and width of the column that shows its field, unless another one stands there. */
const underColumn = (report: Report, field: Placeable, item: Item, beside: readonly Item[], kind: PlacedKind): Item => {
  if (kind !== 'total') return item;
  for (const { set, columns } of columnSets(report).values()) {
    for (const column of columns) {
      const shows = column.items.some((i) => i.kind === 'field' && i.formula === field.path.join('.'));
      if (shows && !isTakenIn(beside, item, column.x, column.width))
        return { ...item, x: column.x, width: column.width, column: { set, name: column.name } };
    }
  }
  return item;
};
