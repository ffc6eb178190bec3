import type { Band, Drawer, Item, ItemKind, Report } from '../definition/schema.ts';
import { type BandAddress, findBand, findDrawer } from '../definition/walk.ts';
import { writtenName } from '../formula/tokens.ts';
import { showingOf, TURNABLE, type TurnableKind } from '../items/edits.ts';
import { findEntity, type Model } from '../model/model.ts';
import type { DataType } from '../value/value.ts';
import { newDrawer } from './drawers.ts';
import { type Edit, isWithin } from './edit.ts';
import { freshId } from './ids.ts';
import { itemWith } from './item-edit.ts';
import { dressed } from './themes.ts';

/** A field, parameter or page value that can be placed. */
export interface Placeable {
  label: string;
  type: DataType;
  /** Drawer whose rows have the field; null for parameters and page values. */
  drawer: Drawer | null;
  /** Path from that drawer, or the whole name. */
  path: string[];
  /** The rows lie in no drawer yet: the relation from `drawer` that leads to them. */
  relation?: string;
  /** The report has no drawer yet: the table whose rows they are, and its data model. */
  table?: { model: string; entity: string };
}

/** What a field can become where it is dropped: its value in a field, that of the first row, a total, its label, or another kind of item. */
export const PLACED_KINDS = [
  'value',
  'first',
  'total',
  'caption',
  ...TURNABLE.filter((kind) => kind !== 'field'),
] as const;
export type PlacedKind = 'value' | 'first' | 'total' | 'caption' | Exclude<TurnableKind, 'field'>;

/** How a formula in `band` reaches what is placed: bare inside its own drawer, by the drawer's name elsewhere. */
export const formulaFor = (placeable: Placeable, band: BandAddress): string => {
  const path =
    placeable.drawer && placeable.drawer.id !== band.drawer
      ? [placeable.drawer.name, ...placeable.path]
      : placeable.path;
  return path.map(writtenName).join('.');
};

/** Whether one row of the field's drawer is current in the band. */
const isCurrent = (placeable: Placeable, address: BandAddress): boolean => {
  const { drawer } = placeable;
  if (!drawer || address.drawer === null) return !drawer;
  if (drawer.id !== address.drawer) return isWithin(drawer, address.drawer);
  return address.band === 'detail' || address.band === 'detailFooter';
};

/** What dropping a field makes when nothing else is chosen: it depends on its type and on where it lands. */
export const kindFor = (placeable: Placeable, address: BandAddress): PlacedKind => {
  const { drawer, type } = placeable;
  if (!drawer) return 'value';
  const isHead = address.drawer !== null && address.band === 'header';
  // Rows of an inner drawer are many here, wherever it is.
  const isInner = address.drawer !== drawer.id && !isCurrent(placeable, address);
  if (isHead && !isInner && !isCurrent(placeable, address)) return 'caption';
  // Above the rows, a name or a date says which rows they are; below them they are counted.
  const isAbove = /header$/i.test(address.band) && (type === 'text' || type === 'date' || type === 'datetime');
  if (!isCurrent(placeable, address)) return isAbove ? 'first' : 'total';
  return type === 'picture' ? 'picture' : type === 'boolean' ? 'check' : 'value';
};

/** The item that a field becomes, as `kind`. */
export const itemFor = (
  report: Report,
  placeable: Placeable,
  address: BandAddress,
  at: { x: number; y: number },
  kind: PlacedKind = kindFor(placeable, address),
): Item => {
  const formula = formulaFor(placeable, address);
  const { x, y } = at;
  const numeric = placeable.type === 'number';
  const place = { x, y, width: numeric ? 28 : 40, height: 5 };
  const right = { align: 'right' as const };
  switch (kind) {
    case 'caption':
      return {
        kind: 'text',
        id: freshId(report, 'text'),
        ...place,
        content: [placeable.label],
        ...dressed(report, 'caption', numeric ? right : {}),
      };
    case 'total':
      return {
        kind: 'field',
        id: freshId(report, 'field'),
        ...place,
        formula: `${numeric ? 'SUM' : 'COUNTA'}(${formula})`,
        ...dressed(report, 'total', right),
      };
    case 'first':
    case 'value':
      return {
        kind: 'field',
        id: freshId(report, 'field'),
        ...place,
        formula: kind === 'first' ? `FIRST(${formula})` : formula,
        ...dressed(report, 'value', numeric ? right : {}),
      };
    default: {
      const { width, height, own } = showingOf(kind);
      const size = { width: width === 'room' ? place.width : width, height };
      return itemWith<ItemKind>(
        kind,
        { id: freshId(report, kind), x, y, ...size },
        own(formula, { label: placeable.label }),
      );
    }
  }
};

/** Where to put one more item of a band: to the right of what is there, or below where that is past `width`. */
export const nextPlace = (band: Band, width: number, wanted: number): { x: number; y: number } => {
  const right = band.items.reduce((most, item) => Math.max(most, item.x + item.width + 2), 0);
  if (right + wanted <= width) return { x: right, y: band.items[0]?.y ?? 0.5 };
  return { x: 0, y: band.items.reduce((low, item) => Math.max(low, item.y + item.height), 0.5) };
};

/** The drawer that a relation of `parent` leads to, as an edit, and its id. Null when the model has no such relation. */
export const innerDrawer = (
  report: Report,
  model: Model,
  parent: string,
  relation: string,
  entity: string,
): { edit: Edit; drawer: Drawer } | null => {
  const found = findEntity(model, entity)?.relations.find((r) => r.name === relation);
  const outer = findDrawer(report, parent)?.drawer;
  if (!found || !outer) return null;
  const drawer = newDrawer(report, { relation }, found.to);
  return { drawer, edit: { do: 'addDrawer', parent, at: outer.drawers?.length ?? 0, drawer } };
};

/** The edit that puts a band there, when there is none yet. */
export const ensureBand = (report: Report, address: BandAddress, as: Band): Edit[] =>
  findBand(report, address) ? [] : [{ do: 'addBand', band: address, as }];
