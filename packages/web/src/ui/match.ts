/**
 * How well a title and a sentence answer what was typed: 0 not at all, 1 best. Every word must be found; titles count more
 * than sentences, and beginnings more than what stands inside.
 */
export const matchWords = (_id: string, typed: string, told?: string[]): number => {
  const [title = '', sentence = ''] = (told ?? []).map((text) => text.toLowerCase());
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
