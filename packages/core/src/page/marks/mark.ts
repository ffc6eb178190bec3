import type { WireValue } from '../../value/value.ts';

/**
 * What a mark is to who reads the page without seeing it: a heading, a cell above its column or before its row, an item of a list or
 * what counts it, an entry of the contents, a part of the figure before it, or nothing but decoration. What has none of these is a figure when it is a picture or shape, decoration when it is a line or rectangle, and otherwise content of
 * the row or band in whose region it stands; see {@link structureOf}.
 */
export type MarkRole = 'heading' | 'header' | 'item' | 'label' | 'entry' | 'drawing' | 'artifact';

/**
 * Where a click leads: an address (`https:`, `mailto:`), an anchor of this report, another report with values, this one with
 * other values of some of its parameters, or to the rows behind one cell of an item that groups them, counted from 0.
 */
export type LinkTarget =
  | { address: string }
  | { anchor: string }
  | { report: string; parameters: Record<string, WireValue> }
  | { set: Record<string, WireValue> }
  | { cell: number };

export interface Made {
  /** Id of the definition's item that made the mark. */
  item?: string;
}

export interface Seen extends Made {
  /** 0 is invisible, 1 (when left out) is solid. */
  opacity?: number;
  as?: MarkRole;
  /** What is shown where a pointer rests on it. */
  tip?: string;
  /** Where a click on it leads. */
  to?: LinkTarget;
}

export interface Rectangular {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Where a picture is found, by its hash. */
export type PictureAddress = (hash: string) => string;

/** Where a page ends that a mark stands across. Points, from the top of the block that the mark is in. */
export interface Cut {
  at: number;
  /** Height of an empty page. */
  full: number;
}

/** Everything that the engine needs of one kind of mark. */
export interface MarkRoom<M> {
  /** Top and bottom of what it covers, in points. */
  extent: (mark: M) => [number, number];
  /** Whether a page may end in the middle of it. */
  mayBeCut: (mark: M) => boolean;
  /** Its parts on the two pages, the lower one from the top of the next page; null where there is none. */
  cut: (mark: M, cut: Cut) => [M | null, M | null];
  /** An SVG element, or nothing when it is not seen. `made`: attributes for what made it and its opacity. */
  svg: (mark: M, made: string, addressOf: PictureAddress) => string;
}

export const extentOf = ({ y, height }: Rectangular): [number, number] => [y, y + height];

/** The parts of what has a top and a height. */
export const cutRectangle = <M extends Rectangular>(mark: M, { at }: Cut): [M, M] => [
  { ...mark, height: at - mark.y },
  { ...mark, y: 0, height: mark.y + mark.height - at },
];

/** What is not cut stays on the first of the two pages. */
export const uncut = <M>(mark: M): [M, null] => [mark, null];

export const never = (): boolean => false;
export const always = (): boolean => true;
