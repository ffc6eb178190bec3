type Corner = readonly [number, number];

/** Kinds of hatching by which areas are told apart without their colours; the first area has none. */
export const HATCHES: readonly { angles: readonly number[]; gap: number }[] = [
  { angles: [], gap: 4 },
  { angles: [45], gap: 4 },
  { angles: [-45], gap: 4 },
  { angles: [45, -45], gap: 5 },
  { angles: [0], gap: 3.5 },
  { angles: [90], gap: 3.5 },
  { angles: [0, 90], gap: 4.5 },
  { angles: [20], gap: 3 },
];

/** Most lines of one area: a pattern that is finer than that is of no use. */
const MOST_LINES = 400;

/**
 * Parallel lines inside a polygon, as pairs of ends. Where parts of the polygon lie over each other they cancel out.
 * `angle` in degrees, clockwise from the horizontal; `gap` is the distance of the lines.
 */
export const hatchLines = (polygon: readonly Corner[], angle: number, gap: number): [Corner, Corner][] => {
  const turn = (angle * Math.PI) / 180;
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  // The lines are horizontal in a frame that is turned with them.
  const turned = polygon.map(([x, y]): Corner => [x * cos + y * sin, -x * sin + y * cos]);
  const heights = turned.map(([, y]) => y);
  const [low, high] = [Math.min(...heights), Math.max(...heights)];
  if (!(high > low) || (high - low) / gap > MOST_LINES) return [];
  const lines: [Corner, Corner][] = [];
  // At whole multiples of the gap, so that lines of areas side by side meet.
  for (let at = (Math.floor(low / gap) + 0.5) * gap; at < high; at += gap) {
    const crossings: number[] = [];
    for (const [i, [x1, y1]] of turned.entries()) {
      const [x2, y2] = turned[(i + 1) % turned.length]!;
      if (y1 <= at === y2 <= at) continue;
      crossings.push(x1 + ((at - y1) / (y2 - y1)) * (x2 - x1));
    }
    crossings.sort((a, b) => a - b);
    for (let i = 0; i + 1 < crossings.length; i += 2) {
      const [from, to] = [crossings[i]!, crossings[i + 1]!];
      if (to - from < 0.05) continue;
      lines.push([
        [from * cos - at * sin, from * sin + at * cos],
        [to * cos - at * sin, to * sin + at * cos],
      ]);
    }
  }
  return lines;
};
