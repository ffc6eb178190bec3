import type { PageValues } from '../formula/functions/context.ts';
import type { Block } from './block.ts';

/** Bands that stand on every page, outside the flow of rows. */
export interface PageFrame {
  /** Which pages have bands of their own. */
  own: { first: boolean; even: boolean };
  /** Built where the page starts, so that it shows the row that is current there. */
  header: (page: PageValues) => Block | null;
  /** Built where the page starts, for its height, and again where it ends. */
  footer: (page: PageValues) => Block | null;
  /** Under and over everything, from the corner of the paper. */
  background: (page: PageValues) => Block | null;
  overlay: (page: PageValues) => Block | null;
  /** Whether a row is current that the bands may show: none is where the first page starts. */
  hasRow: () => boolean;
  /** Called when a page is complete: what counts by page starts anew. */
  completed: () => void;
}

export interface PageGeometry {
  width: number;
  height: number;
  top: number;
  bottom: number;
  left: number;
  right: number;
  /** The page is as long as its content, up to `height`. */
  continuous: boolean;
}

/** What pages are made of, from some place on. */
export interface Paper {
  geometry: PageGeometry;
  frame: PageFrame;
}
