import type { Heading } from '@gaveta/core/internal';

/** The heading under which a page is read: its first one, or the last one before it; -1 where there is none. */
export const headingAt = (headings: readonly Pick<Heading, 'page'>[], page: number): number => {
  let low = 0;
  let high = headings.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (headings[middle]!.page < page) low = middle + 1;
    else high = middle;
  }
  return headings[low]?.page === page ? low : low - 1;
};
