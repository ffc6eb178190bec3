import fc from 'fast-check';
import { expect, it } from 'vitest';
import { textOrderOf } from '../../text/text-order.ts';
import { CalendarDate } from '../../value/date.ts';
import { Decimal } from '../../value/decimal.ts';
import { toNumber } from '../../value/number.ts';
import { FormulaError, identityOf, type Value, valueText } from '../../value/value.ts';
import { Accumulator as Total, type TotalName, totalFromState, totalOf as totalInOrder } from './totals.ts';

const ENGLISH = textOrderOf('en');
const totalOf = (name: TotalName, values: Iterable<Value>): Value => totalInOrder(name, values, ENGLISH);
class Accumulator extends Total {
  constructor(name: TotalName) {
    super(name, ENGLISH);
  }
}

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

const EVERY: readonly TotalName[] = [
  ...(['SUM', 'COUNT', 'COUNTA', 'AVERAGE', 'MIN', 'MAX', 'MEDIAN', 'COUNTDISTINCT'] as const),
  ...(['VAR', 'VARP', 'STDEV', 'STDEVP', 'FIRST', 'LAST', 'LIST'] as const),
];

it('a total of parts is the total of the whole, whichever parts are empty', () => {
  const value = fc.oneof(fc.integer({ min: -99, max: 99 }), fc.constant(null));
  fc.assert(
    fc.property(fc.array(fc.array(value, { maxLength: 6 }), { minLength: 1, maxLength: 5 }), (parts) => {
      for (const name of EVERY) {
        const whole = new Accumulator(name);
        for (const part of parts) {
          const own = new Accumulator(name);
          for (const one of part) own.add(one);
          whole.merge(own);
        }
        expect([name, identityOf(whole.result())]).toEqual([name, identityOf(totalOf(name, parts.flat()))]);
      }
    }),
  );
});

it('adds up what a database has counted, part by part', () => {
  const added = (name: TotalName, ...states: [Value, number][]): Value => {
    const total = new Accumulator(name);
    for (const [state, times] of states) total.addState(state, times);
    return total.result();
  };
  expect(added('COUNT', [3, 3], [null, 2], [4, 4])).toBe(7);
  expect(valueText(added('AVERAGE', ['2 10', 2], ['2 2.5', 2]))).toBe('3.125');
  expect(valueText(added('VARP', ['2 4 10', 2], ['1 3 9', 1]))).toBe(valueText(totalOf('VARP', [1, 3, 3])));
  expect(added('MAX', [3, 9], [8, 1])).toBe(8);
  expect(added('MEDIAN', [1, 1], [5, 3])).toBe(5);
  expect(added('COUNTDISTINCT', ['a', 4], ['b', 1], ['a', 2])).toBe(2);
  expect(added('AVERAGE', ['no numbers', 1])).toBeInstanceOf(FormulaError);
});
