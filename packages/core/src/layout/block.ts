import type { PieceMark } from '../content/pieces.ts';
import type { PageValues } from '../formula/functions/context.ts';
import { type Mark, markExtent, roomOf, shiftMark } from '../page/marks.ts';
import type { LaidPlace, MarkRole } from '../page/page.ts';

/**
 * Stands in for marks whose text depends on the page they land on. `make` gives them relative to this mark's place.
 * `page`: when the page is complete; `count`: when the last page is.
 */
export interface LateMark {
  kind: 'late';
  x: number;
  y: number;
  height: number;
  /** Id of the definition's item that made it. */
  item?: string;
  as?: MarkRole;
  needs: 'page' | 'count';
  make: (page: PageValues) => Mark[];
}

/** Texts of documents that go on living are pieces instead of marks: nothing breaks their lines. */
export type LaidMark = Mark | LateMark | PieceMark;

/** A band on its way to its page, as a run notes it. */
export interface TracedBand {
  height: number;
  page: number;
  /** More than its height matters: where it is cut, or what it shows when the number of pages is known. */
  isNeeded: boolean;
}

/** A laid-out band, or a part of one: marks relative to its top left corner. Lengths in points. */
export interface Block {
  height: number;
  marks: LaidMark[];
  /** Called once the block, or its first part, has its place on a page. */
  landings?: (() => void)[];
  /** Stands at the top of every page after the one it lands on, until the flow is told to stop. */
  repeats?: boolean;
  /** The bands in it, where a run notes what becomes of them. */
  traced?: TracedBand[];
  /** Where items stand that are not where the definition puts them. */
  places?: Record<string, LaidPlace>;
  /** May be cut where the page ends, instead of going to the next page as a whole. */
  mayBeCut?: boolean;
}

export const shiftLaid = (mark: LaidMark, dx: number, dy: number): void => {
  if (isWhole(mark)) {
    mark.x += dx;
    mark.y += dy;
  } else shiftMark(mark, dx, dy);
};

/** A copy to put elsewhere; it does not land a second time. */
export const copyBlock = ({ height, marks, traced }: Block): Block => ({
  height,
  marks: marks.map((m) => ({ ...m })),
  ...(traced ? { traced } : {}),
});

/** Puts one block's marks and landings into another, moved. */
export const mergeBlock = (into: Block, block: Block, dx: number, dy: number): void => {
  for (const mark of block.marks) {
    shiftLaid(mark, dx, dy);
    into.marks.push(mark);
  }
  if (block.landings) into.landings = [...(into.landings ?? []), ...block.landings];
  if (block.traced) into.traced = [...(into.traced ?? []), ...block.traced];
  into.height = Math.max(into.height, block.height + dy);
};

/** Top and bottom of what a mark covers. */
const extent = (mark: LaidMark): [number, number] =>
  isWhole(mark) ? [mark.y, mark.y + mark.height] : markExtent(mark);

const isWhole = (mark: LaidMark): mark is LateMark | PieceMark => mark.kind === 'late' || mark.kind === 'piece';

const canBeCut = (mark: LaidMark): boolean => !isWhole(mark) && roomOf(mark).mayBeCut(mark);

/** Lines of one text that stay together at the end of a page and at the start of the next. */
const LEAST_LINES = 2;

/** Tops of the lines of each text that has more than one, by its item. */
const linesByItem = (block: Block): number[][] => {
  const lines = new Map<string, Set<number>>();
  for (const mark of block.marks) {
    if (mark.kind !== 'text' || mark.item === undefined) continue;
    const tops = lines.get(mark.item) ?? new Set<number>();
    tops.add(Math.round(extent(mark)[0] * 100) / 100);
    lines.set(mark.item, tops);
  }
  return [...lines.values()].filter((tops) => tops.size > 1).map((tops) => [...tops].sort((a, b) => a - b));
};

/** The highest place at or above `cut` that leaves no line alone on either side of it. */
const withoutLoneLines = (lines: readonly number[][], cut: number): number => {
  let at = cut;
  for (const tops of lines) {
    const above = tops.filter((top) => top < at - 0.01).length;
    const below = tops.length - above;
    if (above === 0 || below === 0) continue;
    if (above < LEAST_LINES) at = Math.min(at, tops[0]!);
    else if (below < LEAST_LINES) at = Math.min(at, tops[Math.max(0, tops.length - LEAST_LINES)]!);
  }
  return at;
};

/**
 * Cuts a block that is taller than a page at or above `available`, so that no line of text and no picture is cut
 * through, and none stands alone. `full` is the height of an empty page. The two parts together hold every mark.
 */
export const splitBlock = (block: Block, available: number, full: number): [Block, Block] | null => {
  const lines = linesByItem(block);
  let cut = available;
  for (let moved = true; moved; ) {
    moved = false;
    for (const mark of block.marks) {
      const [top, bottom] = extent(mark);
      if (top < cut - 0.01 && bottom > cut + 0.01 && !canBeCut(mark) && bottom - top <= full) {
        cut = top;
        moved = true;
      }
    }
    const higher = withoutLoneLines(lines, cut);
    // On an empty page some line must go first, even alone.
    if (higher < cut - 0.01 && (higher > 0.5 || available < full - 0.5)) {
      cut = higher;
      moved = true;
    }
  }
  if (cut <= 0.5) return null;
  for (const band of block.traced ?? []) band.isNeeded = true;
  const upper: Block = { height: available, marks: [], ...(block.landings ? { landings: block.landings } : {}) };
  const lower: Block = { height: block.height - cut, marks: [], ...(block.mayBeCut ? { mayBeCut: true } : {}) };
  for (const mark of block.marks) {
    const [top, bottom] = extent(mark);
    if (bottom <= cut + 0.01) upper.marks.push(mark);
    else if (top >= cut - 0.01) {
      shiftLaid(mark, 0, -cut);
      lower.marks.push(mark);
    } else if (isWhole(mark)) upper.marks.push(mark);
    else {
      const [above, below] = roomOf(mark).cut(mark, { at: cut, full });
      if (above) upper.marks.push(above);
      if (below) lower.marks.push(below);
    }
  }
  return [upper, lower];
};
