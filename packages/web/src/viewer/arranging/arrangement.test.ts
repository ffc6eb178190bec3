import { AS_MADE, type ReaderColumn } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import {
  nextSort,
  readArrangement,
  sortedBy,
  withColumn,
  withFilter,
  without,
  writeArrangement,
} from './arrangement.ts';

const column = (id: string, drawer = 'stays'): ReaderColumn => ({
  id,
  label: id,
  drawer,
  captions: [],
  mayBeHidden: true,
});
const COLUMNS = [column('guest'), column('nights'), column('amount', 'charges')];
const [guest, nights, amount] = COLUMNS as [ReaderColumn, ReaderColumn, ReaderColumn];

it('a press on a caption sorts, a second turns it round, a third takes it back', () => {
  let now = AS_MADE;
  const seen = [0, 1, 2].map(() => {
    now = sortedBy(now, COLUMNS, nights, nextSort(now, nights));
    return now.sorts;
  });
  expect(seen).toEqual([[{ column: 'nights', descending: false }], [{ column: 'nights', descending: true }], []]);
});

it('rows of one drawer are sorted by one column, whatever those of others are sorted by', () => {
  let now = sortedBy(AS_MADE, COLUMNS, amount, true);
  now = sortedBy(now, COLUMNS, nights, false);
  now = sortedBy(now, COLUMNS, guest, false);
  expect(now.sorts.map((sort) => sort.column)).toEqual(['amount', 'guest']);
});

it('each column has one filter, and everything is taken back by itself', () => {
  let now = withFilter(AS_MADE, { column: 'guest', type: 'text', value: 'Ana' });
  now = withColumn(withFilter(now, { column: 'guest', type: 'text', value: 'Rui' }), 'amount', false);
  expect([now.filters.length, now.hidden]).toEqual([1, ['amount']]);
  expect(without(now, 'filters', 'guest')).toEqual({ ...AS_MADE, hidden: ['amount'] });
  expect(withColumn(now, 'amount', true).hidden).toEqual([]);
});

it('stands in an address, and one that cannot be read is none', () => {
  const now = sortedBy(AS_MADE, COLUMNS, nights, true);
  expect(readArrangement(writeArrangement(now))).toEqual(now);
  expect(writeArrangement(AS_MADE)).toBeNull();
  for (const text of [null, '', '{', 'null', '[]', '{"sorts":3}']) expect(readArrangement(text)).toEqual(AS_MADE);
});
