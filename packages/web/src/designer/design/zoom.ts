import { type RefObject, useEffect } from 'react';
import { create } from 'zustand';
import { useDesigner } from './state.ts';

/** How large the board is shown, as a share of its full size. */
export const useShown = create<{ zoom: number }>(() => ({ zoom: 1 }));

const LEAST = 0.25;
const MOST = 4;

export const zoomBy = (factor: number): void =>
  useDesigner.setState({ zoom: Math.min(MOST, Math.max(LEAST, useShown.getState().zoom * factor)) });

export const zoomToFit = (): void => useDesigner.setState({ zoom: 'fit' });

/** With Ctrl, the wheel zooms what it is over. */
export const useWheelZoom = (outer: RefObject<HTMLElement | null>, zoomBy: (factor: number) => void): void => {
  useEffect(() => {
    const { current } = outer;
    const onWheel = (event: WheelEvent): void => {
      if (!event.ctrlKey && !event.metaKey) return;
      // Not the whole window.
      event.preventDefault();
      zoomBy(event.deltaY < 0 ? 1.1 : 1 / 1.1);
    };
    current?.addEventListener('wheel', onWheel, { passive: false });
    return () => current?.removeEventListener('wheel', onWheel);
  }, [outer, zoomBy]);
};
