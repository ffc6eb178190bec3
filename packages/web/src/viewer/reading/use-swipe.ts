import { type RefObject, useEffect, useRef } from 'react';
import type { Reading } from './use-reading.ts';

/** Least way of a swipe in CSS pixels, and how much longer it is than it goes up or down. */
const LEAST = 48;
const STEEPEST = 1.8;

/** Whether a way across the window turns the page: 1 to the next one, -1 to the one before. */
export const turnOf = (dx: number, dy: number, isRightToLeft: boolean): 1 | -1 | null => {
  if (Math.abs(dx) < LEAST || Math.abs(dx) < Math.abs(dy) * STEEPEST) return null;
  return dx < 0 === !isRightToLeft ? 1 : -1;
};

/** Where one page is shown at a time, a finger that goes across turns it. */
export const useSwipe = (scroller: RefObject<HTMLElement | null>, reading: Reading, count: number): void => {
  const latest = useRef({ reading, count });
  latest.current = { reading, count };
  useEffect(() => {
    const { current } = scroller;
    if (!current) return;
    let begun: { x: number; y: number; left: number } | null = null;
    const start = ({ touches }: TouchEvent): void => {
      const [one, two] = [touches[0], touches[1]];
      begun = one && !two ? { x: one.clientX, y: one.clientY, left: current.scrollLeft } : null;
    };
    const end = ({ changedTouches }: TouchEvent): void => {
      const from = begun;
      const to = changedTouches[0];
      begun = null;
      const { reading: now, count: last } = latest.current;
      // A page that is moved under the finger is not turned, nor is text that is selected.
      if (!from || !to || now.shownAs !== 'single' || Math.abs(current.scrollLeft - from.left) > 1) return;
      if (!getSelection()?.isCollapsed) return;
      const turn = turnOf(to.clientX - from.x, to.clientY - from.y, document.documentElement.dir === 'rtl');
      if (turn !== null) now.turn(turn, last);
    };
    current.addEventListener('touchstart', start, { passive: true });
    current.addEventListener('touchend', end);
    return () => {
      current.removeEventListener('touchstart', start);
      current.removeEventListener('touchend', end);
    };
  }, [scroller]);
};
