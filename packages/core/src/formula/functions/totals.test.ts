import fc from 'fast-check';
import { expect, it } from 'vitest';
import { CalendarDate } from '../../value/date.ts';
import { Decimal } from '../../value/decimal.ts';
import { toNumber } from '../../value/number.ts';
import { FormulaError, identityOf, type Value, valueText } from '../../value/value.ts';
import { totalFromState, totalOf } from './totals.ts';

/** Money-like numbers, as exact decimals. */
const amounts = fc.array(fc.integer({ min: -1e9, max: 1e9 }), { minLength: 1, maxLength: 40 });
const asMoney = (list: number[]): Decimal[] => list.map((cents) => Decimal.of(cents, 2));

it('a sum is exact and the same in every order', () => {
  fc.assert(
    fc.property(amounts, (list) => {
      const expected = Decimal.of(BigInt(list.reduce((sum, v) => sum + v, 0)), 2);
      for (const order of [asMoney(list), asMoney(list).reverse()])
        expect(identityOf(totalOf('SUM', order))).toBe(identityOf(expected));
    }),
  );
});

it('means and spreads agree with a plain computation, and are the same from a database’s sums', () => {
  fc.assert(
    fc.property(amounts, (list) => {
      const values = asMoney(list);
      const plain = list.map((v) => v / 100);
      const mean = plain.reduce((a, b) => a + b, 0) / plain.length;
      const squares = plain.reduce((sum, v) => sum + (v - mean) ** 2, 0);
      const near = (value: Value, wanted: number) =>
        expect(Math.abs(toNumber(value as Decimal) - wanted)).toBeLessThanOrEqual(1e-6 * Math.max(1, Math.abs(wanted)));
      near(totalOf('AVERAGE', values), mean);
      near(totalOf('VARP', values), squares / plain.length);
      near(totalOf('STDEVP', values), Math.sqrt(squares / plain.length));
      if (list.length > 1) near(totalOf('VAR', values), squares / (plain.length - 1));
      const sum = values.reduce((a, b) => a.add(b));
      const squared = values.reduce((a, b) => a.add(b.multiply(b)), Decimal.of(0));
      const state = `${list.length} ${sum} ${squared}`;
      for (const name of ['AVERAGE', 'VAR', 'VARP', 'STDEV', 'STDEVP'] as const)
        expect(identityOf(totalFromState(name, state, 'text'))).toBe(identityOf(totalOf(name, values)));
    }),
  );
});

it('a median is the middle of the sorted values', () => {
  fc.assert(
    fc.property(amounts, (list) => {
      const sorted = [...list].sort((a, b) => a - b);
      const [low, high] = [sorted[(sorted.length - 1) >> 1]!, sorted[sorted.length >> 1]!];
      expect(identityOf(totalOf('MEDIAN', asMoney(list)))).toBe(identityOf(Decimal.of(BigInt(low + high) * 5n, 3)));
    }),
  );
});

it('blanks count for nothing, the first error stays, and no rows give 0 or a blank', () => {
  expect(valueText(totalOf('AVERAGE', [null, 2, null, 4]))).toBe('3');
  expect(totalOf('COUNT', [null, 'a', 3, CalendarDate.at(0)])).toBe(2);
  expect(totalOf('COUNTA', [null, 'a', '', new FormulaError('#N/A')])).toBe(3);
  expect(totalOf('COUNTDISTINCT', [1, Decimal.of(10, 1), '1', null])).toBe(2);
  expect(totalOf('SUM', [1, new FormulaError('#N/A'), new FormulaError('#NUM!')])).toMatchObject({ code: '#N/A' });
  expect(['SUM', 'COUNT', 'COUNTDISTINCT'].map((name) => totalOf(name as 'SUM', []))).toEqual([0, 0, 0]);
  expect(['AVERAGE', 'MIN', 'MEDIAN', 'STDEV', 'FIRST'].map((name) => totalOf(name as 'MIN', []))).toEqual([
    null,
    null,
    null,
    null,
    null,
  ]);
  expect(totalOf('STDEV', [5])).toBeNull();
  expect([totalFromState('SUM', null, 'number'), totalFromState('MAX', null, 'date')]).toEqual([0, null]);
  expect(totalFromState('AVERAGE', 'nonsense', 'text')).toMatchObject({ code: '#VALUE!' });
});
