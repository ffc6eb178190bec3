import { produce } from 'immer';
import type { Band, Drawer, Item, Look, Report } from '../definition/schema.ts';
import { allBands, type BandAddress, findBand, findDrawer, findItem, isPageBand } from '../definition/walk.ts';
import { withHeld } from './held.ts';

/** Frees an optional setting when its value is null. */
export type Settings = Record<string, unknown>;

export interface Place {
  x: number;
  y: number;
  width: number;
  height: number;
}

export type OrderStep = 'front' | 'forward' | 'backward' | 'back';

/**
 * One thing a maker does. Edits are plain JSON: they can be kept, sent and played again. Lengths in millimetres.
 */
export type Edit =
  | { do: 'all'; edits: Edit[] }
  | { do: 'add'; band: BandAddress; items: Item[] }
  | { do: 'remove'; items: string[] }
  | { do: 'move'; items: string[]; dx: number; dy: number; band?: BandAddress }
  | { do: 'resize'; items: string[]; dx: number; dy: number; dw: number; dh: number }
  | { do: 'place'; places: Record<string, Partial<Place>> }
  | { do: 'order'; items: string[]; to: OrderStep }
  | { do: 'set'; items: string[]; settings: Settings }
  | { do: 'look'; items: string[]; look: { [K in keyof Look]: Look[K] | null } }
  | { do: 'band'; band: BandAddress; settings: Settings }
  /** Puts a band where there is none. */
  | { do: 'addBand'; band: BandAddress; as: Band }
  | { do: 'removeBand'; band: BandAddress }
  | { do: 'drawer'; drawer: string; settings: Settings }
  | { do: 'group'; drawer: string; group: string; settings: Settings }
  /** `at`: place among the inner drawers of `parent`; `parent` null: among the outermost ones. */
  | { do: 'addDrawer'; parent: string | null; at: number; drawer: Drawer }
  | { do: 'removeDrawer'; drawer: string }
  /** `at`: place among the others inside `parent`; `parent` null, without a relation: among the outermost ones. */
  | { do: 'moveDrawer'; drawer: string; parent: string | null; at: number; relation: string | null }
  | { do: 'report'; settings: Settings }
  /** Another definition in the place of the whole one, as when a revision is restored. */
  | { do: 'whole'; report: Report };

/** Smallest width and height of an item. */
export const LEAST_SIZE = 1;

export const rounded = (value: number): number => Math.round(value * 100) / 100;

/**
 * The definition after an edit; `report` itself never changes, and is given back when the edit changes nothing. Items,
 * bands and drawers that are not there are passed over, so an old edit cannot break a definition.
 */
export const applyEdit = (report: Report, edit: Edit): Report =>
  edit.do === 'whole' ? edit.report : produce(report, (draft) => change(draft as Report, edit));

const change = (report: Report, edit: Exclude<Edit, { do: 'whole' }>): void => {
  switch (edit.do) {
    case 'all':
      for (const one of edit.edits) if (one.do !== 'whole') change(report, one);
      return;
    case 'add': {
      const band = findBand(report, edit.band);
      if (!band) return;
      band.items.push(...structuredClone(edit.items));
      for (const item of edit.items) reach(band, item);
      return;
    }
    case 'remove': {
      const gone = new Set(edit.items);
      for (const { band } of allBands(report)) {
        if (band.items.some((item) => gone.has(item.id))) band.items = band.items.filter((item) => !gone.has(item.id));
      }
      return;
    }
    case 'move':
    case 'resize':
    case 'place':
      changePlaces(report, edit);
      return;
    case 'order':
      for (const { band } of allBands(report)) order(band, new Set(edit.items), edit.to);
      return;
    case 'set':
      for (const id of edit.items) {
        const found = findItem(report, id);
        if (found) assign(found.item as unknown as Settings, edit.settings);
      }
      return;
    case 'look':
      for (const id of edit.items) {
        const item = findItem(report, id)?.item;
        if (!item || (item.kind !== 'text' && item.kind !== 'field')) continue;
        item.look ??= {};
        assign(item.look as Settings, edit.look);
        if (Object.keys(item.look).length === 0) delete item.look;
      }
      return;
    case 'band': {
      const band = findBand(report, edit.band);
      if (!band) return;
      const { height, ...settings } = edit.settings;
      assign(band as unknown as Settings, settings);
      if (typeof height === 'number') band.height = rounded(Math.max(lowestItem(band), height));
      return;
    }
    case 'report':
      assign(report as unknown as Settings, edit.settings);
      return;
    case 'addBand':
    case 'removeBand':
    case 'drawer':
    case 'group':
    case 'addDrawer':
    case 'removeDrawer':
    case 'moveDrawer':
      changeDrawers(report, edit);
      return;
    default:
      edit satisfies never;
  }
};

type PlaceEdit = Extract<Edit, { do: 'move' | 'resize' | 'place' }>;

/** A move that stops where the first of its items reaches the left or the top, so that they keep their places to one another. */
const withinBand = (report: Report, edit: PlaceEdit): PlaceEdit => {
  if (edit.do !== 'move') return edit;
  const free = edit.items.flatMap((id) => findItem(report, id)?.item ?? []).filter((item) => !item.locked);
  if (free.length === 0) return edit;
  const [left, top] = [Math.min(...free.map((i) => i.x)), Math.min(...free.map((i) => i.y))];
  return { ...edit, dx: Math.max(edit.dx, -left), dy: Math.max(edit.dy, -top) };
};

const changePlaces = (report: Report, wanted: PlaceEdit): void => {
  // What lies in a panel moves along with it.
  const all = wanted.do === 'move' ? { ...wanted, items: withHeld(report, wanted.items) } : wanted;
  const edit = withinBand(report, all);
  const ids = edit.do === 'place' ? Object.keys(edit.places) : edit.items;
  const moved = new Set(ids);
  for (const id of ids) {
    const found = findItem(report, id);
    if (!found || found.item.locked) continue;
    const { item, at } = found;
    const next = placeAfter(item, edit, id);
    const target = edit.do === 'move' && edit.band ? findBand(report, edit.band) : null;
    // Caption, value and total of a column stay under one another.
    for (const mate of matesOf(report, item)) {
      if (moved.has(mate.id)) continue;
      mate.x = next.x;
      mate.width = next.width;
    }
    Object.assign(item, next);
    dropShares(item, edit, id);
    if (target && target !== at.band) {
      at.band.items = at.band.items.filter((other) => other.id !== id);
      target.items.push(item);
    }
    reach(target ?? at.band, item);
  }
};

const placeAfter = (item: Item, edit: PlaceEdit, id: string): Place => {
  const { x, y, width, height } = item;
  const flat = item.kind === 'line' ? 0 : LEAST_SIZE;
  const to =
    edit.do === 'place'
      ? { x, y, width, height, ...edit.places[id] }
      : edit.do === 'move'
        ? { x: x + edit.dx, y: y + edit.dy, width, height }
        : { x: x + edit.dx, y: y + edit.dy, width: width + edit.dw, height: height + edit.dh };
  return {
    x: rounded(Math.max(0, to.x)),
    y: rounded(Math.max(0, to.y)),
    width: rounded(Math.max(flat, to.width)),
    height: rounded(Math.max(flat, to.height)),
  };
};

/** A place or width in millimetres takes the place of a share of the band. */
const dropShares = (item: Item, edit: PlaceEdit, id: string): void => {
  if (!item.share) return;
  const sets = (key: 'x' | 'width'): boolean =>
    edit.do === 'place'
      ? edit.places[id]?.[key] !== undefined
      : edit.do === 'move'
        ? key === 'x' && edit.dx !== 0
        : key === 'x'
          ? edit.dx !== 0
          : edit.dw !== 0;
  if (sets('x')) delete item.share.x;
  if (sets('width')) delete item.share.width;
  if (item.share.x === undefined && item.share.width === undefined) delete item.share;
};

/** The other items of the same column. */
const matesOf = (report: Report, item: Item): Item[] => {
  const { column } = item;
  if (!column) return [];
  const mates: Item[] = [];
  for (const { band } of allBands(report)) {
    for (const other of band.items) {
      if (other.id !== item.id && other.column?.set === column.set && other.column.name === column.name)
        mates.push(other);
    }
  }
  return mates;
};

/** Later items lie over earlier ones. */
const order = (band: Band, ids: ReadonlySet<string>, to: OrderStep): void => {
  const isMoved = (item: Item): boolean => ids.has(item.id);
  const before = [...band.items];
  const after = [...before];
  if (to === 'front' || to === 'back')
    after.sort((a, b) => (Number(isMoved(a)) - Number(isMoved(b))) * (to === 'front' ? 1 : -1));
  else {
    if (to === 'forward') after.reverse();
    for (let i = 1; i < after.length; i++) {
      if (isMoved(after[i]!) && !isMoved(after[i - 1]!)) [after[i - 1], after[i]] = [after[i]!, after[i - 1]!];
    }
    if (to === 'forward') after.reverse();
  }
  // Untouched when nothing changed, so that no step to undo comes of it.
  if (after.some((item, i) => item.id !== before[i]!.id)) band.items = after;
};

type DrawerEdit = Extract<
  Edit,
  { do: 'addBand' | 'removeBand' | 'drawer' | 'group' | 'addDrawer' | 'removeDrawer' | 'moveDrawer' }
>;

const changeDrawers = (report: Report, edit: DrawerEdit): void => {
  switch (edit.do) {
    case 'addBand': {
      const holder = holderOf(report, edit.band);
      const { drawer, band } = edit.band;
      // Pages begin with a set of rows, with no drawer inside one.
      if (drawer !== null && isPageBand(band) && findDrawer(report, drawer)?.parent) return;
      if (holder && holder[edit.band.band] === undefined) holder[edit.band.band] = structuredClone(edit.as);
      return;
    }
    case 'removeBand': {
      const holder = holderOf(report, edit.band);
      if (holder) delete holder[edit.band.band];
      return;
    }
    case 'drawer': {
      const found = findDrawer(report, edit.drawer);
      if (found) assign(found.drawer as unknown as Settings, edit.settings);
      return;
    }
    case 'group': {
      const group = findDrawer(report, edit.drawer)?.drawer.groups?.find((g) => g.name === edit.group);
      if (group) assign(group as unknown as Settings, edit.settings);
      return;
    }
    case 'addDrawer': {
      const drawer = structuredClone(edit.drawer);
      if (edit.parent === null) {
        report.body.splice(edit.at, 0, drawer);
        return;
      }
      const parent = findDrawer(report, edit.parent)?.drawer;
      if (!parent) return;
      parent.drawers ??= [];
      parent.drawers.splice(edit.at, 0, drawer);
      return;
    }
    case 'removeDrawer': {
      const found = findDrawer(report, edit.drawer);
      if (found) takeOut(report, found.drawer, found.parent);
      return;
    }
    case 'moveDrawer': {
      const found = findDrawer(report, edit.drawer);
      if (!found) return;
      if (edit.parent === null || edit.relation === null) {
        // Rows that hang on others are none by themselves.
        if (found.parent) return;
        takeOut(report, found.drawer, null);
        report.body.splice(edit.at, 0, found.drawer);
        return;
      }
      const parent = findDrawer(report, edit.parent)?.drawer;
      // A drawer cannot go into itself, and an outermost one goes into no other.
      if (!found.parent || !parent || isWithin(found.drawer, edit.parent)) return;
      takeOut(report, found.drawer, found.parent);
      parent.drawers ??= [];
      const { rows } = found.drawer;
      // Among its neighbours it keeps all that is said of its rows.
      const same = 'relation' in rows && rows.relation === edit.relation && found.parent.id === edit.parent;
      parent.drawers.splice(edit.at, 0, { ...found.drawer, rows: same ? rows : { relation: edit.relation } });
      return;
    }
    default:
      edit satisfies never;
  }
};

/** What has the band as a setting: the report, a drawer or a group. */
const holderOf = (report: Report, address: BandAddress): Record<string, Band> | null => {
  if (address.drawer === null) return report as unknown as Record<string, Band>;
  const drawer = findDrawer(report, address.drawer)?.drawer;
  const holder = address.group === undefined ? drawer : drawer?.groups?.find((g) => g.name === address.group);
  return (holder as unknown as Record<string, Band> | undefined) ?? null;
};

const takeOut = (report: Report, drawer: Drawer, parent: Drawer | null): void => {
  if (!parent) {
    report.body = report.body.filter((d) => d.id !== drawer.id);
    return;
  }
  parent.drawers = parent.drawers!.filter((d) => d.id !== drawer.id);
  if (parent.drawers.length === 0) delete parent.drawers;
};

/** Whether the id is the drawer's own or that of one inside it. */
export const isWithin = (drawer: Drawer, id: string): boolean =>
  drawer.id === id || (drawer.drawers?.some((inner) => isWithin(inner, id)) ?? false);

const assign = (target: Settings, settings: Settings): void => {
  for (const [key, value] of Object.entries(settings)) {
    if (value === null || value === undefined) delete target[key];
    else target[key] = structuredClone(value);
  }
};

/** A band is at least as high as its lowest item needs. */
const reach = (band: Band, item: Item): void => {
  band.height = Math.max(band.height, rounded(item.y + item.height));
};

/** Bottom of the lowest item of a band, in millimetres. */
export const lowestItem = (band: Band): number =>
  band.items.reduce((low, item) => Math.max(low, item.y + item.height), 0);
