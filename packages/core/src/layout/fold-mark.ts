import type { FoldMark } from '../page/page.ts';
import type { FoldSign } from '../shape/folds.ts';
import type { LaidMark } from './block.ts';

/** Side of the square that a sign fills, and its distance from what stands to its right. Points. */
export const SIGN = 7;
export const SIGN_GAP = 3;

/** Words of a heading that tell which one it is. */
const LONGEST_LABEL = 80;

/**
 * The sign at the left of a band’s first words, in the margin where they begin at the left edge. `margin`: what there is of it,
 * in points.
 */
export const foldMark = (sign: FoldSign, marks: readonly LaidMark[], margin: number): FoldMark => {
  const texts = marks.flatMap((mark) => (mark.kind === 'text' ? [mark] : []));
  const top = texts.length > 0 ? Math.min(...texts.map(({ y }) => y)) : 0;
  const first = texts.filter(({ y, size }) => y <= top + size / 2).sort((a, b) => a.x - b.x);
  const beside = marks.flatMap((mark) => (mark.kind === 'rectangle' || mark.kind === 'line' ? [] : [mark.x]));
  const left = beside.length > 0 ? Math.min(...beside) : 0;
  const x = Math.max(1 - margin, left - SIGN - SIGN_GAP);
  const middle = first[0] ? first[0].y - first[0].size * 0.32 : SIGN / 2;
  const label = first.map(({ text }) => text).join(' ');
  return foldMarkIn(sign, x, middle, label);
};

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
