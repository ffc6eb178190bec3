import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Decimal } from '../../value/decimal.ts';
import { isNumeric, toNumber } from '../../value/number.ts';
import { FormulaError, valueText } from '../../value/value.ts';
import { worked } from '../formulas.test-support.ts';

const number = (formula: string): number => {
  const value = worked(formula);
  if (!isNumeric(value)) throw new Error(`${formula} is ${valueText(value)}`);
  return toNumber(value);
};
const code = (formula: string): string => {
  const value = worked(formula);
  return value instanceof FormulaError ? value.code : valueText(value);
};
const list = (values: readonly number[]): string => `{${values.join(';')}}`;
const sum = (values: readonly number[]): number => values.reduce((all, one) => all + one, 0);
const mean = (values: readonly number[]): number => sum(values) / values.length;

const values = fc.array(fc.integer({ min: -500, max: 500 }), { minLength: 4, maxLength: 12 });
const pairs = fc.array(fc.tuple(fc.integer({ min: -90, max: 90 }), fc.integer({ min: -90, max: 90 })), {
  minLength: 4,
  maxLength: 12,
});
const differ = (all: readonly number[]): boolean => new Set(all).size > 1;

describe('of a list', () => {
  it('deviations, skewness and kurtosis are what their definitions say', () => {
    fc.assert(
      fc.property(values.filter(differ), (all) => {
        const n = all.length;
        const far = all.map((one) => one - mean(all));
        const squares = sum(far.map((one) => one ** 2));
        const deviation = Math.sqrt(squares / (n - 1));
        expect(number(`DEVSQ(${list(all)})`)).toBeCloseTo(squares, 6);
        expect(number(`AVEDEV(${list(all)})`)).toBeCloseTo(mean(far.map(Math.abs)), 9);
        expect(number(`SUMSQ(${list(all)})`)).toBe(sum(all.map((one) => one ** 2)));
        const third = sum(far.map((one) => (one / deviation) ** 3));
        expect(number(`SKEW(${list(all)})`)).toBeCloseTo((n / ((n - 1) * (n - 2))) * third, 9);
        const fourth = sum(far.map((one) => (one / deviation) ** 4));
        const share = (n * (n + 1)) / ((n - 1) * (n - 2) * (n - 3));
        const beside = (3 * (n - 1) ** 2) / ((n - 2) * (n - 3));
        expect(number(`KURT(${list(all)})`)).toBeCloseTo(share * fourth - beside, 9);
      }),
      { numRuns: 150, seed: 11 },
    );
  });
  it('means lie in their order: the harmonic one first, then the geometric one, then the average', () => {
    const positive = fc.array(fc.integer({ min: 1, max: 900 }), { minLength: 1, maxLength: 9 });
    fc.assert(
      fc.property(positive, (all) => {
        const [harmonic, geometric, average] = ['HARMEAN', 'GEOMEAN', 'AVERAGE'].map((name) =>
          number(`${name}(${list(all)})`),
        );
        expect(harmonic!).toBeLessThanOrEqual(geometric! * (1 + 1e-12));
        expect(geometric!).toBeLessThanOrEqual(average! * (1 + 1e-12));
        expect(harmonic!).toBeCloseTo(all.length / sum(all.map((one) => 1 / one)), 9);
        expect(number(`TRIMMEAN(${list(all)}; 0)`)).toBeCloseTo(average!, 9);
      }),
      { numRuns: 150, seed: 12 },
    );
  });
  it('percentiles and ranks undo each other', () => {
    fc.assert(
      fc.property(
        values.filter((all) => new Set(all).size === all.length),
        fc.integer({ min: 0, max: 100 }),
        (all, hundredth) => {
          const at = number(`PERCENTILE(${list(all)}; ${hundredth / 100})`);
          expect(number(`PERCENTRANK(${list(all)}; PERCENTILE(${list(all)}; ${hundredth / 100}))`)).toBeCloseTo(
            hundredth / 100,
            9,
          );
          const sorted = [...all].sort((a, b) => a - b);
          expect(at).toBeGreaterThanOrEqual(sorted[0]!);
          expect(at).toBeLessThanOrEqual(sorted.at(-1)!);
        },
      ),
      { numRuns: 150, seed: 13 },
    );
  });
  it('too few values, or some that do not fit, are errors', () => {
    for (const [formula, expected] of [
      ['SKEW({1;2})', '#DIV/0!'],
      ['KURT({1;2;3})', '#DIV/0!'],
      ['KURT({2;2;2;2})', '#DIV/0!'],
      ['GEOMEAN({1;-2})', '#NUM!'],
      ['HARMEAN({1;0})', '#NUM!'],
      ['GEOMEAN({"a"})', '#DIV/0!'],
      ['TRIMMEAN({1;2}; 1)', '#NUM!'],
      ['TRIMMEAN({"a"}; 0)', '#DIV/0!'],
      ['PERCENTRANK({1;2}; 3)', '#N/A'],
      ['PERCENTILE({1;2}; -0.1)', '#NUM!'],
      ['STANDARDIZE(1; 2; -1)', '#NUM!'],
    ] as const)
      expect([formula, code(formula)]).toEqual([formula, expected]);
  });
});

describe('of two lists', () => {
  it('correlation and the regression line are what their definitions say', () => {
    fc.assert(
      fc.property(pairs, (both) => {
        const [xs, ys] = [both.map(([x]) => x), both.map(([, y]) => y)];
        fc.pre(differ(xs) && differ(ys));
        const [x, y] = [mean(xs), mean(ys)];
        const along = sum(both.map(([a, b]) => (a - x) * (b - y)));
        const [wide, high] = [sum(xs.map((a) => (a - x) ** 2)), sum(ys.map((b) => (b - y) ** 2))];
        const [first, second] = [list(ys), list(xs)];
        expect(number(`CORREL(${first};${second})`)).toBeCloseTo(along / Math.sqrt(wide * high), 9);
        expect(number(`RSQ(${first};${second})`)).toBeCloseTo(along ** 2 / (wide * high), 9);
        expect(number(`COVAR(${first};${second})`)).toBeCloseTo(along / both.length, 6);
        const slope = along / wide;
        expect(number(`SLOPE(${first};${second})`)).toBeCloseTo(slope, 9);
        expect(number(`INTERCEPT(${first};${second})`)).toBeCloseTo(y - slope * x, 8);
        expect(number(`FORECAST(7;${first};${second})`)).toBeCloseTo(y + slope * (7 - x), 8);
        const left = Math.max(0, high - along ** 2 / wide);
        expect(number(`STEYX(${first};${second})`)).toBeCloseTo(Math.sqrt(left / (both.length - 2)), 6);
      }),
      { numRuns: 150, seed: 14 },
    );
  });
  it('sums of squares go together', () => {
    fc.assert(
      fc.property(pairs, (both) => {
        const [xs, ys] = [list(both.map(([x]) => x)), list(both.map(([, y]) => y))];
        const [less, more, apart] = ['SUMX2MY2', 'SUMX2PY2', 'SUMXMY2'].map((name) => number(`${name}(${xs};${ys})`));
        const product = number(`SUMPRODUCT(${xs};${ys})`);
        expect(less! + more!).toBe(2 * number(`SUMSQ(${xs})`));
        expect(apart!).toBe(more! - 2 * product);
      }),
      { numRuns: 100, seed: 15 },
    );
  });
  it('lists of different lengths, and lines that stand upright, are errors', () => {
    expect(code('CORREL({1;2};{1;2;3})')).toBe('#N/A');
    expect(code('CORREL({1;1};{1;2})')).toBe('#DIV/0!');
    expect(code('SLOPE({1;2};{3;3})')).toBe('#DIV/0!');
    expect(code('STEYX({1;2};{1;2})')).toBe('#DIV/0!');
    expect(code('FORECAST(1;{1;2};{3;3})')).toBe('#DIV/0!');
    // What is no number in either is left out with its other half.
    expect(number('CORREL({1;"a";2;3};{2;9;4;6})')).toBe(1);
  });
});

describe('how many ways there are', () => {
  /** Pascal’s triangle. */
  const triangle: bigint[][] = [[1n]];
  for (let n = 1; n <= 80; n++)
    triangle.push(
      Array.from({ length: n + 1 }, (_, k) => (triangle[n - 1]![k - 1] ?? 0n) + (triangle[n - 1]![k] ?? 0n)),
    );
  const exact = (formula: string): string => valueText(worked(formula));
  it('to choose is what the triangle says, to the last digit', () => {
    for (let n = 0; n <= 80; n += 4)
      for (let k = 0; k <= n; k += 3) {
        expect(exact(`COMBIN(${n};${k})`)).toBe(String(triangle[n]![k]));
        if (n + k <= 80 && n > 0 && k > 0) expect(exact(`COMBINA(${n};${k})`)).toBe(String(triangle[n + k - 1]![k]));
        const ordered = Array.from({ length: k }, (_, i) => BigInt(n - i)).reduce((a, b) => a * b, 1n);
        expect(exact(`PERMUT(${n};${k})`)).toBe(String(ordered));
      }
  });
  it('of several kinds are chosen one after another', () => {
    expect(exact('MULTINOMIAL(10; 20; 30)')).toBe(String(triangle[60]![10]! * triangle[50]![20]!));
    expect(exact('PERMUTATIONA(7; 40)')).toBe(valueText(Decimal.of(7n ** 40n)));
    expect(exact('FACTDOUBLE(9)')).toBe('945');
  });
  it('not too many, and none of fewer than none', () => {
    for (const formula of [
      'COMBIN(3; 4)',
      'COMBIN(-1; 0)',
      'PERMUT(2; 3)',
      'COMBINA(0; 1)',
      'PERMUTATIONA(9; 5000)',
      'MULTINOMIAL(-1; 2)',
      'COMBIN(1e9; 5e8)',
    ])
      expect([formula, code(formula)]).toEqual([formula, '#NUM!']);
  });
});
