import type { Band, Drawer, Item, Report } from '../definition/schema.ts';
import {
  allBands,
  type BandAddress,
  bandKey,
  type DrawerBand,
  drawersOf,
  type ReportBand,
} from '../definition/walk.ts';
import type { DataType } from '../value/value.ts';
import { freshId } from './edit.ts';

/** A band on the board. Lengths in millimetres from the top of the board's page. */
export interface BoardBand {
  address: BandAddress;
  /** `drawerId/detail`, `pageHeader`: the same key as on laid-out pages. */
  key: string;
  band: Band;
  top: number;
  height: number;
  drawer: Drawer | null;
}

/** A drawer's bar beside the board, from its first band to its last. */
export interface SpineBar {
  drawer: Drawer;
  depth: number;
  top: number;
  bottom: number;
}

/** The report's bands under one another, as the board shows them. */
export const boardBands = (report: Report): BoardBand[] => {
  const drawers = new Map([...drawersOf(report)].map(({ drawer }) => [drawer.id, drawer]));
  let top = 0;
  return [...allBands(report)].map(({ band, address }) => {
    const at: BoardBand = {
      address,
      key: bandKey(address),
      band,
      top,
      height: band.height,
      drawer: address.drawer === null ? null : (drawers.get(address.drawer) ?? null),
    };
    top += band.height;
    return at;
  });
};

export const spineBars = (report: Report, bands: readonly BoardBand[]): SpineBar[] => {
  const bars: SpineBar[] = [];
  for (const { drawer, depth } of drawersOf(report)) {
    const inside = new Set<string>();
    const collect = (d: Drawer): void => {
      inside.add(d.id);
      d.drawers?.forEach(collect);
    };
    collect(drawer);
    const own = bands.filter((b) => b.drawer && inside.has(b.drawer.id));
    if (own.length > 0) bars.push({ drawer, depth, top: own[0]!.top, bottom: own.at(-1)!.top + own.at(-1)!.height });
  }
  return bars;
};

/** The band at a height of the board; the nearest one past its ends. Null when the report has no bands. */
export const bandAt = (bands: readonly BoardBand[], y: number): BoardBand | null =>
  bands.find((b) => y < b.top + b.height) ?? bands.at(-1) ?? null;

export interface BoardArea {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Ids of the items that an area of the board touches. */
export const itemsIn = (bands: readonly BoardBand[], area: BoardArea): string[] => {
  const ids: string[] = [];
  for (const { band, top } of bands) {
    for (const item of band.items) {
      const meets =
        item.x < area.x + area.width &&
        item.x + item.width > area.x &&
        top + item.y < area.y + area.height &&
        top + item.y + item.height > area.y;
      if (meets) ids.push(item.id);
    }
  }
  return ids;
};

/** A field, parameter or page value that can be placed. */
export interface Placeable {
  label: string;
  type: DataType;
  /** Drawer whose rows have the field; null for parameters and page values. */
  drawer: Drawer | null;
  /** Path from that drawer, or the whole name. */
  path: string[];
}

/** How a formula in `band` reaches what is placed: bare inside its own drawer, by the drawer's name elsewhere. */
export const formulaFor = (placeable: Placeable, band: BandAddress): string => {
  const path =
    placeable.drawer && placeable.drawer.id !== band.drawer
      ? [placeable.drawer.name, ...placeable.path]
      : placeable.path;
  return path
    .map((part) => (/^[\p{L}_][\p{L}\p{N}_]*$/u.test(part) ? part : `'${part.replace(/'/g, "''")}'`))
    .join('.');
};

const SET_BANDS: readonly (DrawerBand | ReportBand)[] = ['header', 'footer'];

/**
 * The item that dropping a field makes, which depends on where: in a detail band its value; in a header its caption; in a
 * footer its total. A field of an inner drawer becomes its total everywhere.
 */
export const itemFor = (report: Report, placeable: Placeable, address: BandAddress, x: number, y: number): Item => {
  const formula = formulaFor(placeable, address);
  const height = 5;
  const isSet = placeable.drawer !== null && SET_BANDS.includes(address.band) && !isAround(placeable.drawer, address);
  const inner =
    placeable.drawer !== null && address.drawer !== null && isInside(report, placeable.drawer, address.drawer);
  if (isSet && address.band === 'header' && address.drawer !== null) {
    const id = freshId(report, 'text');
    return { kind: 'text', id, x, y, width: 30, height, content: [placeable.label], look: { bold: true } };
  }
  if (placeable.type === 'picture' && !isSet && !inner) {
    return {
      kind: 'picture',
      id: freshId(report, 'picture'),
      x,
      y,
      width: 24,
      height: 17,
      formula,
      fit: 'whole',
      alternative: placeable.label,
    };
  }
  const id = freshId(report, 'field');
  const numeric = placeable.type === 'number';
  const total = isSet || inner;
  return {
    kind: 'field',
    id,
    x,
    y,
    width: numeric ? 28 : 40,
    height,
    formula: total ? `${numeric ? 'SUM' : 'COUNT'}(${formula})` : formula,
    ...(numeric || total ? { look: { align: 'right' as const, ...(total ? { bold: true } : {}) } } : {}),
  };
};

const findDrawer = (report: Report, id: string): Drawer | null =>
  [...drawersOf(report)].find((d) => d.drawer.id === id)?.drawer ?? null;

const contains = (drawer: Drawer, id: string): boolean =>
  drawer.drawers?.some((d) => d.id === id || contains(d, id)) ?? false;

/** Whether `drawer` lies inside the drawer with the id `outer`. */
const isInside = (report: Report, drawer: Drawer, outer: string): boolean => {
  const found = findDrawer(report, outer);
  return found !== null && contains(found, drawer.id);
};

/** Whether the band's drawer lies inside `drawer`, so that one row of it is current there. */
const isAround = (drawer: Drawer, address: BandAddress): boolean =>
  address.drawer !== null && contains(drawer, address.drawer);

export const snap = (value: number, grid: number): number => (grid > 0 ? Math.round(value / grid) * grid : value);
