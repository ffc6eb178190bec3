import type { PageSizeFrom } from '@gaveta/core/internal';

/** Size of a page, 1-based, in points; `sizes` has one entry at least. A page that is not known yet has that of the last one. */
export const sizeOfPage = (sizes: readonly PageSizeFrom[], page: number): PageSizeFrom => {
  let low = 0;
  let high = sizes.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (sizes[middle]!.page <= page) low = middle;
    else high = middle - 1;
  }
  return sizes[low]!;
};
