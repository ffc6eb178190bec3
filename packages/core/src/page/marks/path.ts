import { extentOf, type MarkRoom, never, type Seen, uncut } from './mark.ts';
import { dashes, escapeText, n } from './svg-text.ts';

/** A line or an area with straight and curved parts. */
export interface PathMark extends Seen {
  kind: 'path';
  /** Top left corner of the box that it lies in. */
  x: number;
  y: number;
  width: number;
  height: number;
  /**
   * Its course in SVG’s notation with `M`, `L`, `C` and `Z` alone, each place absolute from the mark’s top left corner, numbers
   * parted by single spaces: `M0 0L10 5C12 6 14 6 16 5Z`. Points.
   */
  path: string;
  fill?: string;
  stroke?: string;
  thickness?: number;
  dash?: number[];
}

export const pathRoom: MarkRoom<PathMark> = {
  extent: extentOf,
  mayBeCut: never,
  cut: uncut,
  svg: (mark, made) => {
    const stroke = mark.stroke
      ? ` stroke="${escapeText(mark.stroke)}" stroke-width="${n(mark.thickness ?? 1)}" stroke-linejoin="round"${dashes(mark.dash)}`
      : '';
    return `<path transform="translate(${n(mark.x)} ${n(mark.y)})" d="${mark.path}" fill="${escapeText(mark.fill ?? 'none')}"${stroke}${made}/>`;
  },
};

/** The steps of a path: `M`, `L`, `C` or `Z`, and its places as x, y, x, y …. */
export function* pathSteps(path: string): Generator<{ step: string; places: number[] }> {
  for (const [, step, places] of path.matchAll(/([MLCZ])([^MLCZ]*)/g))
    yield { step: step!, places: places === '' ? [] : places!.trim().split(' ').map(Number) };
}
