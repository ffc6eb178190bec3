import type { Box } from './prepared.ts';

/** A stretch from left to right, in points, in which things change sides. */
export interface Width {
  left: number;
  width: number;
}

/** Where something as wide as `width` has its left edge on the other side. */
export const otherSide = (of: Width, x: number, width: number): number => 2 * of.left + of.width - x - width;

/** A box on the other side of what is `around` wide. */
export const mirroredBox = (box: Box, around: number): Box => ({
  ...box,
  x: otherSide({ left: 0, width: around }, box.x, box.width),
});
