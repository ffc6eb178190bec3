/** How much less an entry counts for each that stands before it: what answers alike stays in its order. */
const NEXT = 1e-6;

/**
 * How well a title and a sentence answer what was typed: 0 not at all, 1 best. Every word must be found; titles count more
 * than sentences, and beginnings more than what stands inside. `told`: title, sentence, and 0-based place in the list.
 */
export const matchWords = (_id: string, typed: string, told: string[] = []): number => {
  const score = scoreOf(typed, told);
  return score === 0 ? 0 : score - Number(told[2] ?? 0) * NEXT;
};

const scoreOf = (typed: string, told: readonly string[]): number => {
  const [title = '', sentence = ''] = told.slice(0, 2).map((text) => text.toLowerCase());
  const wanted = typed.trim().toLowerCase();
  if (wanted === '') return 1;
  if (title === wanted) return 1;
  if (title.startsWith(wanted)) return 0.9;
  const words = wanted.split(/\s+/);
  const starts = (text: string, word: string): boolean => text.split(/[^\p{L}\p{N}]+/u).some((w) => w.startsWith(word));
  if (words.every((word) => starts(title, word))) return 0.8;
  if (words.every((word) => title.includes(word))) return 0.6;
  return words.every((word) => starts(`${title} ${sentence}`, word)) ? 0.3 : 0;
};
