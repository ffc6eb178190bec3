import { useCallback, useEffect, useRef, useState } from 'react';

export interface Refresh {
  /** Seconds between two runs; null when it is off. */
  every: number | null;
  set: (seconds: number | null) => void;
  now: () => void;
  /** When what is shown was run again, in milliseconds since 1970; null for what was never. */
  at: number | null;
  /** Why the last time did not work: what was there is still shown. */
  error: unknown;
}

interface Refreshing {
  /** As the report has it; null when it does not run again by itself. */
  usual: number | null;
  /** Something is being read that would change under the reader. */
  isHeld: () => boolean;
  /** Runs the report again and shows it once it is there; rejects when that does not work. */
  again: (signal: AbortSignal) => Promise<void>;
}

/** Runs a report again by itself, as long as somebody sees it: one run at a time, each after the one before has ended. */
export const useRefresh = ({ usual, isHeld, again }: Refreshing): Refresh => {
  /** What the reader chose; undefined while they have not. */
  const [chosen, setChosen] = useState<number | null | undefined>(undefined);
  const [at, setAt] = useState<number | null>(null);
  const [error, setError] = useState<unknown>(null);
  const every = chosen === undefined ? usual : chosen;
  const latest = useRef({ isHeld, again });
  latest.current = { isHeld, again };
  const running = useRef<AbortController | null>(null);
  const now = useCallback((): void => {
    if (running.current) return;
    const abort = new AbortController();
    running.current = abort;
    latest.current
      .again(abort.signal)
      .then(
        () => {
          setAt(Date.now());
          setError(null);
        },
        (failed: unknown) => {
          if (!abort.signal.aborted) setError(failed);
        },
      )
      .finally(() => {
        if (running.current === abort) running.current = null;
      });
  }, []);
  useEffect(() => () => running.current?.abort(), []);
  useEffect(() => {
    if (every === null) return;
    const timer = setInterval(() => {
      if (document.visibilityState === 'visible' && !latest.current.isHeld()) now();
    }, every * 1000);
    return () => clearInterval(timer);
  }, [every, now]);
  return { every, set: setChosen, now, at, error };
};
