import { expect, it } from 'vitest';
import { sizeOfPage } from './page-sizes.ts';

it('a page has the size of the entry that holds for it', () => {
  const sizes = [1, 4, 5, 90].map((page) => ({ page, width: page * 10, height: 100 }));
  expect([1, 3, 4, 5, 89, 90, 500].map((page) => sizeOfPage(sizes, page).width)).toEqual([
    10, 10, 40, 50, 50, 900, 900,
  ]);
});
