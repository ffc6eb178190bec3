import { expect, it } from 'vitest';
import { firstMatchFrom, matchAt } from './matches.ts';

const PAGES = [
  [2, 3],
  [7, 1],
  [9, 2],
] as const;

it('a match of a number is one of its page', () => {
  const places = [0, 1, 2, 3, 4, 5].map((number) => matchAt(PAGES, number));
  expect(places.map((place) => [place?.page, place?.nth])).toEqual([
    [2, 0],
    [2, 1],
    [2, 2],
    [7, 0],
    [9, 0],
    [9, 1],
  ]);
  expect([matchAt(PAGES, 6), matchAt(PAGES, -1), matchAt([], 0)]).toEqual([null, null, null]);
});

it('looking for words begins where one reads, and goes on at the beginning', () => {
  expect([1, 2, 3, 7, 8, 9, 10].map((page) => firstMatchFrom(PAGES, page))).toEqual([0, 0, 3, 3, 4, 4, 0]);
  expect(firstMatchFrom([], 3)).toBe(0);
});
