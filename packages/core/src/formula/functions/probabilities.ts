import { phrase } from '../../problems/phrases.ts';
import { isNumeric, toNumber } from '../../value/number.ts';
import { betaShare, gammaShares, logGamma, normalShare } from '../../value/special-functions.ts';
import { FormulaError, type Value } from '../../value/value.ts';
import { DIVISION_BY_ZERO, define, double, type FunctionTable, flatten, fromDouble, listOf } from './define.ts';
import { fShare, isShare, NO_ANSWER, of, studentAbove, where } from './of-numbers.ts';

const ABSENT = new FormulaError('#N/A', phrase('e-lengths'));

/** The logarithm of how many ways there are to choose k of n. */
const logWays = (n: number, k: number): number => logGamma(n + 1) - logGamma(k + 1) - logGamma(n - k + 1);

const ways = (n: number, k: number): number => {
  if (k < 0 || k > n) return 0;
  let product = 1;
  const few = Math.min(k, n - k);
  if (few > 500) return Math.exp(logWays(n, k));
  for (let i = 1; i <= few; i++) product = (product * (n - few + i)) / i;
  return product;
};

const binomial = (k: number, n: number, p: number): number => {
  if (p === 0 || p === 1) return (p === 0 ? k === 0 : k === n) ? 1 : 0;
  if (n <= 500) return ways(n, k) * p ** k * (1 - p) ** (n - k);
  return Math.exp(logWays(n, k) + k * Math.log(p) + (n - k) * Math.log1p(-p));
};

/** How many there may be to draw from: as many steps lead through a cumulative distribution. */
const MOST_DRAWN_FROM = 1_000_000;

/** The probability that k of n drawn ones are among the m marked of all. */
const hypergeometric = (k: number, n: number, m: number, size: number): number => {
  if (k > n || k > m || n - k > size - m) return 0;
  if (size <= 1000) return (ways(m, k) / ways(size, n)) * ways(size - m, n - k);
  return Math.exp(logWays(m, k) + logWays(size - m, n - k) - logWays(size, n));
};

/** The share of a binomial distribution up to k. */
const binomialShare = (k: number, n: number, p: number): number =>
  k < 0 ? 0 : k >= n ? 1 : 1 - betaShare(p, k + 1, n - k);

const numbersOf = (value: Value | undefined): number[] => listOf(value).filter(isNumeric).map(toNumber);

const meanOf = (values: readonly number[]): number => values.reduce((sum, x) => sum + x, 0) / values.length;

const varianceOf = (values: readonly number[]): number => {
  const mean = meanOf(values);
  return values.reduce((sum, x) => sum + (x - mean) ** 2, 0) / (values.length - 1);
};

/** Student’s t of two samples, by how they are told apart: in pairs, of one variance, or of two (OpenFormula, section 6.18.81). */
const tTest = (a: readonly number[], b: readonly number[], tails: number, kind: number): number => {
  if (kind === 1) {
    const apart = a.map((x, i) => x - b[i]!);
    const t = meanOf(apart) / Math.sqrt(varianceOf(apart) / apart.length);
    return tails * studentAbove(Math.abs(t), apart.length - 1);
  }
  const [va, vb] = [varianceOf(a) / a.length, varianceOf(b) / b.length];
  const pooled = ((a.length - 1) * varianceOf(a) + (b.length - 1) * varianceOf(b)) / (a.length + b.length - 2);
  const spread = kind === 2 ? pooled * (1 / a.length + 1 / b.length) : va + vb;
  const freedom =
    kind === 2 ? a.length + b.length - 2 : (va + vb) ** 2 / (va ** 2 / (a.length - 1) + vb ** 2 / (b.length - 1));
  return tails * studentAbove(Math.abs(meanOf(a) - meanOf(b)) / Math.sqrt(spread), freedom);
};

/** Probabilities of what is counted, and tests of samples (OpenFormula, section 6.18). They have the 15 digits that count. */
export const PROBABILITY_FUNCTIONS: FunctionTable = {
  POISSON: define(
    'count:n mean:n cumulative:b?',
    'number',
    'The Poisson distribution: the probability of at most so many, or of just so many (cumulative FALSE).',
    'ROUND(POISSON(0; 1; FALSE()); 6) = 0.367879',
    of(
      (x, mean, cumulative) =>
        where(x >= 0 && mean >= 0, () => {
          const k = Math.trunc(x);
          if (mean === 0) return cumulative !== 0 || k === 0 ? 1 : 0;
          return cumulative !== 0
            ? gammaShares(k + 1, mean).above
            : Math.exp(k * Math.log(mean) - mean - logGamma(k + 1));
        }),
      [0, 0, 1],
    ),
  ),
  BINOMDIST: define(
    'successes:n trials:n share:n cumulative:b?',
    'number',
    'The binomial distribution: the probability of at most so many successes, or of just so many (cumulative FALSE).',
    'BINOMDIST(2; 4; 0.5; FALSE()) = 0.375',
    of(
      (x, trials, p, cumulative) => {
        const [k, n] = [Math.trunc(x), Math.trunc(trials)];
        return where(k >= 0 && k <= n && isShare(p), () =>
          cumulative !== 0 ? binomialShare(k, n, p) : binomial(k, n, p),
        );
      },
      [0, 0, 0, 1],
    ),
  ),
  CRITBINOM: define(
    'trials:n share:n alpha:n',
    'number',
    'The smallest number of successes whose binomial distribution reaches a probability.',
    'CRITBINOM(4; 0.5; 0.5) = 2',
    of((trials, p, alpha) => {
      const n = Math.trunc(trials);
      return where(n >= 0 && isShare(p) && isShare(alpha), () => {
        let [low, high] = [0, n];
        while (low < high) {
          const middle = Math.floor((low + high) / 2);
          // What was rounded on the way is forgiven.
          if (binomialShare(middle, n, p) >= alpha - 1e-14) high = middle;
          else low = middle + 1;
        }
        return low;
      });
    }),
  ),
  NEGBINOMDIST: define(
    'failures:n successes:n share:n',
    'number',
    'The probability of so many failures before so many successes.',
    'NEGBINOMDIST(1; 1; 0.5) = 0.25',
    of((x, r, p) => {
      const [k, n] = [Math.trunc(x), Math.trunc(r)];
      return where(k >= 0 && n >= 1 && isShare(p), () => ways(k + n - 1, n - 1) * p ** n * (1 - p) ** k);
    }),
  ),
  HYPGEOMDIST: define(
    'successes:n drawn:n marked:n all:n cumulative:b?',
    'number',
    'The probability of so many marked ones among those that are drawn without putting them back.',
    'HYPGEOMDIST(1; 1; 1; 2) = 0.5',
    of(
      (x, drawn, marked, all, cumulative) => {
        const [k, n, m, size] = [x, drawn, marked, all].map(Math.trunc) as [number, number, number, number];
        const holds = k >= 0 && n >= 0 && m >= 0 && n <= size && m <= size && size <= MOST_DRAWN_FROM;
        return where(holds, () => {
          if (cumulative === 0) return hypergeometric(k, n, m, size);
          const first = Math.max(0, n + m - size);
          let [one, sum] = [hypergeometric(first, n, m, size), 0];
          for (let i = first; i <= Math.min(k, n, m); i++) {
            sum += one;
            one *= ((m - i) * (n - i)) / ((i + 1) * (size - m - n + i + 1));
          }
          return Math.min(1, sum);
        });
      },
      [0, 0, 0, 0, 0],
    ),
  ),
  PROB: define(
    'values:l shares:l from:n to:n?',
    'number',
    'The probability of the values of a list between two bounds, by their own probabilities.',
    'PROB({1;2;3}; {0.2;0.3;0.5}; 2; 3) = 0.8',
    ([values, shares, from, to]) => {
      const [all, each] = [numbersOf(values), numbersOf(shares)];
      if (all.length !== each.length) return ABSENT;
      const sum = each.reduce((total, p) => total + p, 0);
      if (each.some((p) => !isShare(p)) || Math.abs(sum - 1) > 1e-7) return NO_ANSWER;
      const low = double(from);
      const high = to === undefined || to === null ? low : double(to);
      return fromDouble(all.reduce((total, x, i) => (x >= low && x <= high ? total + each[i]! : total), 0));
    },
  ),
  CHITEST: define(
    'observed:l expected:l',
    'number',
    'The probability that a sample differs from what was expected as much by chance (chi-square test).',
    'CHITEST({10;10}; {10;10}) = 1',
    ([observed, expected]) => {
      const [seen, wanted] = [numbersOf(observed), numbersOf(expected)];
      if (seen.length !== wanted.length) return ABSENT;
      if (seen.length < 2 || wanted.some((one) => one <= 0)) return NO_ANSWER;
      const sum = seen.reduce((total, x, i) => total + (x - wanted[i]!) ** 2 / wanted[i]!, 0);
      return fromDouble(gammaShares((seen.length - 1) / 2, sum / 2).above);
    },
  ),
  FTEST: define(
    'first:l second:l',
    'number',
    'The probability that the variances of two samples differ as much by chance (F test, both tails).',
    'FTEST({1;2;3}; {2;3;4}) = 1',
    ([first, second]) => {
      const [a, b] = [numbersOf(first), numbersOf(second)];
      if (a.length < 2 || b.length < 2) return DIVISION_BY_ZERO;
      const ratio = varianceOf(a) / varianceOf(b);
      if (!Number.isFinite(ratio)) return DIVISION_BY_ZERO;
      const below = fShare(ratio, a.length - 1, b.length - 1);
      return fromDouble(Math.min(1, 2 * Math.min(below, 1 - below)));
    },
  ),
  TTEST: define(
    'first:l second:l tails:n kind:n',
    'number',
    'The probability that the means of two samples differ as much by chance: 1 for pairs, 2 for equal variances, 3 for others.',
    'TTEST({1;2;3}; {1;2;3}; 2; 2) = 1',
    ([first, second, tails, kind]) => {
      const [a, b] = [numbersOf(first), numbersOf(second)];
      const [sides, way] = [Math.trunc(double(tails)), Math.trunc(double(kind))];
      if (![1, 2].includes(sides) || ![1, 2, 3].includes(way)) return NO_ANSWER;
      if (way === 1 && a.length !== b.length) return ABSENT;
      if (a.length < 2 || b.length < 2) return DIVISION_BY_ZERO;
      const found = tTest(a, b, sides, way);
      return Number.isNaN(found) ? DIVISION_BY_ZERO : fromDouble(found);
    },
  ),
  ZTEST: define(
    'values:l mean:n deviation:n?',
    'number',
    'The probability that the mean of a sample lies as far above a value by chance.',
    'ZTEST({1;2;3}; 2) = 0.5',
    ([values, mean, deviation]) => {
      const all = flatten([values ?? null])
        .filter(isNumeric)
        .map(toNumber);
      if (all.length < 2) return DIVISION_BY_ZERO;
      const spread = deviation === undefined || deviation === null ? Math.sqrt(varianceOf(all)) : double(deviation);
      if (spread <= 0) return DIVISION_BY_ZERO;
      return fromDouble(1 - normalShare(((meanOf(all) - double(mean)) / spread) * Math.sqrt(all.length)));
    },
  ),
};
