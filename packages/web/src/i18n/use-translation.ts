import i18next, { type i18n } from 'i18next';
import { useSyncExternalStore } from 'react';

const wordsNow = () => ({ t: i18next.getFixedT(i18next.language), i18n: i18next as i18n });

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
