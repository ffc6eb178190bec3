/** A laid-out page. All lengths are points (1/72 inch), measured from the top left corner, y downwards. */
export interface Page {
  /** 1-based. */
  number: number;
  width: number;
  height: number;
  marks: Mark[];
  /** More marks follow when the number of pages is known. */
  late?: true;
}

interface Made {
  /** Id of the definition's item that made the mark. */
  item?: string;
}

export interface TextMark extends Made {
  kind: 'text';
  /** Left end of the baseline, also for right-to-left text. */
  x: number;
  y: number;
  text: string;
  /** Key of the font, as `Source Sans 3/700i`. */
  font: string;
  size: number;
  color: string;
  width: number;
  rtl?: true;
}

export interface LineMark extends Made {
  kind: 'line';
  x: number;
  y: number;
  x2: number;
  y2: number;
  color: string;
  thickness: number;
  dash?: number[];
}

export interface RectangleMark extends Made {
  kind: 'rectangle';
  x: number;
  y: number;
  width: number;
  height: number;
  fill?: string;
  stroke?: string;
  thickness?: number;
  radius?: number;
}

export interface PictureMark extends Made {
  kind: 'picture';
  x: number;
  y: number;
  width: number;
  height: number;
  /** A `data:` address of a PNG or JPEG. */
  source: string;
  alternative: string;
}

/** Where a band stands, and the rows behind it: `hut:3/stay:12` counts from 1 in each drawer's whole set of rows. */
export interface RegionMark extends Made {
  kind: 'region';
  x: number;
  y: number;
  width: number;
  height: number;
  band: string;
  rows: string;
}

export type Mark = TextMark | LineMark | RectangleMark | PictureMark | RegionMark;

/** Moves a mark in place; the layout calls it on marks that nobody else holds yet. */
export const shiftMark = (mark: Mark, dx: number, dy: number): void => {
  mark.x += dx;
  mark.y += dy;
  if (mark.kind === 'line') {
    mark.x2 += dx;
    mark.y2 += dy;
  }
};
