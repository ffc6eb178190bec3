import type { FoldMark } from '../page/page.ts';
import type { FoldSign } from '../shape/folds.ts';
import type { LaidMark } from './block.ts';

/** Side of the square that a sign fills, and its distance from what stands to its right. Points. */
export const SIGN = 7;
export const SIGN_GAP = 3;

/** Words of a heading that tell which one it is. */
const LONGEST_LABEL = 80;

/** The margin that a sign may stand in, in points. `width`: that of the band where signs stand at the right of it; null: at the left. */
export interface SignPlace {
  margin: number;
  width: number | null;
}

/** The sign beside a band’s first words, in the margin where they begin at the edge. */
export const foldMark = (sign: FoldSign, marks: readonly LaidMark[], { margin, width }: SignPlace): FoldMark => {
  const texts = marks.flatMap((mark) => (mark.kind === 'text' ? [mark] : []));
  const top = texts.length > 0 ? Math.min(...texts.map(({ y }) => y)) : 0;
  const first = texts.filter(({ y, size }) => y <= top + size / 2).sort((a, b) => a.x - b.x);
  const beside = marks.flatMap((mark) => (mark.kind === 'rectangle' || mark.kind === 'line' ? [] : [mark]));
  const left = beside.length > 0 ? Math.min(...beside.map((mark) => mark.x)) : 0;
  const right = beside.length > 0 ? Math.max(...beside.map(rightOf)) : (width ?? 0);
  const x =
    width === null
      ? Math.max(1 - margin, left - SIGN - SIGN_GAP)
      : Math.min(width + margin - SIGN - 1, right + SIGN_GAP);
  const middle = first[0] ? first[0].y - first[0].size * 0.32 : SIGN / 2;
  const label = first.map(({ text }) => text).join(' ');
  return foldMarkIn(sign, x, middle, label);
};

const rightOf = (mark: LaidMark): number => mark.x + ('width' in mark ? mark.width : 0);

/** The sign in a box of a table, with words of the size after it. */
export const foldMarkIn = (sign: FoldSign, x: number, middle: number, label: string): FoldMark => ({
  kind: 'fold',
  x,
  y: middle - SIGN / 2,
  width: SIGN,
  height: SIGN,
  key: sign.key,
  isClosed: sign.isClosed,
  ...(sign.isCollapsed ? { isCollapsed: true as const } : {}),
  label: label.slice(0, LONGEST_LABEL),
});
