import type { Place } from './edit.ts';

/** A line that shows what something snapped to, in millimetres of the board. */
export interface Guide {
  along: 'x' | 'y';
  /** Where the line stands: its x when it runs down, its y when it runs across. */
  at: number;
  from: number;
  to: number;
  /** An edge or middle that meets another, or a gap as wide as another one. */
  kind: 'edge' | 'gap';
}

export interface Snapped {
  dx: number;
  dy: number;
  guides: Guide[];
}

export interface SnapSettings {
  /** Places that edges and middles snap to besides other items: page edges, edges of bands. */
  xs: readonly number[];
  ys: readonly number[];
  grid: number;
  /** How near is near enough, in millimetres. */
  reach: number;
  /** Edges that move: all of them when an item moves, one when it is resized. */
  edges: { x: readonly ('start' | 'middle' | 'end')[]; y: readonly ('start' | 'middle' | 'end')[] };
}

const ALL_EDGES = ['start', 'middle', 'end'] as const;

export const MOVING: SnapSettings['edges'] = { x: ALL_EDGES, y: ALL_EDGES };

interface Line {
  start: number;
  size: number;
}

const edgeAt = ({ start, size }: Line, edge: 'start' | 'middle' | 'end'): number =>
  edge === 'start' ? start : edge === 'end' ? start + size : start + size / 2;

/** The shortest way from an edge of `moving` to a place, within reach; null when there is none. */
const nearestEdge = (
  moving: Line,
  edges: readonly ('start' | 'middle' | 'end')[],
  others: readonly Line[],
  places: readonly number[],
  reach: number,
): number | null => {
  let best: number | null = null;
  const consider = (by: number): void => {
    if (Math.abs(by) <= reach && (best === null || Math.abs(by) < Math.abs(best))) best = by;
  };
  for (const edge of edges) {
    const at = edgeAt(moving, edge);
    for (const place of places) if (edge !== 'middle') consider(place - at);
    for (const other of others) {
      if (edge === 'middle') consider(edgeAt(other, 'middle') - at);
      else {
        consider(other.start - at);
        consider(other.start + other.size - at);
      }
    }
  }
  return best;
};

/** Ways to where the gap to a neighbour is as wide as that between two others in the same row or column. */
const nearestGap = (moving: Line, row: readonly Line[], reach: number): { by: number; gap: number } | null => {
  const sorted = [...row].sort((a, b) => a.start - b.start);
  const gaps: number[] = [];
  for (const [i, line] of sorted.entries()) {
    const next = sorted[i + 1];
    if (next && next.start > line.start + line.size) gaps.push(next.start - line.start - line.size);
  }
  const end = moving.start + moving.size;
  const before = sorted.filter((l) => l.start + l.size <= moving.start + reach).at(-1);
  const after = sorted.find((l) => l.start >= end - reach);
  let best: { by: number; gap: number } | null = null;
  const consider = (by: number, gap: number): void => {
    if (Math.abs(by) <= reach && (best === null || Math.abs(by) < Math.abs(best.by))) best = { by, gap };
  };
  for (const gap of gaps) {
    if (before) consider(before.start + before.size + gap - moving.start, gap);
    if (after) consider(after.start - gap - end, gap);
  }
  if (before && after) {
    const gap = (after.start - before.start - before.size - moving.size) / 2;
    if (gap > 0) consider(before.start + before.size + gap - moving.start, gap);
  }
  return best;
};

const across = (p: Place): Line => ({ start: p.x, size: p.width });
const down = (p: Place): Line => ({ start: p.y, size: p.height });

const meets = (a: Line, b: Line): boolean => a.start < b.start + b.size && a.start + a.size > b.start;

const near = (a: number, b: number): boolean => Math.abs(a - b) < 0.01;

/**
 * Where something that is dragged comes to stand: at edges and middles of others, at gaps as wide as others, else on the
 * grid. `box` and `others` in millimetres of the board; `box` is where the pointer has it.
 */
export const snapTo = (box: Place, others: readonly Place[], settings: SnapSettings): Snapped => {
  const { xs, ys, grid, reach, edges } = settings;
  const onGrid = (value: number): number => (grid > 0 ? Math.round(value / grid) * grid - value : 0);
  const edgeX = nearestEdge(across(box), edges.x, others.map(across), xs, reach);
  const edgeY = nearestEdge(down(box), edges.y, others.map(down), ys, reach);
  const isMoving = edges.x.length === 3;
  const rowMates = others.filter((o) => meets(down(box), down(o))).map(across);
  const columnMates = others.filter((o) => meets(across(box), across(o))).map(down);
  const gapX = edgeX === null && isMoving ? nearestGap(across(box), rowMates, reach) : null;
  const gapY = edgeY === null && isMoving ? nearestGap(down(box), columnMates, reach) : null;
  const dx = edgeX ?? gapX?.by ?? (edges.x.length > 0 ? onGrid(edgeAt(across(box), edges.x[0]!)) : 0);
  const dy = edgeY ?? gapY?.by ?? (edges.y.length > 0 ? onGrid(edgeAt(down(box), edges.y[0]!)) : 0);
  const landed = { ...box, x: box.x + dx, y: box.y + dy };
  return { dx, dy, guides: guidesOf(landed, others, settings, edgeX !== null, edgeY !== null, gapX, gapY) };
};

const guidesOf = (
  box: Place,
  others: readonly Place[],
  { xs, ys, edges }: SnapSettings,
  onX: boolean,
  onY: boolean,
  gapX: { gap: number } | null,
  gapY: { gap: number } | null,
): Guide[] => {
  const guides: Guide[] = [];
  /** Lines where an edge of the box meets those of others, or a fixed place. */
  const meeting = (
    along: Guide['along'],
    names: readonly ('start' | 'middle' | 'end')[],
    fixed: readonly number[],
    lineOf: (p: Place) => Line,
    spanOf: (p: Place) => Line,
  ): void => {
    for (const edge of names) {
      const at = edgeAt(lineOf(box), edge);
      const mates = others.filter((o) => {
        const { start, size } = lineOf(o);
        return edge === 'middle' ? near(start + size / 2, at) : near(start, at) || near(start + size, at);
      });
      if (mates.length === 0 && !(edge !== 'middle' && fixed.some((place) => near(place, at)))) continue;
      const spans = [...mates, box].map(spanOf);
      const from = Math.min(...spans.map((l) => l.start));
      const to = Math.max(...spans.map((l) => l.start + l.size));
      guides.push({ along, at, from, to, kind: 'edge' });
    }
  };
  if (onX) meeting('y', edges.x, xs, across, down);
  if (onY) meeting('x', edges.y, ys, down, across);
  if (gapX) {
    const at = box.y + box.height / 2;
    guides.push({ along: 'x', at, from: box.x - gapX.gap, to: box.x, kind: 'gap' });
    guides.push({ along: 'x', at, from: box.x + box.width, to: box.x + box.width + gapX.gap, kind: 'gap' });
  }
  if (gapY) {
    const at = box.x + box.width / 2;
    guides.push({ along: 'y', at, from: box.y - gapY.gap, to: box.y, kind: 'gap' });
    guides.push({ along: 'y', at, from: box.y + box.height, to: box.y + box.height + gapY.gap, kind: 'gap' });
  }
  return guides;
};
