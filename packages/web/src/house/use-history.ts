import { useState } from 'react';
import { begun, changed, redone, undone } from './history.ts';

/** A value whose changes can be undone and done again. */
export const useHistory = <T>(start: T) => {
  const [history, setHistory] = useState(() => begun(start));
  return {
    now: history.now,
    canUndo: history.past.length > 0,
    canRedo: history.future.length > 0,
    set: (next: T): void => setHistory((before) => changed(before, next, performance.now())),
    undo: (): void => setHistory(undone),
    redo: (): void => setHistory(redone),
  };
};
