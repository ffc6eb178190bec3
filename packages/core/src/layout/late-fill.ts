import type { Mark, Page } from '../page/page.ts';

/** Marks of one page that had to wait for the number of pages. */
export interface LateFill {
  /** 1-based. */
  page: number;
  marks: Mark[];
}

/** Pages with what they lacked because it shows the number of pages. */
export const withLate = (pages: readonly Page[], late: Iterable<LateFill>): Page[] => {
  const filled = new Map<number, Mark[]>();
  for (const { page, marks } of late) filled.set(page, [...(filled.get(page) ?? []), ...marks]);
  return pages.map((page) => ({ ...page, marks: [...page.marks, ...(filled.get(page.number) ?? [])] }));
};
