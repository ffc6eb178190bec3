import { type AnchorMark, anchorRoom } from './marks/anchor.ts';
import { type FigureMark, figureRoom } from './marks/figure.ts';
import { type FoldMark, foldRoom } from './marks/fold.ts';
import { type LineMark, lineRoom } from './marks/line.ts';
import { type LinkMark, linkRoom } from './marks/link.ts';
import type { MarkRole, MarkRoom } from './marks/mark.ts';
import { type OutlineMark, outlineRoom } from './marks/outline.ts';
import { type PathMark, pathRoom } from './marks/path.ts';
import { type PictureMark, pictureRoom } from './marks/picture.ts';
import { type RectangleMark, rectangleRoom } from './marks/rectangle.ts';
import { type RegionMark, regionRoom } from './marks/region.ts';
import { type ShapeMark, shapeRoom } from './marks/shape.ts';
import { type SlotMark, slotRoom } from './marks/slot.ts';
import { type TextMark, textRoom } from './marks/text.ts';

export type Mark =
  | TextMark
  | LineMark
  | RectangleMark
  | PictureMark
  | ShapeMark
  | PathMark
  | FigureMark
  | RegionMark
  | LinkMark
  | AnchorMark
  | OutlineMark
  | FoldMark
  | SlotMark;
export type MarkKind = Mark['kind'];
export type MarkOf<K extends MarkKind> = Extract<Mark, { kind: K }>;

const MARKS: { readonly [K in MarkKind]: MarkRoom<MarkOf<K>> } = {
  text: textRoom,
  line: lineRoom,
  rectangle: rectangleRoom,
  picture: pictureRoom,
  shape: shapeRoom,
  path: pathRoom,
  figure: figureRoom,
  region: regionRoom,
  link: linkRoom,
  anchor: anchorRoom,
  outline: outlineRoom,
  fold: foldRoom,
  slot: slotRoom,
};

/** Records are by kind: a mark's room is that of its own kind. */
export const roomOf = (mark: Mark): MarkRoom<Mark> => MARKS[mark.kind] as MarkRoom<Mark>;

/** Top and bottom of what a mark covers, in points. */
export const markExtent = (mark: Mark): [number, number] => roomOf(mark).extent(mark);

/** Moves a mark in place; the layout calls it on marks that nobody else holds yet. */
export const shiftMark = (mark: Mark, dx: number, dy: number): void => {
  mark.x += dx;
  mark.y += dy;
  if (mark.kind === 'line') {
    mark.x2 += dx;
    mark.y2 += dy;
  }
};

/** What a mark is to who reads the page without seeing it. */
export const structureOf = (mark: Mark): MarkRole | 'figure' | 'content' => {
  if ('as' in mark && mark.as) return mark.as;
  switch (mark.kind) {
    case 'picture':
    case 'shape':
    case 'figure':
      return 'figure';
    case 'text':
      return 'content';
    default:
      return 'artifact';
  }
};
