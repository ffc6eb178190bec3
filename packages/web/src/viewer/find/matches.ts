/** How often words stand on pages: the 1-based page and how often, in the order of pages. */
export type FoundPages = readonly (readonly [page: number, count: number])[];

/** One of the places where words were found. */
export interface Match {
  page: number;
  /** Among those of its page, from 0. */
  nth: number;
}

/** Where the match of a number stands, counted from 0; null when there are not as many. */
export const matchAt = (pages: FoundPages, number: number): Match | null => {
  let before = 0;
  for (const [page, count] of pages) {
    if (number < before + count) return number < before ? null : { page, nth: number - before };
    before += count;
  }
  return null;
};

/** The number of the first match that is on a page or after it, counted from 0; the very first when there is none. */
export const firstMatchFrom = (pages: FoundPages, page: number): number => {
  let before = 0;
  for (const [at, count] of pages) {
    if (at >= page) return before;
    before += count;
  }
  return 0;
};
