import { type Phrase, phrase } from './phrases.ts';
/** A name without what people write in different ways: letters and digits alone, all of them small. */
export const bareName = (name: string): string => name.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '');

/** The candidate nearest to `name` by edit distance, if it is near enough to be meant. */
export const nearest = (name: string, candidates: Iterable<string>): string | null => {
  const wanted = name.toLowerCase();
  let best: string | null = null;
  let bestDistance = Math.max(2, Math.floor(wanted.length / 3)) + 1;
  for (const candidate of candidates) {
    const d = distance(wanted, candidate.toLowerCase(), bestDistance);
    if (d < bestDistance) {
      best = candidate;
      bestDistance = d;
    }
  }
  return best;
};

export const didYouMean = (name: string, candidates: Iterable<string>, otherwise: Phrase): Phrase => {
  const match = nearest(name, candidates);
  return match ? phrase('did-you-mean', { name: match }) : otherwise;
};

/** What there is to choose from, in all. */
export const therePhrase = (names: readonly string[]): Phrase => phrase('there-is', { names: names.join(', ') });

/** What something has to choose from. */
export const hasPhrase = (names: readonly string[]): Phrase =>
  names.length > 0 ? phrase('it-has', { names: names.join(', ') }) : phrase('it-has-none');

/** Levenshtein distance, given up once it reaches `limit`. */
const distance = (a: string, b: string, limit: number): number => {
  if (Math.abs(a.length - b.length) >= limit) return limit;
  let row = Array.from({ length: b.length + 1 }, (_, i) => i);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++) {
      next[j] = Math.min(row[j]! + 1, next[j - 1]! + 1, row[j - 1]! + (a[i - 1] === b[j - 1] ? 0 : 1));
    }
    row = next;
  }
  return row[b.length]!;
};
