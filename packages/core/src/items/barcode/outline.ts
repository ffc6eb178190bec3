/** Steps to the right, down, to the left and up, and the bit of each. */
const STEPS = [
  [1, 0],
  [0, 1],
  [-1, 0],
  [0, -1],
] as const;

/**
 * Outlines of the dark modules of a square code, as corners x, y, x, y … in modules. What lies inside an odd number of them is dark.
 * Outlines, not a square for each module: seams would show between squares that touch.
 */
export const outlinesOf = (isDark: readonly (readonly boolean[])[]): number[][] => {
  const size = isDark.length;
  const dark = (x: number, y: number): boolean => isDark[y]?.[x] ?? false;
  const across = size + 1;
  // Which edges leave each corner, with what is dark to their right.
  const leaving = new Uint8Array(across * across);
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++) {
      if (!dark(x, y)) continue;
      const corner = y * across + x;
      if (!dark(x, y - 1)) leaving[corner]! |= 1;
      if (!dark(x + 1, y)) leaving[corner + 1]! |= 2;
      if (!dark(x, y + 1)) leaving[corner + across + 1]! |= 4;
      if (!dark(x - 1, y)) leaving[corner + across]! |= 8;
    }
  const outlines: number[][] = [];
  for (let start = 0; start < leaving.length; start++) {
    // Each outline has an edge that leads to the right.
    while (leaving[start]! & 1) {
      const outline: number[] = [];
      let at = start;
      let direction = 0;
      let before = -1;
      do {
        if (direction !== before) outline.push(at % across, Math.floor(at / across));
        leaving[at]! &= ~(1 << direction);
        const [x, y] = STEPS[direction]!;
        at += y * across + x;
        before = direction;
        // Where two modules touch at a corner, it stays with the one that it goes round.
        direction = [1, 0, 3].map((turn) => (direction + turn) % 4).find((next) => leaving[at]! & (1 << next)) ?? 0;
      } while (at !== start || leaving[at]! & (1 << direction));
      outlines.push(outline);
    }
  }
  return outlines;
};
