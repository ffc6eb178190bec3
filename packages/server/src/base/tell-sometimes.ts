/** Milliseconds in which the same thing is told once. */
const PAUSE = 60_000;

/** Kinds of things that are remembered. */
const MOST = 200;

/** Tells a log of what may come with every request, each kind of it once a minute. */
export const sometimes = (log: (error: unknown) => void): ((kind: string, words: () => string) => void) => {
  const told = new Map<string, number>();
  return (kind, words) => {
    const now = Date.now();
    if (now - (told.get(kind) ?? Number.NEGATIVE_INFINITY) < PAUSE) return;
    if (told.size >= MOST) told.clear();
    told.set(kind, now);
    log(new Error(words()));
  };
};
