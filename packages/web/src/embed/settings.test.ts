import { expect, it } from 'vitest';
import { withPlurals } from './settings.ts';

it('a language with more plural forms than the one that it begins as has words for each', () => {
  const words = {
    pages_one: '1 page',
    pages_other: '{{count}} pages',
    inner: { rows_other: 'rows' },
    title: 'Reports',
  };
  expect(withPlurals(words, 'ar')).toEqual({
    title: 'Reports',
    pages_zero: '{{count}} pages',
    pages_one: '1 page',
    pages_two: '{{count}} pages',
    pages_few: '{{count}} pages',
    pages_many: '{{count}} pages',
    pages_other: '{{count}} pages',
    inner: Object.fromEntries(['zero', 'one', 'two', 'few', 'many', 'other'].map((form) => [`rows_${form}`, 'rows'])),
  });
  expect(withPlurals(words, 'ja')).toMatchObject({ pages_one: '1 page', pages_other: '{{count}} pages' });
});
