import type { WireValue } from '../value/value.ts';

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

interface Seen extends Made {
  /** 0 is invisible, 1 (when left out) is solid. */
  opacity?: number;
}

export interface TextMark extends Seen {
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
  /** Degrees, clockwise, around the left end of the baseline. */
  turn?: number;
}

export interface LineMark extends Seen {
  kind: 'line';
  x: number;
  y: number;
  x2: number;
  y2: number;
  color: string;
  thickness: number;
  dash?: number[];
}

export interface RectangleMark extends Seen {
  kind: 'rectangle';
  x: number;
  y: number;
  width: number;
  height: number;
  fill?: string;
  stroke?: string;
  thickness?: number;
  radius?: number;
  dash?: number[];
}

export interface PictureMark extends Seen {
  kind: 'picture';
  x: number;
  y: number;
  width: number;
  height: number;
  /** Hash of the picture, which travels apart and once: see {@link PagePicture}. */
  picture: string;
  alternative: string;
  /** What of it is seen, measured from its own top left corner; all of it when left out. */
  window?: { x: number; y: number; width: number; height: number };
}

/** A picture that pages show, told before the first of them. */
export interface PagePicture {
  /** SHA-256 of `source`, in hexadecimal digits: the same picture has the same hash in every run. */
  hash: string;
  /** A `data:` address of a PNG or JPEG. */
  source: string;
}

/** Dark parts that are filled as one, as those of a barcode. */
export interface ShapeMark extends Seen {
  kind: 'shape';
  x: number;
  y: number;
  width: number;
  height: number;
  /** Points for one unit of the polygons. */
  scale: number;
  /** Corners as x, y, x, y …, from the mark's top left corner; where two lie over each other, they cancel out. */
  polygons: readonly (readonly number[])[];
  color: string;
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

/** Where a click leads: an address (`https:`, `mailto:`), an anchor of this report, or another report with values. */
export type LinkTarget =
  | { address: string }
  | { anchor: string }
  | { report: string; parameters: Record<string, WireValue> };

export interface LinkMark extends Made {
  kind: 'link';
  x: number;
  y: number;
  width: number;
  height: number;
  to: LinkTarget;
}

/** A place that links lead to by its name. */
export interface AnchorMark extends Made {
  kind: 'anchor';
  x: number;
  y: number;
  name: string;
}

/** An entry of the outline, at a level from 1. */
export interface OutlineMark extends Made {
  kind: 'outline';
  x: number;
  y: number;
  level: number;
  title: string;
}

export type Mark =
  | TextMark
  | LineMark
  | RectangleMark
  | PictureMark
  | ShapeMark
  | RegionMark
  | LinkMark
  | AnchorMark
  | OutlineMark;

/** Moves a mark in place; the layout calls it on marks that nobody else holds yet. */
export const shiftMark = (mark: Mark, dx: number, dy: number): void => {
  mark.x += dx;
  mark.y += dy;
  if (mark.kind === 'line') {
    mark.x2 += dx;
    mark.y2 += dy;
  }
};

/** Schemes that a link may have; anything else, as `javascript:`, is no link. */
const SAFE_ADDRESS = /^(https?:\/\/|mailto:|tel:)/i;

/** An address as a link may have it: an e-mail address becomes `mailto:`. Null when it must not be followed. */
export const safeAddress = (text: string): string | null => {
  const trimmed = text.trim();
  if (/^[^\s@:/]+@[^\s@/]+\.[^\s@/]+$/.test(trimmed)) return `mailto:${trimmed}`;
  return SAFE_ADDRESS.test(trimmed) && !/[\s"<>]/.test(trimmed) ? trimmed : null;
};
