import type { BoardBand } from '@gaveta/core/internal';
import { holds, partDrawnAt, pointIn, type Surface } from '../design/surfaces.ts';

export const BOARD = 'board';

/** The board as what takes drops. `outer`: what scrolls; `sheet`: what its bands are placed in; `scale`: CSS pixels for a millimetre. */
export const boardSurface = (
  outer: HTMLElement,
  sheet: HTMLElement,
  { scale, bands }: { scale: number; bands: readonly BoardBand[] },
): Surface => ({
  covers: (clientX, clientY) => holds(outer.getBoundingClientRect(), clientX, clientY),
  at: (clientX, clientY) => {
    const area = sheet.getBoundingClientRect();
    // Over the margins, a band takes what is dropped at its edge.
    const paper = sheet.querySelector('[data-band]')?.getBoundingClientRect() ?? area;
    const [left, right] = [Math.min(area.left, paper.left), Math.max(area.right, paper.right)];
    if (clientX < left || clientX > right || clientY < area.top || clientY > area.bottom) return null;
    const x = Math.min(clientX - area.left, area.width) / scale;
    return pointIn(bands, { x, y: (clientY - area.top) / scale }, BOARD);
  },
  part: partDrawnAt,
});

/** Ids of the items that are drawn at a point of the window, those in front first. */
export const itemsDrawnAt = (clientX: number, clientY: number): string[] =>
  document
    .elementsFromPoint(clientX, clientY)
    .map((element) => (element instanceof HTMLElement ? element.dataset.item : undefined))
    .filter((id) => id !== undefined);
