import type { ContentBox } from '@gaveta/core/internal';

/** How far boxes may reach into one another and still stand apart, in points. */
const OVERLAP = 1.5;

/** Between the left edges of two boxes of one line, in points. */
const LEAST_STEP = 4;

/** Boxes put in order: one, or groups of them below or beside one another. */
export type Cut<T extends ContentBox> =
  | { kind: 'one'; one: T; box: ContentBox }
  | { kind: 'stack' | 'row'; items: Cut<T>[]; box: ContentBox };

/** The box around boxes. */
export const around = (boxes: readonly ContentBox[]): ContentBox => {
  let [x, y, right, bottom] = [Number.POSITIVE_INFINITY, Number.POSITIVE_INFINITY, 0, 0];
  for (const box of boxes) {
    x = Math.min(x, box.x);
    y = Math.min(y, box.y);
    right = Math.max(right, box.x + box.width);
    bottom = Math.max(bottom, box.y + box.height);
  }
  return { x, y, width: right - x, height: bottom - y };
};

type Axis = { from: 'x' | 'y'; long: 'width' | 'height' };
const ACROSS: Axis = { from: 'x', long: 'width' };
const DOWN: Axis = { from: 'y', long: 'height' };

/** Groups of boxes that stand apart along an axis, in its order. */
const apart = <T extends ContentBox>(boxes: readonly T[], { from, long }: Axis): T[][] => {
  const sorted = [...boxes].sort((a, b) => a[from] - b[from]);
  const groups: T[][] = [];
  let end = Number.NEGATIVE_INFINITY;
  for (const box of sorted) {
    const last = groups.at(-1);
    // A line of type that is higher than its box stands apart all the same.
    const reach = Math.min(OVERLAP, box[long] / 3);
    if (last && box[from] < end - reach) last.push(box);
    else groups.push([box]);
    end = Math.max(end, box[from] + box[long]);
  }
  return groups;
};

/**
 * Puts boxes in the order in which they are read: cut into rows from top to bottom and those into columns, as often as it takes;
 * `first`: which way it is cut first. Boxes that lie over one another come from top to bottom.
 */
export const cut = <T extends ContentBox>(boxes: readonly T[], first: 'stack' | 'row' = 'stack'): Cut<T> => {
  const box = around(boxes);
  const [only] = boxes;
  if (boxes.length === 1 && only) return { kind: 'one', one: only, box };
  const ways = first === 'stack' ? (['stack', 'row'] as const) : (['row', 'stack'] as const);
  for (const kind of ways) {
    const groups = apart(boxes, kind === 'row' ? ACROSS : DOWN);
    if (groups.length < 2) continue;
    const items = groups.map((group) => cut(group, first));
    // What reaches into one another on one line is part of that line.
    return { kind, items: items.flatMap((item) => (item.kind === kind ? item.items : [item])), box };
  }
  const beside = sideBySide(boxes);
  if (beside) return { kind: 'row', items: beside, box };
  const items = [...boxes].sort((a, b) => a.y - b.y || a.x - b.x).map((one) => cut([one]));
  return { kind: 'stack', items, box };
};

/** Boxes of one line that reach into one another, as wide as they are up to the next one; null where they are not of one line. */
const sideBySide = <T extends ContentBox>(boxes: readonly T[]): Cut<T>[] | null => {
  const sorted = [...boxes].sort((a, b) => a.x - b.x);
  const top = Math.max(...sorted.map(({ y }) => y));
  const bottom = Math.min(...sorted.map(({ y, height }) => y + height));
  if (bottom - top < Math.min(...sorted.map(({ height }) => height)) / 2) return null;
  if (sorted.some(({ x }, i) => i > 0 && x - sorted[i - 1]!.x < LEAST_STEP)) return null;
  return sorted.map((one, i) => {
    const next = sorted[i + 1];
    const width = next ? Math.min(one.width, next.x - one.x) : one.width;
    return { kind: 'one', one, box: { x: one.x, y: one.y, width, height: one.height } };
  });
};
