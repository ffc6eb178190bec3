import { phrase } from '../../problems/phrases.ts';
import { Decimal } from '../../value/decimal.ts';
import {
  add,
  compareNumeric,
  divide,
  isNumeric,
  multiply,
  type Numeric,
  plainNumeric,
  subtract,
  toDecimal,
} from '../../value/number.ts';
import { FormulaError, type Value } from '../../value/value.ts';
import {
  DIVISION_BY_ZERO,
  define,
  defineOver,
  double,
  type FunctionTable,
  flatten,
  fromDouble,
  listOf,
  numbers,
  numbersGiven,
  numeric,
  outOfRange,
  whole,
  wrong,
} from './define.ts';

const ABSENT = new FormulaError('#N/A', phrase('e-lengths'));

const sumOf = (values: readonly Numeric[]): Numeric => values.reduce(add, 0 as Numeric);
const meanOf = (values: readonly Numeric[]): Numeric => divide(sumOf(values), values.length)!;
const squared = (value: Numeric): Numeric => multiply(value, value);

/** Sum of the squares of what lies between values and their mean: exactly (n Σx² − (Σx)²) / n. */
const spreadOf = (values: readonly Numeric[]): Numeric => {
  const count = values.length;
  const squares = sumOf(values.map(squared));
  return divide(subtract(multiply(count, squares), squared(sumOf(values))), count)!;
};

/** A function of all numbers of its arguments; fewer than `least` are an error. */
const over =
  (least: number, work: (values: Numeric[]) => Value) =>
  (given: Value[]): Value => {
    const values = numbersGiven(given);
    if (values instanceof FormulaError) return values;
    return values.length < least ? DIVISION_BY_ZERO : work(values);
  };

/** The numbers of two lists that stand in the same places; what is none of them is left out. */
const pairsOf = (first: Value | undefined, second: Value | undefined): [Numeric, Numeric][] | FormulaError => {
  const [a, b] = [listOf(first), listOf(second)];
  if (a.length !== b.length) return ABSENT;
  return a.flatMap((x, i): [Numeric, Numeric][] => {
    const y = b[i] ?? null;
    return isNumeric(x) && isNumeric(y) ? [[x, y]] : [];
  });
};

/** n Σxy − Σx Σy, and the same of each with itself: exact. */
const productsOf = (pairs: readonly [Numeric, Numeric][]): { xy: Numeric; xx: Numeric; yy: Numeric } => {
  const count = pairs.length;
  const [xs, ys] = [pairs.map(([x]) => x), pairs.map(([, y]) => y)];
  const of = (a: readonly Numeric[], b: readonly Numeric[]): Numeric =>
    subtract(multiply(count, sumOf(a.map((x, i) => multiply(x, b[i]!)))), multiply(sumOf(a), sumOf(b)));
  return { xy: of(xs, ys), xx: of(xs, xs), yy: of(ys, ys) };
};

const root = (value: Numeric): Numeric => plainNumeric(toDecimal(value).root());

/** A function of two lists, the second against the first. */
const overPairs =
  (least: number, work: (pairs: [Numeric, Numeric][]) => Value) =>
  ([first, second]: Value[]): Value => {
    const pairs = pairsOf(first, second);
    if (pairs instanceof FormulaError) return pairs;
    return pairs.length < least ? DIVISION_BY_ZERO : work(pairs);
  };

/** How steep the line is that comes nearest to points, y first; null where all x are one. */
const slopeOf = (pairs: [Numeric, Numeric][]): Numeric | null => {
  const { xy, yy } = productsOf(pairs);
  return divide(xy, yy);
};

const interceptOf = (pairs: [Numeric, Numeric][]): Numeric | null => {
  const slope = slopeOf(pairs);
  return slope === null
    ? null
    : subtract(meanOf(pairs.map(([y]) => y)), multiply(slope, meanOf(pairs.map(([, x]) => x))));
};

/** Σ of what lies between values and their mean over the deviation, to a power. */
const moment = (values: readonly Numeric[], power: 3 | 4): number => {
  const mean = double(meanOf(values));
  const deviation = Math.sqrt(double(spreadOf(values)) / (values.length - 1));
  return values.reduce<number>((sum, value) => sum + ((double(value) - mean) / deviation) ** power, 0);
};

const isConstant = (values: readonly Numeric[]): boolean =>
  values.every((value) => compareNumeric(value, values[0]!) === 0);

/** Most that a binomial coefficient is worked out of. */
const MOST_CHOSEN = 10_000;

/** How many ways there are to choose `count` of `all`; null where they have too many digits. */
const chosen = (all: number, count: number): Decimal | null => {
  const few = Math.min(count, all - count);
  let result = 1n;
  for (let i = 1; i <= few; i++) result = (result * BigInt(all - few + i)) / BigInt(i);
  const found = Decimal.of(result);
  return found.isTooLong ? null : found;
};

const counted = (value: Numeric | Decimal | null): Value =>
  value === null ? outOfRange(phrase('e-many-digits')) : value instanceof Decimal ? plainNumeric(value) : value;

/** Share of the values that lie below one, between those on its sides where it is none of them. */
const rankOf = (sorted: readonly Numeric[], value: Numeric): Numeric | null => {
  const last = sorted.length - 1;
  if (last < 0 || compareNumeric(value, sorted[0]!) < 0 || compareNumeric(value, sorted[last]!) > 0) return null;
  if (last === 0) return 1;
  const at = sorted.findIndex((one) => compareNumeric(one, value) >= 0);
  if (compareNumeric(sorted[at]!, value) === 0) return divide(at, last);
  const [low, high] = [sorted[at - 1]!, sorted[at]!];
  const part = divide(subtract(value, low), subtract(high, low))!;
  return divide(add(at - 1, part), last);
};

const sorted = (value: Value | undefined): Numeric[] => numbers([value ?? null]).sort(compareNumeric);

/** Functions of statistics over lists: written ones, and those that LIST() collects from rows (OpenFormula, section 6.18). */
export const STATISTICS_FUNCTIONS: FunctionTable = {
  SUMSQ: defineOver(
    'value:x*',
    'number',
    'The sum of the squares.',
    'SUMSQ(1; 2; 3) = 14',
    over(0, (values) => sumOf(values.map(squared))),
  ),
  DEVSQ: defineOver(
    'value:x*',
    'number',
    'The sum of the squared deviations from the average.',
    'DEVSQ({1;2;3}) = 2',
    over(1, spreadOf),
  ),
  AVEDEV: defineOver(
    'value:x*',
    'number',
    'The average of the absolute deviations from the average.',
    'AVEDEV({1;2;3;6}) = 1.5',
    over(1, (values) => {
      const mean = meanOf(values);
      return meanOf(
        values.map((value) => {
          const far = subtract(value, mean);
          return compareNumeric(far, 0) < 0 ? subtract(0, far) : far;
        }),
      );
    }),
  ),
  GEOMEAN: defineOver(
    'value:x*',
    'number',
    'The geometric mean of positive numbers.',
    'GEOMEAN({2;8}) = 4',
    over(1, (values) => {
      if (values.some((value) => compareNumeric(value, 0) <= 0))
        return outOfRange(phrase('e-positive', { name: 'GEOMEAN' }));
      return fromDouble(
        Math.exp(values.reduce<number>((sum, value) => sum + Math.log(double(value)), 0) / values.length),
      );
    }),
  ),
  HARMEAN: defineOver(
    'value:x*',
    'number',
    'The harmonic mean of positive numbers.',
    'HARMEAN({2;6}) = 3',
    over(1, (values) => {
      if (values.some((value) => compareNumeric(value, 0) <= 0))
        return outOfRange(phrase('e-positive', { name: 'HARMEAN' }));
      return divide(values.length, sumOf(values.map((value) => divide(1, value)!)));
    }),
  ),
  SKEW: defineOver(
    'value:x*',
    'number',
    'The skewness of a sample: how uneven the values lie around their average.',
    'SKEW({1;2;3}) = 0',
    over(3, (values) => {
      if (isConstant(values)) return DIVISION_BY_ZERO;
      const n = values.length;
      return fromDouble((n / ((n - 1) * (n - 2))) * moment(values, 3));
    }),
  ),
  KURT: defineOver(
    'value:x*',
    'number',
    'The kurtosis of a sample: how peaked the values are, compared with a normal distribution.',
    'ROUND(KURT({1;2;3;4}); 6) = -1.2',
    over(4, (values) => {
      if (isConstant(values)) return DIVISION_BY_ZERO;
      const n = values.length;
      const share = (n * (n + 1)) / ((n - 1) * (n - 2) * (n - 3));
      return fromDouble(share * moment(values, 4) - (3 * (n - 1) ** 2) / ((n - 2) * (n - 3)));
    }),
  ),
  TRIMMEAN: define(
    'list:l share:n',
    'number',
    'The average without a share of the values: half of it the smallest, half the largest.',
    'TRIMMEAN({1;2;3;4;100}; 0.4) = 3',
    ([list, share]) => {
      const values = sorted(list);
      if (double(share) < 0 || double(share) >= 1) return outOfRange(phrase('e-share'));
      if (values.length === 0) return DIVISION_BY_ZERO;
      const cut = Math.floor((double(share) * values.length) / 2 + 1e-12);
      return meanOf(values.slice(cut, values.length - cut));
    },
  ),
  PERCENTRANK: define(
    'list:l value:n',
    'number',
    'The rank of a value in a list as a share, from 0 for the smallest to 1 for the largest.',
    'PERCENTRANK({1;2;3;4;5}; 2) = 0.25',
    ([list, value]) => rankOf(sorted(list), numeric(value)) ?? new FormulaError('#N/A', phrase('e-not-in-list')),
  ),
  CORREL: define(
    'first:l second:l',
    'number',
    'The correlation of two lists of numbers, from -1 to 1.',
    'CORREL({1;2;3}; {2;4;6}) = 1',
    overPairs(1, (pairs) => {
      const { xy, xx, yy } = productsOf(pairs);
      return divide(xy, root(multiply(xx, yy))) ?? DIVISION_BY_ZERO;
    }),
  ),
  COVAR: define(
    'first:l second:l',
    'number',
    'The covariance of two lists of numbers.',
    'COVAR({1;2;3}; {2;4;6}) = 4 / 3',
    overPairs(1, (pairs) => divide(productsOf(pairs).xy, pairs.length ** 2)),
  ),
  RSQ: define(
    'ys:l xs:l',
    'number',
    'The square of the correlation of two lists of numbers.',
    'RSQ({2;4;6}; {1;2;3}) = 1',
    overPairs(1, (pairs) => {
      const { xy, xx, yy } = productsOf(pairs);
      return divide(squared(xy), multiply(xx, yy)) ?? DIVISION_BY_ZERO;
    }),
  ),
  SLOPE: define(
    'ys:l xs:l',
    'number',
    'The slope of the regression line through points.',
    'SLOPE({3;5;7}; {1;2;3}) = 2',
    overPairs(1, (pairs) => slopeOf(pairs) ?? DIVISION_BY_ZERO),
  ),
  INTERCEPT: define(
    'ys:l xs:l',
    'number',
    'Where the regression line through points crosses the y axis.',
    'INTERCEPT({3;5;7}; {1;2;3}) = 1',
    overPairs(1, (pairs) => interceptOf(pairs) ?? DIVISION_BY_ZERO),
  ),
  FORECAST: define(
    'x:n ys:l xs:l',
    'number',
    'The value at x on the regression line through points.',
    'FORECAST(4; {3;5;7}; {1;2;3}) = 9',
    ([x, ...lists]) =>
      overPairs(1, (pairs) => {
        const slope = slopeOf(pairs);
        return slope === null ? DIVISION_BY_ZERO : add(interceptOf(pairs)!, multiply(slope, numeric(x)));
      })(lists),
  ),
  STEYX: define(
    'ys:l xs:l',
    'number',
    'The standard error of the regression line through points.',
    'STEYX({3;5;7}; {1;2;3}) = 0',
    overPairs(3, (pairs) => {
      const { xy, xx, yy } = productsOf(pairs);
      const explained = divide(squared(xy), yy);
      if (explained === null) return DIVISION_BY_ZERO;
      const left = subtract(xx, explained);
      return root(divide(compareNumeric(left, 0) < 0 ? 0 : left, pairs.length * (pairs.length - 2))!);
    }),
  ),
  STANDARDIZE: define(
    'value:n mean:n deviation:n',
    'number',
    'How many standard deviations a value lies above the average.',
    'STANDARDIZE(7; 5; 2) = 1',
    ([value, mean, deviation]) =>
      compareNumeric(numeric(deviation), 0) <= 0
        ? outOfRange(phrase('e-positive', { name: 'STANDARDIZE' }))
        : divide(subtract(numeric(value), numeric(mean)), numeric(deviation)),
  ),
  COMBIN: define(
    'all:n count:n',
    'number',
    'The number of combinations: in how many ways so many can be chosen.',
    'COMBIN(5; 2) = 10',
    ([all, count]) => {
      const [n, k] = [whole(all), whole(count)];
      if (n < 0 || k < 0 || k > n || Math.min(k, n - k) > MOST_CHOSEN) return outOfRange(phrase('e-no-number'));
      return counted(chosen(n, k));
    },
  ),
  COMBINA: define(
    'all:n count:n',
    'number',
    'The number of combinations with repetition.',
    'COMBINA(3; 2) = 6',
    ([all, count]) => {
      const [n, k] = [whole(all), whole(count)];
      if (n < 0 || k < 0 || (n === 0 && k > 0) || k > MOST_CHOSEN) return outOfRange(phrase('e-no-number'));
      return k === 0 ? 1 : counted(chosen(n + k - 1, k));
    },
  ),
  PERMUT: define(
    'all:n count:n',
    'number',
    'The number of permutations: in how many orders so many can be chosen.',
    'PERMUT(5; 2) = 20',
    ([all, count]) => {
      const [n, k] = [whole(all), whole(count)];
      if (n < 0 || k < 0 || k > n || k > MOST_CHOSEN) return outOfRange(phrase('e-no-number'));
      let result: Numeric = 1;
      for (let i = 0; i < k; i++) {
        result = multiply(result, n - i);
        if (result instanceof Decimal && result.isTooLong) return counted(null);
      }
      return result;
    },
  ),
  PERMUTATIONA: define(
    'all:n count:n',
    'number',
    'The number of permutations with repetition.',
    'PERMUTATIONA(3; 2) = 9',
    ([all, count]) => {
      const [n, k] = [whole(all), whole(count)];
      if (n < 0 || k < 0) return outOfRange(phrase('e-no-number'));
      return counted(Decimal.of(n).power(k));
    },
  ),
  MULTINOMIAL: define(
    'value:x*',
    'number',
    'The factorial of the sum, divided by the factorials of the values.',
    'MULTINOMIAL(2; 3) = 10',
    (given) => {
      const values = numbersGiven(given);
      if (values instanceof FormulaError) return values;
      const parts = values.map((value) => whole(value));
      if (parts.some((part) => part < 0 || part > 1000)) return outOfRange(phrase('e-no-number'));
      let all = 0;
      let result = 1n;
      for (const part of parts) {
        for (let i = 1; i <= part; i++) result = (result * BigInt(++all)) / BigInt(i);
        if (Decimal.of(result).isTooLong) return counted(null);
      }
      return counted(Decimal.of(result));
    },
  ),
  SUMX2MY2: define(
    'first:l second:l',
    'number',
    'The sum of the differences of the squares of two lists.',
    'SUMX2MY2({3;4}; {1;2}) = 20',
    overPairs(0, (pairs) => sumOf(pairs.map(([x, y]) => subtract(squared(x), squared(y))))),
  ),
  SUMX2PY2: define(
    'first:l second:l',
    'number',
    'The sum of the squares of two lists.',
    'SUMX2PY2({3;4}; {1;2}) = 30',
    overPairs(0, (pairs) => sumOf(pairs.map(([x, y]) => add(squared(x), squared(y))))),
  ),
  SUMXMY2: define(
    'first:l second:l',
    'number',
    'The sum of the squared differences of two lists.',
    'SUMXMY2({3;4}; {1;2}) = 8',
    overPairs(0, (pairs) => sumOf(pairs.map(([x, y]) => squared(subtract(x, y))))),
  ),
  SERIESSUM: define(
    'value:n first:n step:n factors:l',
    'number',
    'The sum of a power series: each factor times a power of the value; the first power, and by how much it grows.',
    'SERIESSUM(2; 0; 1; {1;1;1}) = 7',
    ([value, first, step, factors]) => {
      const all = flatten([factors ?? null]);
      if (!all.every(isNumeric)) return wrong(phrase('e-no-number'));
      let sum: Numeric = 0;
      for (const [i, factor] of all.entries()) {
        const exponent = whole(first) + i * whole(step);
        const grown = Math.abs(exponent) > 1000 ? null : toDecimal(numeric(value)).power(exponent);
        if (grown === null) return outOfRange(phrase('e-many-digits'));
        sum = add(sum, multiply(factor, grown));
      }
      return sum;
    },
  ),
};
