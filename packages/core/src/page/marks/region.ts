import { always, cutRectangle, extentOf, type Made, type MarkRoom } from './mark.ts';
import { escapeText, n, rectangle } from './svg-text.ts';

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
  /** Where its items stand; left out where nobody asked for places. */
  places?: RegionPlaces;
}

/** Where items of a band stand in one of its instances. Lengths in points, from the region's own top left corner. */
export interface RegionPlaces {
  /** By item: left, top, width and height. Those that stand where the definition puts them are left out, unless `isPart`. */
  items: Readonly<Record<string, LaidPlace>>;
  /** The region holds a part of its band: these items alone. */
  isPart?: true;
  /** It lies inside this item of the outermost report, as the bands of a subreport do. */
  inside?: string;
}

export type LaidPlace = readonly [left: number, top: number, width: number, height: number];

const placeAttributes = ({ items, isPart, inside }: RegionPlaces): string => {
  const list = Object.entries(items).map(([id, place]) => `${id} ${place.map(n).join(' ')}`);
  return (
    (list.length > 0 ? ` data-places="${escapeText(list.join(';'))}"` : '') +
    (isPart ? ' data-part=""' : '') +
    (inside === undefined ? '' : ` data-inside="${escapeText(inside)}"`)
  );
};

export const regionRoom: MarkRoom<RegionMark> = {
  extent: extentOf,
  mayBeCut: always,
  cut: cutRectangle,
  svg: (mark) =>
    `<rect ${rectangle(mark)} fill="none" pointer-events="none" data-band="${escapeText(mark.band)}" data-rows="${escapeText(mark.rows)}"${mark.places ? placeAttributes(mark.places) : ''}/>`,
};
