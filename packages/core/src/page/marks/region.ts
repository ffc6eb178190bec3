import { always, cutRectangle, extentOf, type Made, type MarkRoom } from './mark.ts';
import { escapeText, rectangle } from './svg-text.ts';

/** Where a band stands, and the row behind it. */
export interface RegionMark extends Made {
  kind: 'region';
  x: number;
  y: number;
  width: number;
  height: number;
  band: string;
  /**
   * The row and those around it, by the keys of their entities: `hut:17/stay:2231`. Rows without a key are counted, from 1 in each
   * drawer's whole set of rows: `call:#5`.
   */
  rows: string;
  /** The first band of one of the outermost groups; where there are none, of an outermost row with drawers inside. */
  begins?: true;
}

export const regionRoom: MarkRoom<RegionMark> = {
  extent: extentOf,
  mayBeCut: always,
  cut: cutRectangle,
  svg: (mark) =>
    `<rect ${rectangle(mark)} fill="none" pointer-events="none" data-band="${escapeText(mark.band)}" data-rows="${escapeText(mark.rows)}"/>`,
};
