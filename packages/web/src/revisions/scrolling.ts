import type { RefObject } from 'react';

/** Points above a place that are shown with it. */
const ABOVE = 60;

/** Scrolls pages to a place on one of them. */
export const showPlace = (scroller: HTMLElement | null, page: number, y: number): void => {
  const sheet = scroller?.querySelector<HTMLElement>(`[data-page="${page}"]`);
  const width = Number(sheet?.querySelector('svg')?.viewBox.baseVal.width ?? 0);
  if (!scroller || !sheet || width === 0) return;
  const scale = sheet.clientWidth / width;
  scroller.scrollTo({ top: sheet.offsetTop - scroller.offsetTop + (y - ABOVE) * scale });
};

/** Where one side is scrolled to, the other one follows. */
export const follow = (from: RefObject<HTMLElement | null>, to: RefObject<HTMLElement | null>): void => {
  if (from.current && to.current && Math.abs(to.current.scrollTop - from.current.scrollTop) > 1)
    to.current.scrollTop = from.current.scrollTop;
};
