import { expect, it } from 'vitest';
import { headingAt } from './heading-at.ts';

it('a page is read under its first heading, or else the last one before it', () => {
  const headings = [2, 2, 5, 9].map((page) => ({ page }));
  expect([1, 2, 3, 5, 8, 9, 40].map((page) => headingAt(headings, page))).toEqual([-1, 0, 1, 2, 2, 3, 3]);
  expect(headingAt([], 3)).toBe(-1);
});
