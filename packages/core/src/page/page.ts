import type { Mark } from './marks.ts';

/** A laid-out page. All lengths are points (1/72 inch), measured from the top left corner, y downwards. */
export interface Page {
  /** 1-based. */
  number: number;
  width: number;
  height: number;
  /** Since the numbering last started anew, 1-based; left out where it never did. */
  partNumber?: number;
  marks: Mark[];
  /** More marks follow when the number of pages is known. */
  late?: true;
}

export type { AnchorMark } from './marks/anchor.ts';
export type { FigureMark } from './marks/figure.ts';
export { FOLD_COLOR, type FoldMark, foldLine } from './marks/fold.ts';
export type { LineMark } from './marks/line.ts';
export { type LinkMark, safeAddress } from './marks/link.ts';
export type { LinkTarget, MarkRole, PictureAddress } from './marks/mark.ts';
export type { OutlineMark } from './marks/outline.ts';
export { type PathMark, pathSteps } from './marks/path.ts';
export type { PagePicture, PictureMark } from './marks/picture.ts';
export type { RectangleMark } from './marks/rectangle.ts';
export type { LaidPlace, RegionMark, RegionPlaces } from './marks/region.ts';
export type { ShapeMark } from './marks/shape.ts';
export type { SlotMark } from './marks/slot.ts';
export type { TextMark } from './marks/text.ts';
export { type Mark, type MarkKind, type MarkOf, markExtent, shiftMark, structureOf } from './marks.ts';
