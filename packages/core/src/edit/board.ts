import type { Band, Drawer, PageSetup, Report } from '../definition/schema.ts';
import { type BandAddress, bandKey, reportParts } from '../definition/walk.ts';
import { pageOfBand } from './paper.ts';

/** A band on the board. Lengths in millimetres from the top of the board's page. */
export interface BoardBand {
  address: BandAddress;
  /** `drawerId/detail`, `pageHeader`: the same key as on laid-out pages. */
  key: string;
  band: Band;
  top: number;
  height: number;
  drawer: Drawer | null;
  /** The paper that it stands on. */
  page: PageSetup;
  collapsed: boolean;
}

/** How the board shows a report. */
export interface BoardView {
  /** Room for the sentence above each drawer, in millimetres. */
  heading: number;
  /** Drawers by id, and bands by key, that are folded away. */
  collapsed: ReadonlySet<string>;
  /** Height of a band that is folded away, in millimetres. */
  stub: number;
}

/** A drawer on the board, with room for its sentence above its first band. */
export interface BoardDrawer {
  drawer: Drawer;
  /** The drawer around. */
  outer: Drawer | null;
  depth: number;
  /** Top of its sentence. */
  top: number;
  bottom: number;
  collapsed: boolean;
}

export interface BoardLayout {
  bands: BoardBand[];
  drawers: BoardDrawer[];
  height: number;
}

const EVERYTHING: BoardView = { heading: 0, collapsed: new Set(), stub: 0 };

/** The report's bands under one another, as the board shows them. `heights` are heights that are being tried, by key. */
export const boardLayout = (
  report: Report,
  view: BoardView = EVERYTHING,
  heights: Readonly<Record<string, number>> = {},
): BoardLayout => {
  const bands: BoardBand[] = [];
  const drawers: BoardDrawer[] = [];
  const open: BoardDrawer[] = [];
  let top = 0;
  /** The outermost open drawer that is folded away; nothing inside it is shown. */
  let folded: Drawer | null = null;
  for (const part of reportParts(report)) {
    const { drawer } = part;
    if (part.kind === 'open') {
      const at = {
        drawer: part.drawer,
        outer: open.at(-1)?.drawer ?? null,
        depth: part.depth,
        top,
        bottom: top,
        collapsed: view.collapsed.has(part.drawer.id),
      };
      open.push(at);
      if (folded) continue;
      drawers.push(at);
      top += view.heading;
      if (at.collapsed) folded = drawer;
    } else if (part.kind === 'close') {
      open.pop()!.bottom = top;
      if (folded === drawer) folded = null;
    } else if (part.kind === 'band' && !folded) {
      const { band, address } = part.at;
      const key = bandKey(address);
      const collapsed = view.collapsed.has(key);
      const height = collapsed ? view.stub : (heights[key] ?? band.height);
      bands.push({ address, key, band, top, height, drawer, collapsed, page: pageOfBand(report, address) });
      top += height;
    }
  }
  return { bands, drawers, height: top };
};

/** The report's bands under one another, nothing folded away. */
export const boardBands = (report: Report): BoardBand[] => boardLayout(report).bands;

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
  for (const { band, top, collapsed } of bands) {
    if (collapsed) continue;
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

export const snap = (value: number, grid: number): number => (grid > 0 ? Math.round(value / grid) * grid : value);
