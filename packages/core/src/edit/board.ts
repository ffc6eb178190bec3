import type { Band, Drawer, Item, PageSetup, Report } from '../definition/schema.ts';
import { type BandAddress, bandKey, reportParts } from '../definition/walk.ts';
import type { Place } from './edit.ts';
import { pageOfBand, roomIn } from './paper.ts';

/** A band on the board. Lengths in millimetres from the left margin and the top of the board's page. */
export interface BoardBand {
  address: BandAddress;
  /** `drawerId/detail`, `pageHeader`: the same key as on laid-out pages. */
  key: string;
  band: Band;
  top: number;
  height: number;
  left: number;
  width: number;
  /** Whether it has a part of the page's width alone, as those of drawers side by side. */
  isPart: boolean;
  drawer: Drawer | null;
  /** How many drawers stand before it, side by side with those around it and its own. */
  side: number;
  /** The paper that it stands on. */
  page: PageSetup;
  collapsed: boolean;
  /**
   * Of an instance on a laid-out page: where items stand that are not where the definition puts them, from the band's own top left
   * corner; `isPart`: the others are not there at all.
   */
  laid?: { places: Readonly<Record<string, Place>>; isPart: boolean };
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
  /** The part of the page's width that it has, from the left margin; null where it has all of it. */
  across: { left: number; width: number } | null;
  /** As of {@link BoardBand}. */
  side: number;
  collapsed: boolean;
}

export interface BoardLayout {
  bands: BoardBand[];
  drawers: BoardDrawer[];
  height: number;
}

const EVERYTHING: BoardView = { heading: 0, collapsed: new Set(), stub: 0 };

/** Drawers that stand side by side: where the first one began, where the longest so far ends, and how many there are. */
interface Row {
  top: number;
  bottom: number;
  count: number;
}

/** A drawer that is being laid out, or the report around all of them. */
interface Open {
  at: BoardDrawer | null;
  row: Row | null;
}

/**
 * The report's bands under one another, drawers side by side beside one another, as the board shows them. `heights` are heights
 * that are being tried, by key.
 */
export const boardLayout = (
  report: Report,
  view: BoardView = EVERYTHING,
  heights: Readonly<Record<string, number>> = {},
): BoardLayout => {
  const bands: BoardBand[] = [];
  const drawers: BoardDrawer[] = [];
  const open: Open[] = [{ at: null, row: null }];
  let top = 0;
  /** The outermost open drawer that is folded away; nothing inside it is shown. */
  let folded: Drawer | null = null;
  /** What comes next in a drawer begins below all that stand side by side in it. */
  const endRow = (around: Open): void => {
    if (around.row) top = Math.max(top, around.row.bottom);
    around.row = null;
  };
  for (const part of reportParts(report)) {
    const { drawer } = part;
    const around = open.at(-1)!;
    if (part.kind === 'open') {
      const { beside } = part.drawer;
      if (!beside) endRow(around);
      else if (around.row) top = around.row.top;
      else around.row = { top, bottom: top, count: 0 };
      const outer = around.at;
      const at: BoardDrawer = {
        drawer: part.drawer,
        outer: outer?.drawer ?? null,
        depth: part.depth,
        top,
        bottom: top,
        across: beside ? { left: (outer?.across?.left ?? 0) + beside.x, width: beside.width } : (outer?.across ?? null),
        side: (outer?.side ?? 0) + (around.row ? around.row.count++ : 0),
        collapsed: view.collapsed.has(part.drawer.id),
      };
      open.push({ at, row: null });
      if (folded) continue;
      drawers.push(at);
      top += view.heading;
      if (at.collapsed) folded = drawer;
    } else if (part.kind === 'close') {
      endRow(around);
      around.at!.bottom = top;
      open.pop();
      const { row } = open.at(-1)!;
      if (row) row.bottom = Math.max(row.bottom, top);
      if (folded === drawer) folded = null;
    } else if (part.kind === 'band' && !folded) {
      endRow(around);
      const { band, address } = part.at;
      const key = bandKey(address);
      const collapsed = view.collapsed.has(key);
      const height = collapsed ? view.stub : (heights[key] ?? band.height);
      const page = pageOfBand(report, address);
      const { across = null, side = 0 } = around.at ?? {};
      const own = { left: across?.left ?? 0, width: roomIn(report, address), isPart: across !== null, side };
      bands.push({ address, key, band, top, height, ...own, drawer, collapsed, page });
      top += height;
    }
  }
  endRow(open[0]!);
  return { bands, drawers, height: top };
};

/** The report's bands under one another, nothing folded away. */
export const boardBands = (report: Report): BoardBand[] => boardLayout(report).bands;

/** The items of a band with their places, counted as its own place is. */
export const placesIn = ({ band, left, top, width, collapsed, laid }: BoardBand): [item: Item, place: Place][] => {
  if (collapsed) return [];
  return band.items.flatMap((item): [Item, Place][] => {
    const own = laid?.places[item.id];
    if (own) return [[item, { ...own, x: left + own.x, y: top + own.y }]];
    if (laid?.isPart) return [];
    const { share } = item;
    const x = share?.x === undefined ? item.x : (share.x * width) / 100;
    const wide = share?.width === undefined ? item.width : (share.width * width) / 100;
    return [[item, { x: left + x, y: top + item.y, width: wide, height: item.height }]];
  });
};

/** How far a place is from a stretch. */
const away = (at: number, from: number, size: number): number => Math.max(from - at, 0, at - from - size);

/** The band at a place of the board; the nearest one where there is none. Null when the report has no bands. */
export const bandAt = (bands: readonly BoardBand[], { x, y }: { x: number; y: number }): BoardBand | null => {
  let nearest: { band: BoardBand; far: number } | null = null;
  for (const band of bands) {
    // A band that has the whole width takes what is let go over its margins too.
    const aside = band.isPart ? away(x, band.left, band.width) : 0;
    // At the edge of two it is the lower one.
    const edge = y >= band.top + band.height ? 0.001 : 0;
    const far = Math.hypot(aside, away(y, band.top, band.height) + edge);
    if (!nearest || far < nearest.far) nearest = { band, far };
  }
  return nearest?.band ?? null;
};

export interface BoardArea {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Ids of the items that an area touches. */
export const itemsIn = (bands: readonly BoardBand[], area: BoardArea): string[] =>
  bands.flatMap((band) =>
    placesIn(band)
      .filter(
        ([, { x, y, width, height }]) =>
          x < area.x + area.width && x + width > area.x && y < area.y + area.height && y + height > area.y,
      )
      .map(([item]) => item.id),
  );

export const snap = (value: number, grid: number): number => (grid > 0 ? Math.round(value / grid) * grid : value);
