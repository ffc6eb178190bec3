import { isMeasured, type Reached, type Sketch, type SketchColumn } from '@gaveta/core/internal';
import type { AcrossValue } from './across-cells.ts';
import { typeOf } from './words.ts';

/** Least width of the column of groups, in CSS pixels, and where the view is narrower than so many. */
const GROUP_WIDTH = { usual: 260, narrow: 160, below: 640 };
const WIDTHS = { number: 120, date: 120, text: 190 } as const;
/** Of a number below a value that goes across. */
const ACROSS_WIDTH = 96;
/** Cells in a line from which on only those in view are drawn. */
const MANY = 40;
/** How far past the view cells are drawn, in CSS pixels. */
const OVER = 400;

/** One place in each line. */
export interface CellLook {
  column: SketchColumn;
  /** The value across that it stands below; null for what all of them have together, and where nothing goes across. */
  over: AcrossValue | null;
  isRight: boolean;
  /** In CSS pixels, where nothing is stretched. */
  x: number;
  width: number;
  /** Distance from the start of those that stay in view, in CSS pixels; null for those that scroll. */
  left: number | null;
}

/** How lines are laid out. */
export interface LineLook {
  cells: readonly CellLook[];
  /** Places of the cells that are drawn. */
  drawn: readonly number[];
  hasGroups: boolean;
  /** Least width of the column of groups, in CSS pixels; 0 without one. */
  groupWidth: number;
  /** Of a CSS grid. */
  template: string;
  minWidth: number;
}

/** A column whose edge is being dragged. */
export interface Resized {
  name: string;
  width: number;
}

/** What stands in each line of a sketch, and where; `view`: what of it is in view, in CSS pixels. */
export const lineLook = (
  sketch: Sketch,
  reach: readonly Reached[],
  values: readonly AcrossValue[],
  resized: Resized | null,
  view: { from: number; width: number },
): LineLook => {
  const { across } = sketch;
  const hasGroups = sketch.groups.length > 0;
  const seen = sketch.columns.filter((column) => !column.hidden && (!across || isMeasured(column)));
  const columns = [...seen.filter(({ pinned }) => pinned), ...seen.filter(({ pinned }) => !pinned)];
  const places = across
    ? [...values.map((value) => ({ over: value })), ...(across.withoutTotal ? [] : [{ over: null }])]
    : [{ over: null }];
  const cells: CellLook[] = [];
  const tracks: string[] = [];
  const { usual, narrow, below } = GROUP_WIDTH;
  const groupWidth = !hasGroups ? 0 : view.width < below ? narrow : usual;
  let x = groupWidth;
  let left = x;
  for (const { over } of places)
    for (const column of columns) {
      const type = typeOf(sketch, column.name, reach);
      const own = resized?.name === column.name ? resized.width : column.width;
      const width = own ?? (across ? ACROSS_WIDTH : WIDTHS[type]);
      const isPinned = !across && column.pinned === true;
      cells.push({ column, over, isRight: type === 'number', x, width, left: isPinned ? left : null });
      if (isPinned) left += width;
      x += width;
      // What has no width of its own shares what is left.
      tracks.push(own !== undefined || isPinned ? `${width}px` : `minmax(${width}px, ${width}fr)`);
    }
  const isAll = cells.length <= MANY;
  const isNear = (cell: CellLook): boolean =>
    isAll || cell.left !== null || (cell.x + cell.width > view.from - OVER && cell.x < view.from + view.width + OVER);
  return {
    cells,
    drawn: cells.flatMap((cell, i) => (isNear(cell) ? [i] : [])),
    hasGroups,
    groupWidth,
    template: [...(hasGroups ? [`minmax(${groupWidth}px, ${usual}fr)`] : []), ...tracks].join(' '),
    minWidth: x,
  };
};

/** Where a cell stands in the grid of its line, so that those before it need not be drawn. */
export const gridColumn = ({ hasGroups }: LineLook, place: number): number => place + (hasGroups ? 2 : 1);
