import type { Mark, Page } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import { type PlaceAsked, PlaceFinder } from './place-finder.ts';

const region = (rows: string, y: number): Mark => ({ kind: 'region', x: 0, y, width: 9, height: 9, band: 'b', rows });
const sign = (key: string, y: number): Mark => ({
  kind: 'fold',
  x: 0,
  y,
  width: 7,
  height: 7,
  key,
  isClosed: true,
  label: '',
});
const PAGES: Page[] = [
  [region('region:1', 10), region('region:1/hut:3', 30), sign('region:1/hut:3|stays', 31)],
  [region('region:1/hut:4', 5), region('region:2', 50), sign('region:2|huts', 51), region('region:2/hut:7', 70)],
].map((marks, i) => ({ number: i + 1, width: 100, height: 100, marks }));

const find = (asked: PlaceAsked): PlaceFinder => {
  const finder = new PlaceFinder(asked);
  for (const page of PAGES) finder.see(page);
  return finder;
};

it('finds the fold that was turned, and stops at it', () => {
  const finder = find({ fold: 'region:2|huts' });
  expect([finder.isFound, finder.place]).toEqual([true, { page: 2, y: 51 }]);
  expect(find({ fold: 'none' })).toMatchObject({ isFound: false, place: null });
});

it('finds the rows at the top of the screen, or what is left of them once they are closed', () => {
  expect(find({ rows: 'region:2/hut:7' })).toMatchObject({ isFound: true, place: { page: 2, y: 70 } });
  // The stay is closed: its hut comes closest. Of a hut that is closed as well, its region.
  expect(find({ rows: 'region:1/hut:4/stay:9' })).toMatchObject({ isFound: false, place: { page: 2, y: 5 } });
  expect(find({ rows: 'region:2/hut:8/stay:1' }).place).toEqual({ page: 2, y: 50 });
  expect(find({ rows: 'region:9' }).place).toBeNull();
});

it('stays where it was on pages that are as they were', () => {
  const finder = new PlaceFinder({ rows: 'region:1/hut:3', place: { page: 1, y: 30 } });
  finder.same(0);
  expect(finder.place).toBeNull();
  finder.same(1);
  expect(finder).toMatchObject({ isFound: true, place: { page: 1, y: 30 } });
});
