import type { PointerEvent as ReactPointerEvent } from 'react';

interface DragHandlers {
  /** Distance from where the pointer went down, in CSS pixels. */
  move: (dx: number, dy: number, event: PointerEvent) => void;
  /** `moved` is false for a click. */
  end: (dx: number, dy: number, event: PointerEvent, moved: boolean) => void;
  cancel?: () => void;
}

/** Movement below this is a click, in CSS pixels. */
const STILL = 3;

/** Follows the pointer from a press until it is let go; Escape gives the drag up. */
export const followPointer = (start: ReactPointerEvent | PointerEvent, { move, end, cancel }: DragHandlers): void => {
  const { clientX, clientY, pointerId } = start;
  let moved = false;
  const distance = (event: PointerEvent): [number, number] => [event.clientX - clientX, event.clientY - clientY];
  const onMove = (event: PointerEvent): void => {
    if (event.pointerId !== pointerId) return;
    const [dx, dy] = distance(event);
    moved ||= Math.hypot(dx, dy) >= STILL;
    if (moved) move(dx, dy, event);
  };
  const stop = (): void => {
    window.removeEventListener('pointermove', onMove);
    window.removeEventListener('pointerup', onUp);
    window.removeEventListener('pointercancel', onCancel);
    window.removeEventListener('keydown', onKey, true);
  };
  const onUp = (event: PointerEvent): void => {
    if (event.pointerId !== pointerId) return;
    stop();
    end(...distance(event), event, moved);
  };
  const onCancel = (): void => {
    stop();
    cancel?.();
  };
  const onKey = (event: KeyboardEvent): void => {
    if (event.key !== 'Escape') return;
    event.stopPropagation();
    onCancel();
  };
  window.addEventListener('pointermove', onMove);
  window.addEventListener('pointerup', onUp);
  window.addEventListener('pointercancel', onCancel);
  window.addEventListener('keydown', onKey, true);
};
