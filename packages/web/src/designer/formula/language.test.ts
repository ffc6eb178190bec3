import type { Completion } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import { matching } from './language.ts';

const field = (insert: string, label: string): Completion => ({
  kind: 'field',
  insert,
  label,
  type: 'number',
  detail: '',
});
const OFFERED = [
  field('unit_price', 'Unit price'),
  field('price_list', 'List'),
  field('hut.name', 'Name'),
  { ...field('UNICODE', 'Unit code'), kind: 'function' as const },
];
const found = (typed: string, before = typed) =>
  matching(OFFERED, typed, before).map(({ completion, length }) => [completion.insert, length]);

it('offers names by what they begin with, by the labels that people see, and by what they contain', () => {
  expect(found('unit')).toEqual([['unit_price', 4]]);
  expect(found('price')).toEqual([
    ['price_list', 5],
    ['unit_price', 5],
  ]);
  // Words before the cursor belong to the label that they begin.
  expect(found('pr', '2 * Unit pr')).toEqual([
    ['price_list', 2],
    ['unit_price', 7],
  ]);
  expect(found('nam')).toEqual([['hut.name', 3]]);
  expect(found('xyz')).toEqual([]);
});
