import type { Page } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import { countOnPage } from './find-text.ts';

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
