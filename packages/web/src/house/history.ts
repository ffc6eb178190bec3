/** A value with what it was before, and what was undone. */
export interface History<T> {
  readonly past: readonly T[];
  readonly now: T;
  readonly future: readonly T[];
  /** The one text or number that the last change was to, and when, in milliseconds; null where more was changed. */
  readonly typed?: { readonly place: string; readonly at: number } | null;
}

/** Milliseconds within which changes to the same text or number are typed in one go, and are undone together. */
const TOGETHER = 1000;

/** Places of the texts and numbers that differ; null where there is more to it than those. */
const placesOf = (before: unknown, after: unknown, place = ''): string[] | null => {
  if (before === after) return [];
  const isPlain = [before, after].every((one) => typeof one === 'string' || typeof one === 'number');
  if (isPlain) return [place];
  if (typeof before !== 'object' || typeof after !== 'object' || !before || !after) return null;
  const [keys, others] = [Object.keys(before), Object.keys(after)];
  if (keys.length !== others.length) return null;
  const found: string[] = [];
  for (const key of keys) {
    if (!Object.hasOwn(after, key)) return null;
    const inner = placesOf(before[key as never], after[key as never], `${place}/${key}`);
    if (!inner) return null;
    found.push(...inner);
  }
  return found;
};

export const begun = <T>(now: T): History<T> => ({ past: [], now, future: [] });

/** Changed at a moment, in milliseconds. */
export const changed = <T>({ past, now, typed: last }: History<T>, next: T, at: number): History<T> => {
  const places = placesOf(now, next);
  const typed = places?.length === 1 ? { place: places[0]!, at } : null;
  const goesOn = last && typed && last.place === typed.place && at - last.at < TOGETHER;
  return { past: goesOn ? past : [...past, now], now: next, future: [], typed };
};

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
