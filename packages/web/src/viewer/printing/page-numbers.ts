/** Every page of a run, from 1. */
export const everyPage = (count: number): number[] => Array.from({ length: count }, (_, i) => i + 1);

/** The longest text that names pages. */
const LONGEST = 500;

/**
 * The pages that a text names, as `1-3, 7, 12-`: each once and in ascending order, none past the last one. Null where it cannot be
 * read, or names none that there is.
 */
export const pageNumbers = (text: string, count: number): number[] | null => {
  if (text.length > LONGEST) return null;
  const wanted = new Set<number>();
  // Spaces around a dash part nothing.
  const parts = text.replace(/\s*[-–]\s*/g, '-').split(/[,;\s]+/);
  for (const part of parts.filter((one) => one !== '')) {
    const range = /^(\d*)(-?)(\d*)$/.exec(part);
    if (!range) return null;
    const [, from = '', dash, to = ''] = range;
    if (from === '' && to === '') return null;
    const first = from === '' ? 1 : Number(from);
    const last = dash === '' ? first : to === '' ? count : Number(to);
    if (first < 1 || last < first) return null;
    for (let page = first; page <= Math.min(last, count); page++) wanted.add(page);
  }
  return wanted.size === 0 ? null : [...wanted].sort((a, b) => a - b);
};
