import { type RefObject, useEffect } from 'react';
import { tellHost } from '../embed/frame.ts';

/** Highest frame in CSS pixels: everything in it is drawn, whether it is in sight or not. */
const MOST = 20_000;

/** Tells the host’s page how high the frame has to be for everything in it to be seen, whenever that changes. */
export const useFrameHeight = (scroller: RefObject<HTMLElement | null>, isWanted: boolean): void => {
  useEffect(() => {
    const { current } = scroller;
    if (!isWanted || !current) return;
    let told = 0;
    const measure = (): void => {
      // What is around the pages keeps its height.
      const around = document.documentElement.clientHeight - current.clientHeight;
      const inner = [...current.children].reduce(
        (sum, child) => Math.max(sum, (child as HTMLElement).offsetTop + (child as HTMLElement).offsetHeight),
        0,
      );
      const height = Math.min(MOST, Math.ceil(around + inner + ROOM));
      if (Math.abs(height - told) < 2) return;
      told = height;
      tellHost({ kind: 'height', height });
    };
    const sizes = new ResizeObserver(measure);
    const watch = (): void => {
      sizes.disconnect();
      for (const child of current.children) sizes.observe(child);
      measure();
    };
    const children = new MutationObserver(watch);
    children.observe(current, { childList: true });
    watch();
    return () => {
      sizes.disconnect();
      children.disconnect();
    };
  }, [scroller, isWanted]);
};

/** Under the last page, for the bar of pages: as the viewer pads it. */
const ROOM = 80;
