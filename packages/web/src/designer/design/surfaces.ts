import { type BandAddress, type BoardBand, bandAt, snap } from '@gaveta/core/internal';

/** Grid that items snap to, in millimetres. */
export const GRID = 1;

export interface BoardPoint {
  address: BandAddress;
  /** In millimetres from the left and top of the band, on the grid. */
  x: number;
  y: number;
  /** Where the band stands on its surface, in millimetres of it; left out for a place without pointing. */
  on?: { surface: string; left: number; top: number; height: number };
}

/** A part of an item that takes fields. */
export interface PartOfItem {
  item: string;
  /** Null where the field goes to the part that suits it. */
  part: string | null;
  /** The part in words. */
  words: string;
}

/** Something that shows the report and takes what is dropped on it: the board, or the live page. */
export interface Surface {
  /** Whether a point of the window lies in the part of it that can be seen. */
  covers: (clientX: number, clientY: number) => boolean;
  /** The band under a point of the window, and the place in it; null outside the page. */
  at: (clientX: number, clientY: number) => BoardPoint | null;
  /** The part of an item there that takes fields. */
  part: (clientX: number, clientY: number) => PartOfItem | null;
}

const surfaces = new Set<Surface>();
/** Where the pointer was last seen. */
let pointer: { x: number; y: number } | null = null;

/** A surface that is shown from now on, until what is returned is called. */
export const showSurface = (surface: Surface): (() => void) => {
  surfaces.add(surface);
  return () => void surfaces.delete(surface);
};

export const noticePointer = (x: number, y: number): void => {
  pointer = { x, y };
};

const surfaceAt = (clientX: number, clientY: number): Surface | undefined =>
  [...surfaces].find((surface) => surface.covers(clientX, clientY));

/** Whether a point of the window lies on the board or the live page. */
export const isOnSurface = (clientX: number, clientY: number): boolean => surfaceAt(clientX, clientY) !== undefined;

/** The band under a point of the window, and the place in it; null outside of what shows the report. */
export const dropAt = (clientX: number, clientY: number): BoardPoint | null =>
  surfaceAt(clientX, clientY)?.at(clientX, clientY) ?? null;

/** Where the pointer is in the report; null when it is elsewhere. */
export const pointerInReport = (): BoardPoint | null => pointer && dropAt(pointer.x, pointer.y);

/** The part of an item that lies under a point of the window; null where none does. */
export const partAt = (clientX: number, clientY: number): PartOfItem | null =>
  surfaceAt(clientX, clientY)?.part(clientX, clientY) ?? null;

/** The band at a place of a surface, and the place in it. */
export const pointIn = (
  bands: readonly BoardBand[],
  { x, y }: { x: number; y: number },
  surface: string,
): BoardPoint | null => {
  const band = bandAt(
    bands.filter((b) => !b.collapsed),
    { x, y },
  );
  if (!band) return null;
  // What a row made higher is dropped upon as the band that it comes from.
  const most = Math.min(band.height, band.band.height);
  return {
    address: band.address,
    x: Math.max(0, snap(x - band.left, GRID)),
    y: Math.max(0, Math.min(snap(y - band.top, GRID), most)),
    on: { surface, left: band.left, top: band.top, height: band.height },
  };
};

/** Whether a rectangle of the window holds a point of it. */
export const holds = ({ left, right, top, bottom }: DOMRect, x: number, y: number): boolean =>
  x >= left && x <= right && y >= top && y <= bottom;

/** The part of an item that is drawn under a point of the window. */
export const partDrawnAt = (clientX: number, clientY: number): PartOfItem | null => {
  for (const element of document.elementsFromPoint(clientX, clientY)) {
    if (!(element instanceof HTMLElement)) continue;
    const { part, ofItem, partWords = '' } = element.dataset;
    if (ofItem !== undefined && part !== undefined) return { item: ofItem, part: part || null, words: partWords };
  }
  return null;
};
