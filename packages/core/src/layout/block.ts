import { type Mark, shiftMark } from '../page/page.ts';

/** What a mark needs to know of the page it lands on; `count` is null until the last page is known. */
export interface PagePlace {
  number: number;
  count: number | null;
}

/** Stands in for marks whose text depends on the page they land on. `make` gives them relative to this mark's place. */
export interface LateMark {
  kind: 'late';
  x: number;
  y: number;
  height: number;
  needs: 'number' | 'count';
  make: (page: PagePlace) => Mark[];
}

export type LaidMark = Mark | LateMark;

/** A laid-out band, or a part of one: marks relative to its top left corner. Lengths in points. */
export interface Block {
  height: number;
  marks: LaidMark[];
}

export const shiftLaid = (mark: LaidMark, dx: number, dy: number): void => {
  if (mark.kind !== 'late') shiftMark(mark, dx, dy);
  else {
    mark.x += dx;
    mark.y += dy;
  }
};

export const copyBlock = (block: Block): Block => ({ height: block.height, marks: block.marks.map((m) => ({ ...m })) });

/** Top and bottom of what a mark covers. */
const extent = (mark: LaidMark): [number, number] => {
  switch (mark.kind) {
    case 'text':
      // Together less than the distance of two lines, so that there is a place to cut between them.
      return [mark.y - mark.size * 0.95, mark.y + mark.size * 0.27];
    case 'line':
      return [Math.min(mark.y, mark.y2), Math.max(mark.y, mark.y2)];
    case 'late':
    case 'rectangle':
    case 'picture':
    case 'region':
      return [mark.y, mark.y + mark.height];
    default:
      return mark satisfies never;
  }
};

const canBeCut = (mark: LaidMark): boolean =>
  mark.kind === 'rectangle' || mark.kind === 'region' || (mark.kind === 'line' && mark.x === mark.x2);

/**
 * Cuts a block that is taller than a page at or above `available`, so that no line of text and no picture is cut
 * through. `full` is the height of an empty page. The two parts together hold every mark.
 */
export const splitBlock = (block: Block, available: number, full: number): [Block, Block] | null => {
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
  }
  if (cut <= 0.5) return null;
  const upper: Block = { height: available, marks: [] };
  const lower: Block = { height: block.height - cut, marks: [] };
  for (const mark of block.marks) {
    const [top, bottom] = extent(mark);
    if (bottom <= cut + 0.01) upper.marks.push(mark);
    else if (top >= cut - 0.01) {
      shiftLaid(mark, 0, -cut);
      lower.marks.push(mark);
    } else if (mark.kind === 'rectangle' || mark.kind === 'region') {
      upper.marks.push({ ...mark, height: cut - mark.y });
      lower.marks.push({ ...mark, y: 0, height: bottom - cut });
    } else if (mark.kind === 'line') {
      upper.marks.push({ ...mark, y: top, y2: cut });
      lower.marks.push({ ...mark, y: 0, y2: bottom - cut });
    } else if (mark.kind === 'picture') {
      // Taller than a page: shown whole, as large as the page allows.
      const scale = Math.min(1, full / mark.height);
      upper.marks.push({ ...mark, width: mark.width * scale, height: Math.min(mark.height * scale, cut - mark.y) });
    } else upper.marks.push(mark);
  }
  return [upper, lower];
};
