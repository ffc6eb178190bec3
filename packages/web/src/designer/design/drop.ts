import { type BandAddress, type BoardBand, bandAt, snap } from '@gaveta/core/internal';

/** Grid that items snap to, in millimetres. */
export const GRID = 1;

export interface BoardMetrics {
  /** CSS pixels for a millimetre. */
  scale: number;
  bands: readonly BoardBand[];
}

export interface BoardPoint {
  address: BandAddress;
  /** In millimetres from the left and top of the band, on the grid. */
  x: number;
  y: number;
}

/** Set by the board while it is shown: what lies under a point of the window. */
let board: { element: HTMLElement; metrics: BoardMetrics } | null = null;
/** Where the pointer was last seen. */
let pointer: { x: number; y: number } | null = null;

export const showBoard = (element: HTMLElement | null, metrics: BoardMetrics): void => {
  board = element && { element, metrics };
};

export const noticePointer = (x: number, y: number): void => {
  pointer = { x, y };
};

/** Whether a point of the window lies in the part of the board that can be seen. */
export const isOnBoard = (clientX: number, clientY: number): boolean => {
  const area = document.querySelector('[data-testid="board"]')?.getBoundingClientRect();
  if (!area) return false;
  return clientX >= area.left && clientX <= area.right && clientY >= area.top && clientY <= area.bottom;
};

/** The band under a point of the window, and the place in it; null outside the board's page. */
export const dropAt = (clientX: number, clientY: number): BoardPoint | null => {
  if (!board) return null;
  const { element, metrics } = board;
  const area = element.getBoundingClientRect();
  // Over the margins, a band takes what is dropped at its edge.
  const paper = element.querySelector('[data-band]')?.getBoundingClientRect() ?? area;
  const [left, right] = [Math.min(area.left, paper.left), Math.max(area.right, paper.right)];
  if (clientX < left || clientX > right || clientY < area.top || clientY > area.bottom) return null;
  // The page goes on under what lies around the board.
  if (!isOnBoard(clientX, clientY)) return null;
  const x = Math.min(clientX - area.left, area.width) / metrics.scale;
  const y = (clientY - area.top) / metrics.scale;
  const open = metrics.bands.filter((b) => !b.collapsed);
  const band = bandAt(open, { x, y });
  return band
    ? {
        address: band.address,
        x: Math.max(0, snap(x - band.left, GRID)),
        y: Math.max(0, Math.min(snap(y - band.top, GRID), band.height)),
      }
    : null;
};

/** Where the pointer is on the board; null when it is elsewhere. */
export const pointerOnBoard = (): BoardPoint | null => pointer && dropAt(pointer.x, pointer.y);

/** A part of an item that takes fields. */
export interface PartOfItem {
  item: string;
  /** Null where the field goes to the part that suits it. */
  part: string | null;
  /** The part in words. */
  words: string;
}

/** The part of an item that lies under a point of the window; null where none does. */
export const partAt = (clientX: number, clientY: number): PartOfItem | null => {
  for (const element of document.elementsFromPoint(clientX, clientY)) {
    if (!(element instanceof HTMLElement)) continue;
    const { part, ofItem, partWords = '' } = element.dataset;
    if (ofItem !== undefined && part !== undefined) return { item: ofItem, part: part || null, words: partWords };
  }
  return null;
};
