import type { PageSizeFrom } from '@gaveta/core/internal';
import { sizeOfPage } from './page-sizes.ts';

/** How pages stand: one below the other, one at a time, two beside each other, or as one long page without breaks. */
export const READING_MODES = ['continuous', 'single', 'two', 'long'] as const;
export type ReadingMode = (typeof READING_MODES)[number];

/** How large pages are: 1 is their actual size; `width` and `page` fit them into the window; `auto`: actual size, or what fits. */
export type Zoom = number | 'auto' | 'width' | 'page';

/** Points to CSS pixels at actual size. */
export const PIXELS = 96 / 72;

/** Around pages, and between them, in CSS pixels. */
export const GAP = 18;

export const LEAST_ZOOM = 0.2;
export const MOST_ZOOM = 5;

const STEP = 1.2;

export const clampZoom = (zoom: number): number => Math.min(MOST_ZOOM, Math.max(LEAST_ZOOM, zoom));

/** One step larger or smaller; a step that goes past actual size stops there. */
export const zoomStep = (from: number, direction: 1 | -1): number => {
  const to = from * STEP ** direction;
  return clampZoom((from - 1) * (to - 1) < -1e-9 ? 1 : to);
};

/** Pages beside each other. */
export const perRow = (mode: ReadingMode): 1 | 2 => (mode === 'two' ? 2 : 1);

/** Rows of pages. */
export const rowCount = (mode: ReadingMode, pages: number): number => Math.ceil(pages / perRow(mode));

/** The row that a page is in, from 0; pages are counted from 1. */
export const rowOf = (mode: ReadingMode, page: number): number => Math.floor((page - 1) / perRow(mode));

/** The pages of a row, of those that there are. */
export const pagesOf = (mode: ReadingMode, row: number, pages: number): number[] => {
  const first = row * perRow(mode) + 1;
  return Array.from({ length: Math.min(perRow(mode), pages - first + 1) }, (_, i) => first + i);
};

interface Size {
  width: number;
  height: number;
}

/** Size of a row of pages at a zoom, in CSS pixels, without what is around it. */
export const rowSize = (pages: readonly number[], sizes: readonly PageSizeFrom[], zoom: number): Size => {
  const found = pages.map((page) => sizeOfPage(sizes, page));
  return {
    width: found.reduce((sum, { width }) => sum + width * PIXELS * zoom, 0) + (pages.length - 1) * GAP,
    height: Math.max(...found.map(({ height }) => height)) * PIXELS * zoom,
  };
};

/** Width of the widest row at a zoom, in CSS pixels. */
export const widestRow = (mode: ReadingMode, sizes: readonly PageSizeFrom[], zoom: number): number => {
  const widest = Math.max(...sizes.map(({ width }) => width)) * PIXELS * zoom;
  return widest * perRow(mode) + (perRow(mode) - 1) * GAP;
};

/** The zoom as a number: how large pages are in a window with `room`, in CSS pixels. */
export const zoomIn = (
  zoom: Zoom,
  mode: ReadingMode,
  sizes: readonly PageSizeFrom[],
  page: number,
  room: Size | null,
): number => {
  if (typeof zoom === 'number') return zoom;
  if (!room || sizes.length === 0) return 1;
  const between = (perRow(mode) - 1) * GAP;
  const width = (room.width - between) / (widestRow(mode, sizes, 1) - between);
  if (zoom === 'auto') return clampZoom(Math.min(1, width));
  if (zoom === 'width') return clampZoom(width);
  const size = sizeOfPage(sizes, page);
  return clampZoom(Math.min(width, room.height / (size.height * PIXELS)));
};
