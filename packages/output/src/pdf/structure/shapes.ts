import type { Mark, MarkRole } from '@gaveta/core/internal';
import type { ElementType } from './tree.ts';

/** One of the texts of a band: what it is and which of its cells or paragraphs it stands in. */
interface ShapeText {
  item: string | undefined;
  part: number | undefined;
  as: MarkRole | undefined;
  cell: number;
  /** A space ends it. */
  isSpaced: boolean;
}

/** A cell of a row, or a paragraph. */
export interface ShapeCell {
  type: ElementType;
  attributes: string;
  /** First column, from 0, and how many; of a cell. */
  start: number;
  span: number;
}

/** How a band of texts was tagged: the next one with the same texts is tagged the same without looking at where they stand. */
export interface Shape<T> {
  texts: readonly ShapeText[];
  cells: readonly ShapeCell[];
  /** The table that it is a row of; null for paragraphs. */
  table: T;
}

/** What a shape says of the texts of a band; null where they cannot be told by it. `cellOf`: the cell of the mark at a place. */
export const shapeOf = <T>(
  marks: readonly Mark[],
  from: number,
  to: number,
  cells: readonly ShapeCell[],
  cellOf: (place: number) => number,
  spaced: ReadonlySet<number>,
  table: T,
): Shape<T> | null => {
  const texts: ShapeText[] = [];
  for (let at = from; at < to; at++) {
    const mark = marks[at]!;
    if (mark.kind === 'text') {
      if (mark.as === 'artifact') continue;
      const cell = cellOf(at);
      if (cell < 0) return null;
      texts.push({ item: mark.item, part: mark.part, as: mark.as, cell, isSpaced: spaced.has(at) });
    } else if (!isPassed(mark)) return null;
  }
  return { texts, cells, table };
};

const isPassed = ({ kind }: Mark): boolean => kind === 'line' || kind === 'rectangle';

/** The places of the marks of each cell of a shape; null where the texts are others. `spaced` gets those that a space ends. */
export const fitted = (
  { texts, cells }: Pick<Shape<unknown>, 'texts' | 'cells'>,
  marks: readonly Mark[],
  from: number,
  to: number,
  spaced: Set<number>,
): number[][] | null => {
  const found: number[][] = cells.map(() => []);
  const ended: number[] = [];
  let next = 0;
  for (let at = from; at < to; at++) {
    const mark = marks[at]!;
    if (mark.kind !== 'text') {
      if (!isPassed(mark)) return null;
      continue;
    }
    if (mark.as === 'artifact') continue;
    const text = texts[next++];
    if (!text || mark.item !== text.item || mark.part !== text.part || mark.as !== text.as) return null;
    found[text.cell]!.push(at);
    if (text.isSpaced) ended.push(at);
  }
  if (next !== texts.length) return null;
  for (const at of ended) spaced.add(at);
  return found;
};
