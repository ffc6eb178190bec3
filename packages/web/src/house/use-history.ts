import { useState } from 'react';

interface History<T> {
  past: readonly T[];
  now: T;
  future: readonly T[];
}

/** A value whose changes can be undone and done again. */
export const useHistory = <T>(start: T) => {
  const [history, setHistory] = useState<History<T>>({ past: [], now: start, future: [] });
  return {
    now: history.now,
    canUndo: history.past.length > 0,
    canRedo: history.future.length > 0,
    set: (next: T): void => setHistory(({ past, now }) => ({ past: [...past, now], now: next, future: [] })),
    /** Begins anew with another value. */
    begin: (next: T): void => setHistory({ past: [], now: next, future: [] }),
    undo: (): void =>
      setHistory(({ past, now, future }) =>
        past.length === 0
          ? { past, now, future }
          : { past: past.slice(0, -1), now: past.at(-1)!, future: [now, ...future] },
      ),
    redo: (): void =>
      setHistory(({ past, now, future }) =>
        future.length === 0
          ? { past, now, future }
          : { past: [...past, now], now: future[0]!, future: future.slice(1) },
      ),
  };
};
