import i18next, { type i18n, type TFunction } from 'i18next';
import { useSyncExternalStore } from 'react';

/** Texts that are remembered at most. */
const MOST = 5000;

/** Looks each text up once: a screen of many parts asks for the same ones at each edit, which took 16 ms of it. */
const remembering = (look: (...asked: [string, object?]) => string): typeof look => {
  const known = new Map<string, string>();
  return (...asked) => {
    const id = asked.length === 1 ? asked[0] : JSON.stringify(asked);
    let found = known.get(id);
    if (found === undefined) {
      if (known.size >= MOST) known.clear();
      found = look(...asked);
      known.set(id, found);
    }
    return found;
  };
};

const wordsNow = () => ({
  t: remembering(i18next.getFixedT(i18next.language) as Parameters<typeof remembering>[0]) as TFunction,
  i18n: i18next as i18n,
});

/** One for all who show words, so that a table of thousands of cells asks for them at no cost. */
let words: ReturnType<typeof wordsNow> | null = null;
const listeners = new Set<() => void>();

let language: string | null = null;

const tellAll = (): void => {
  words = wordsNow();
  for (const listener of listeners) listener();
};

i18next.on('languageChanged', (now) => {
  if (now === language) return;
  language = now;
  tellAll();
});
// A host’s page may put words of its own in the place of some.
i18next.on('wordsReplaced', tellAll);

const follow = (listener: () => void): (() => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** The words of the interface’s language; whoever asks is shown anew when that changes. */
export const useTranslation = (): ReturnType<typeof wordsNow> =>
  useSyncExternalStore(follow, () => {
    words ??= wordsNow();
    return words;
  });
