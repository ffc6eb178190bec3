import { type RefObject, useEffect, useRef } from 'react';
import { clampZoom } from './modes.ts';
import type { Reading } from './use-reading.ts';

/** Zoom of a step of a wheel with Ctrl, as which browsers also tell of two fingers on a pad. */
const WHEEL = 0.0022;

interface Finger {
  x: number;
  y: number;
}

const apart = ([a, b]: readonly Finger[]): number => Math.hypot(a!.x - b!.x, a!.y - b!.y);

/** Two fingers on the pages, or on a pad, make them larger and smaller around where they are. */
export const usePinch = (scroller: RefObject<HTMLElement | null>, reading: Reading): void => {
  const latest = useRef(reading);
  latest.current = reading;
  useEffect(() => {
    const { current } = scroller;
    if (!current) return;
    let begun: { apart: number; scale: number } | null = null;
    let frame = 0;
    const zoomTo = (zoom: number, x: number, y: number): void => {
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(() => {
        const place = current.getBoundingClientRect();
        latest.current.setZoom(clampZoom(zoom), { x: x - place.left, y: y - place.top });
      });
    };
    const fingersOf = ({ touches }: TouchEvent): Finger[] =>
      [...touches].map(({ clientX, clientY }) => ({ x: clientX, y: clientY }));
    const start = (event: TouchEvent): void => {
      begun = event.touches.length === 2 ? { apart: apart(fingersOf(event)), scale: latest.current.scale } : null;
    };
    const move = (event: TouchEvent): void => {
      if (!begun || event.touches.length !== 2 || latest.current.isPresented) return;
      event.preventDefault();
      const fingers = fingersOf(event);
      const [a, b] = fingers as [Finger, Finger];
      zoomTo((begun.scale * apart(fingers)) / Math.max(1, begun.apart), (a.x + b.x) / 2, (a.y + b.y) / 2);
    };
    const end = (event: TouchEvent): void => {
      if (event.touches.length < 2) begun = null;
    };
    const wheel = (event: WheelEvent): void => {
      if (!event.ctrlKey || latest.current.isPresented) return;
      event.preventDefault();
      zoomTo(latest.current.scale * Math.exp(-event.deltaY * WHEEL), event.clientX, event.clientY);
    };
    current.addEventListener('touchstart', start, { passive: true });
    current.addEventListener('touchmove', move, { passive: false });
    current.addEventListener('touchend', end);
    current.addEventListener('touchcancel', end);
    current.addEventListener('wheel', wheel, { passive: false });
    return () => {
      cancelAnimationFrame(frame);
      current.removeEventListener('touchstart', start);
      current.removeEventListener('touchmove', move);
      current.removeEventListener('touchend', end);
      current.removeEventListener('touchcancel', end);
      current.removeEventListener('wheel', wheel);
    };
  }, [scroller]);
};
