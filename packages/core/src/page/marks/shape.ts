import { extentOf, type MarkRoom, never, type Seen, uncut } from './mark.ts';
import { escapeText, n } from './svg-text.ts';

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

export const shapeRoom: MarkRoom<ShapeMark> = {
  extent: extentOf,
  mayBeCut: never,
  cut: uncut,
  svg: (mark, made) => {
    const path = mark.polygons
      .map((p) => p.reduce((d, v, i) => d + (i === 0 ? 'M' : i % 2 === 1 ? ' ' : 'L') + n(v), ''))
      .join('Z');
    return `<path transform="translate(${n(mark.x)} ${n(mark.y)}) scale(${mark.scale.toFixed(5)})" d="${path}Z" fill="${escapeText(mark.color)}" fill-rule="evenodd" shape-rendering="crispEdges"${made}><title>${escapeText(mark.alternative)}</title></path>`;
  },
};
