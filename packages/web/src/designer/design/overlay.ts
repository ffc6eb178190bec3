import { create } from 'zustand';
import { type BoardPoint, pointerInReport } from './surfaces.ts';

/** What lies over the designer: one thing at most. */
interface OverlayState {
  shown: 'add' | 'commands' | 'keys' | null;
  /** Corner of the Add panel, in CSS pixels of the window. */
  at: { x: number; y: number };
  /** Where on the board something that is added goes; null: where there is room. */
  point: BoardPoint | null;
  /** What is searched for at first. */
  search: string;
}

export const useOverlay = create<OverlayState>(() => ({ shown: null, at: { x: 0, y: 0 }, point: null, search: '' }));

/** Opens the list of what can be added. */
export const openAdd = (at: { x: number; y: number }, point: BoardPoint | null = null): void =>
  useOverlay.setState({ shown: 'add', at, point });

/** Opens it where the pointer is, or over the board when the pointer is elsewhere. */
export const openAddAtPointer = (): void => {
  const point = pointerInReport();
  const board = document.querySelector('[data-testid="board"]')?.getBoundingClientRect();
  const at = point && lastPointer ? lastPointer : { x: (board?.left ?? 300) + 160, y: (board?.top ?? 60) + 40 };
  openAdd(at, point);
};

let lastPointer: { x: number; y: number } | null = null;
if (typeof window !== 'undefined')
  window.addEventListener('pointermove', (event) => {
    lastPointer = { x: event.clientX, y: event.clientY };
  });

export const show = (shown: OverlayState['shown'], search = ''): void =>
  useOverlay.setState({ shown, point: null, search });

export const closeOverlay = (): void => useOverlay.setState({ shown: null });
