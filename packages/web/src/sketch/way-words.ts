import type { Reached } from '@gaveta/core/internal';
import { useTranslation } from '../i18n/use-translation.ts';
import { useParts } from './parts.ts';
import { inSentence } from './words.ts';

/** What fields in reach stand under: the rows’ own name, and of what they are where they come along a relation. */
export const useWayWords = (): ((at: Reached) => { title: string; note: string }) => {
  const { t, i18n } = useTranslation();
  const { reach } = useParts();
  return (at) => {
    if (at.way.length === 0) return { title: at.plural, note: '' };
    const parent = reach.find(
      ({ way }) => way.length === at.way.length - 1 && way.every((name, i) => name === at.way[i]),
    );
    const of = inSentence(parent?.label ?? at.of, i18n.language);
    return { title: at.label, note: t(at.isMany ? 'sketch.manyOf' : 'sketch.ofThe', { of }) };
  };
};
