import type { Page } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import { allPages } from './all-pages.ts';
import { countOnPage, findOnPages } from './find-text.ts';

const page = (...texts: string[]): Page =>
  ({ width: 100, height: 100, marks: texts.map((text) => ({ kind: 'text', text })) }) as unknown as Page;

it('counts a text on a page, ignoring case and accents', () => {
  const hut = page('Refúgio da Última Neve', 'REFUGIO', 'the last refúgio');
  expect(countOnPage(hut, 'refugio')).toBe(3);
  expect(countOnPage(hut, 'última')).toBe(1);
  expect(countOnPage(hut, 'winter')).toBe(0);
  expect(countOnPage(hut, '  ')).toBe(0);
});

it('finds words that stand in texts after each other', () => {
  expect(countOnPage(page('Season', '2025'), 'season 2025')).toBe(1);
});

it('looks through all pages of a run, however few the server gives at once', async () => {
  const pages = Array.from({ length: 53 }, (_, i) => page(i % 10 === 7 ? 'Alminhas, Alminhas' : 'nothing'));
  const fetchPages = async (_run: string, from: number, count: number) =>
    pages.slice(from - 1, from - 1 + Math.min(count, 9));
  expect(await findOnPages(allPages('r', 53, fetchPages), 'alminhas')).toEqual({
    count: 10,
    pages: [8, 18, 28, 38, 48],
  });
  // Fewer than was said, as of a run that is gone, are all there are.
  expect((await findOnPages(allPages('r', 90, fetchPages), 'alminhas')).count).toBe(10);
});
