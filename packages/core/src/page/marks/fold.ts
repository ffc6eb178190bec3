import { extentOf, type Made, type MarkRoom, never, uncut } from './mark.ts';
import { escapeText, n, rectangle } from './svg-text.ts';

/** The sign by which the reader opens and closes what follows; its place is that of a square. */
export interface FoldMark extends Made {
  kind: 'fold';
  x: number;
  y: number;
  width: number;
  height: number;
  /** Names what it opens and closes, by the rows behind it. */
  key: string;
  isClosed: boolean;
  /** The reader has it closed, while everything is shown. */
  isCollapsed?: true;
  /** Switches something on and off, and is not seen itself: the words that it lies over are. */
  isSwitch?: true;
  /** The words of the heading that it stands at. */
  label: string;
}

export const FOLD_COLOR = '#1f5c4d';

/** Room around the sign that takes a press as well, in points. */
const AROUND = 4;

/** The corners of the sign as x and y, as shares of its width and height: towards the words, or down to what is open. */
export const foldLine = ({ isClosed }: Pick<FoldMark, 'isClosed'>): [number, number][] =>
  isClosed
    ? [
        [0.35, 0.15],
        [0.7, 0.5],
        [0.35, 0.85],
      ]
    : [
        [0.15, 0.35],
        [0.5, 0.7],
        [0.85, 0.35],
      ];

export const foldRoom: MarkRoom<FoldMark> = {
  extent: extentOf,
  mayBeCut: never,
  cut: uncut,
  svg: (mark, made) => {
    const { x, y, width, height, key, isClosed, label } = mark;
    if (mark.isSwitch)
      return `<g role="switch" tabindex="0" style="cursor:pointer" data-fold="${escapeText(key)}" aria-checked="${!isClosed}" aria-label="${escapeText(label)}"><rect ${rectangle(mark)} rx="2" fill="#fff" fill-opacity="0"${made}/></g>`;
    const line = foldLine(mark).map(([dx, dy]) => `${n(x + dx * width)} ${n(y + dy * height)}`);
    const room = `x="${n(x - AROUND)}" y="${n(y - AROUND)}" width="${n(width + 2 * AROUND)}" height="${n(height + 2 * AROUND)}"`;
    return `<g role="button" tabindex="0" style="cursor:pointer" data-fold="${escapeText(key)}" aria-expanded="${!isClosed}" aria-label="${escapeText(label)}"><rect ${room} rx="2" fill="#fff" fill-opacity="0"/><path d="M${line.join('L')}" fill="none" stroke="${FOLD_COLOR}" stroke-width="1.3" stroke-linecap="round" stroke-linejoin="round"/></g>`;
  },
};
