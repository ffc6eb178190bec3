/** A value with what it was before, and what was undone. */
export interface History<T> {
  readonly past: readonly T[];
  readonly now: T;
  readonly future: readonly T[];
}

export const begun = <T>(now: T): History<T> => ({ past: [], now, future: [] });

export const changed = <T>({ past, now }: History<T>, next: T): History<T> => ({
  past: [...past, now],
  now: next,
  future: [],
});

/** As it was before the last change; the same where there was none. */
export const undone = <T>(history: History<T>): History<T> => {
  const { past, now, future } = history;
  return past.length === 0 ? history : { past: past.slice(0, -1), now: past.at(-1)!, future: [now, ...future] };
};

/** What was undone last, again; the same where nothing was. */
export const redone = <T>(history: History<T>): History<T> => {
  const { past, now, future } = history;
  return future.length === 0 ? history : { past: [...past, now], now: future[0]!, future: future.slice(1) };
};
