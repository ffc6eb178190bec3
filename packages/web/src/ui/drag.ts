import type { PointerEvent as ReactPointerEvent } from 'react';
import { create } from 'zustand';

/** What is on its way to where it is dropped. */
interface Dragged {
  what: string;
  label: string;
}

interface Drag {
  dragged: Dragged | null;
  x: number;
  y: number;
  /** Where it would be dropped; see `data-drop`. */
  over: string | null;
}

/** Movement in CSS pixels from which on a press is a drag. */
const STEADY = 5;

export const useDrag = create<Drag>(() => ({ dragged: null, x: 0, y: 0, over: null }));

const zoneAt = (x: number, y: number): string | null =>
  document.elementFromPoint(x, y)?.closest('[data-drop]')?.getAttribute('data-drop') ?? null;

/** Follows a press on something that can be dragged; `onDrop` is told the zone where it is let go. Escape ends it. */
export const startDrag = (event: ReactPointerEvent, dragged: Dragged, onDrop: (zone: string) => void): void => {
  if (event.button !== 0) return;
  const { clientX, clientY } = event;
  const move = ({ clientX: x, clientY: y }: PointerEvent): void => {
    if (!useDrag.getState().dragged && Math.hypot(x - clientX, y - clientY) < STEADY) return;
    useDrag.setState({ dragged, x, y, over: zoneAt(x, y) });
  };
  const end = (drop: boolean): void => {
    const { dragged: now, over } = useDrag.getState();
    window.removeEventListener('pointermove', move);
    window.removeEventListener('pointerup', up);
    window.removeEventListener('pointercancel', giveUp);
    window.removeEventListener('keydown', key, true);
    useDrag.setState({ dragged: null, over: null });
    if (!now) return;
    // The click that ends a drag is none; where it begins and ends on different elements there is no click.
    const swallow = (click: Event): void => click.stopPropagation();
    window.addEventListener('click', swallow, { capture: true, once: true });
    setTimeout(() => window.removeEventListener('click', swallow, { capture: true }));
    if (drop && over) onDrop(over);
  };
  const up = (): void => end(true);
  const giveUp = (): void => end(false);
  const key = ({ key: pressed }: KeyboardEvent): void => {
    if (pressed === 'Escape') end(false);
  };
  window.addEventListener('pointermove', move);
  window.addEventListener('pointerup', up);
  window.addEventListener('pointercancel', giveUp);
  window.addEventListener('keydown', key, true);
};
