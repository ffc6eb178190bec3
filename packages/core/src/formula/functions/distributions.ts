import {
  betaShare,
  errorFunction,
  gamma,
  gammaShares,
  logGamma,
  normalDensity,
  normalShare,
  whereIs,
} from '../../value/special-functions.ts';
import { define, type FunctionTable } from './define.ts';
import { fShare, isShare, normalPlace, of, studentAbove, where } from './of-numbers.ts';

/** Past what any of these is ever looked for at. */
const FAR = 1e300;

/** Continuous distributions (OpenFormula, section 6.18). They have the 15 digits that count. */
export const DISTRIBUTION_FUNCTIONS: FunctionTable = {
  NORMDIST: define(
    'value:n mean:n? deviation:n? cumulative:b?',
    'number',
    'The normal distribution: the share below a value, or its density there (cumulative FALSE).',
    'NORMDIST(5; 5; 2) = 0.5',
    of(
      (x, mean, deviation, cumulative) => {
        const z = (x - mean) / deviation;
        return where(deviation > 0, () => (cumulative === 0 ? normalDensity(z) / deviation : normalShare(z)));
      },
      [0, 0, 1, 1],
    ),
  ),
  NORMINV: define(
    'share:n mean:n? deviation:n?',
    'number',
    'The value below which a share of a normal distribution lies.',
    'NORMINV(0.5; 5; 2) = 5',
    of(
      (p, mean, deviation) => where(p > 0 && p < 1 && deviation > 0, () => mean + deviation * normalPlace(p)),
      [0, 0, 1],
    ),
  ),
  NORMSDIST: define(
    'value:n',
    'number',
    'The share of the standard normal distribution below a value.',
    'NORMSDIST(0) = 0.5',
    of(normalShare),
  ),
  NORMSINV: define(
    'share:n',
    'number',
    'The value below which a share of the standard normal distribution lies.',
    'NORMSINV(0.5) = 0',
    of((p) => where(p > 0 && p < 1, () => normalPlace(p))),
  ),
  PHI: define(
    'value:n',
    'number',
    'The density of the standard normal distribution.',
    'ROUND(PHI(0); 6) = 0.398942',
    of(normalDensity),
  ),
  GAUSS: define(
    'value:n',
    'number',
    'The share of the standard normal distribution between 0 and a value.',
    'GAUSS(0) = 0',
    of((x) => errorFunction(x / Math.SQRT2).below / 2),
  ),
  ERF: define(
    'value:n',
    'number',
    'The error function.',
    'ERF(0) = 0',
    of((x) => errorFunction(x).below),
  ),
  ERFC: define(
    'value:n',
    'number',
    'What the error function lacks to 1.',
    'ERFC(0) = 1',
    of((x) => errorFunction(x).above),
  ),
  CONFIDENCE: define(
    'alpha:n deviation:n count:n',
    'number',
    'Half the width of the confidence interval of a mean, for a known standard deviation.',
    'ROUND(CONFIDENCE(0.05; 1; 100); 4) = 0.196',
    of((alpha, deviation, count) =>
      where(alpha > 0 && alpha < 1 && deviation > 0 && count >= 1, () => {
        return (normalPlace(1 - alpha / 2) * deviation) / Math.sqrt(Math.trunc(count));
      }),
    ),
  ),
  FISHER: define(
    'value:n',
    'number',
    'The Fisher transformation of a correlation.',
    'FISHER(0) = 0',
    of((r) => where(Math.abs(r) < 1, () => Math.atanh(r))),
  ),
  FISHERINV: define(
    'value:n',
    'number',
    'The correlation of a Fisher transformation.',
    'FISHERINV(0) = 0',
    of(Math.tanh),
  ),
  GAMMA: define('value:n', 'number', 'The gamma function.', 'GAMMA(5) = 24', of(gamma)),
  GAMMALN: define(
    'value:n',
    'number',
    'The natural logarithm of the gamma function.',
    'GAMMALN(1) = 0',
    of((x) => where(x > 0, () => (x === 1 || x === 2 ? 0 : logGamma(x)))),
  ),
  GAMMADIST: define(
    'value:n shape:n scale:n cumulative:b?',
    'number',
    'The gamma distribution: the share below a value, or its density there (cumulative FALSE).',
    'ROUND(GAMMADIST(1; 1; 1; TRUE()); 6) = 0.632121',
    of(
      (x, a, b, cumulative) =>
        where(a > 0 && b > 0, () => {
          if (x < 0) return 0;
          if (cumulative !== 0) return gammaShares(a, x / b).below;
          if (x === 0) return a === 1 ? 1 / b : a > 1 ? 0 : Number.NaN;
          return Math.exp((a - 1) * Math.log(x / b) - x / b - logGamma(a)) / b;
        }),
      [0, 0, 0, 1],
    ),
  ),
  GAMMAINV: define(
    'share:n shape:n scale:n',
    'number',
    'The value below which a share of a gamma distribution lies.',
    'GAMMAINV(0; 2; 3) = 0',
    of((p, a, b) =>
      where(p >= 0 && p < 1 && a > 0 && b > 0, () => whereIs(p, (x) => gammaShares(a, x).below, 0, FAR) * b),
    ),
  ),
  CHISQDIST: define(
    'value:n freedom:n cumulative:b?',
    'number',
    'The chi-square distribution: the share below a value, or its density there (cumulative FALSE).',
    'ROUND(CHISQDIST(2; 2); 6) = 0.632121',
    of(
      (x, freedom, cumulative) =>
        where(freedom >= 1, () => {
          const k = Math.trunc(freedom) / 2;
          if (x <= 0) return 0;
          return cumulative !== 0
            ? gammaShares(k, x / 2).below
            : Math.exp((k - 1) * Math.log(x / 2) - x / 2 - logGamma(k)) / 2;
        }),
      [0, 0, 1],
    ),
  ),
  CHISQINV: define(
    'share:n freedom:n',
    'number',
    'The value below which a share of a chi-square distribution lies.',
    'CHISQINV(0; 3) = 0',
    of((p, k) =>
      where(p >= 0 && p < 1 && k >= 1, () => 2 * whereIs(p, (x) => gammaShares(Math.trunc(k) / 2, x).below, 0, FAR)),
    ),
  ),
  CHIDIST: define(
    'value:n freedom:n',
    'number',
    'The share of a chi-square distribution above a value.',
    'CHIDIST(0; 3) = 1',
    of((x, k) => where(k >= 1, () => (x <= 0 ? 1 : gammaShares(Math.trunc(k) / 2, x / 2).above))),
  ),
  CHIINV: define(
    'share:n freedom:n',
    'number',
    'The value above which a share of a chi-square distribution lies.',
    'CHIINV(1; 3) = 0',
    of((p, k) =>
      where(p > 0 && p <= 1 && k >= 1, () => 2 * whereIs(-p, (x) => -gammaShares(Math.trunc(k) / 2, x).above, 0, FAR)),
    ),
  ),
  TDIST: define(
    'value:n freedom:n tails:n',
    'number',
    'The share of Student’s t distribution above a value: in one tail, or in both.',
    'TDIST(0; 5; 2) = 1',
    of((t, freedom, tails) =>
      where(t >= 0 && freedom >= 1 && (Math.trunc(tails) === 1 || Math.trunc(tails) === 2), () => {
        return Math.trunc(tails) * studentAbove(t, Math.trunc(freedom));
      }),
    ),
  ),
  TINV: define(
    'share:n freedom:n',
    'number',
    'The value outside which a share of Student’s t distribution lies, both tails together.',
    'TINV(1; 5) = 0',
    of((p, freedom) =>
      where(p > 0 && p <= 1 && freedom >= 1, () =>
        whereIs(-p / 2, (t) => -studentAbove(t, Math.trunc(freedom)), 0, FAR),
      ),
    ),
  ),
  FDIST: define(
    'value:n freedom1:n freedom2:n cumulative:b?',
    'number',
    'The F distribution: the share below a value, or its density there (cumulative FALSE).',
    'FDIST(1; 2; 2) = 0.5',
    of(
      (x, r1, r2, cumulative) => {
        const [a, b] = [Math.trunc(r1), Math.trunc(r2)];
        return where(a >= 1 && b >= 1, () => {
          if (cumulative !== 0) return fShare(x, a, b);
          if (x <= 0) return 0;
          const log = (a / 2) * Math.log(a / b) + (a / 2 - 1) * Math.log(x) - ((a + b) / 2) * Math.log1p((a * x) / b);
          return Math.exp(log + logGamma((a + b) / 2) - logGamma(a / 2) - logGamma(b / 2));
        });
      },
      [0, 0, 0, 1],
    ),
  ),
  FINV: define(
    'share:n freedom1:n freedom2:n',
    'number',
    'The value below which a share of an F distribution lies.',
    'FINV(0; 2; 2) = 0',
    of((p, a, b) =>
      where(p >= 0 && p < 1 && a >= 1 && b >= 1, () =>
        whereIs(p, (x) => fShare(x, Math.trunc(a), Math.trunc(b)), 0, FAR),
      ),
    ),
  ),
  BETADIST: define(
    'value:n alpha:n beta:n from:n? to:n? cumulative:b?',
    'number',
    'The beta distribution: the share below a value, or its density there (cumulative FALSE).',
    'BETADIST(0.5; 2; 2) = 0.5',
    of(
      (x, a, b, from, to, cumulative) =>
        where(a > 0 && b > 0 && to > from, () => {
          const at = (x - from) / (to - from);
          if (cumulative !== 0) return betaShare(at, a, b);
          if (at < 0 || at > 1) return 0;
          const log = logGamma(a + b) - logGamma(a) - logGamma(b);
          return (Math.exp(log) * at ** (a - 1) * (1 - at) ** (b - 1)) / (to - from);
        }),
      [0, 0, 0, 0, 1, 1],
    ),
  ),
  BETAINV: define(
    'share:n alpha:n beta:n from:n? to:n?',
    'number',
    'The value below which a share of a beta distribution lies.',
    'BETAINV(0.5; 2; 2) = 0.5',
    of(
      (p, a, b, from, to) =>
        where(
          isShare(p) && a > 0 && b > 0 && to > from,
          () => from + (to - from) * whereIs(p, (x) => betaShare(x, a, b), 0, 1),
        ),
      [0, 0, 0, 0, 1],
    ),
  ),
  EXPONDIST: define(
    'value:n rate:n cumulative:b?',
    'number',
    'The exponential distribution: the share below a value, or its density there (cumulative FALSE).',
    'EXPONDIST(0; 2) = 0',
    of(
      (x, rate, cumulative) =>
        where(rate > 0, () => (x < 0 ? 0 : cumulative !== 0 ? -Math.expm1(-rate * x) : rate * Math.exp(-rate * x))),
      [0, 0, 1],
    ),
  ),
  WEIBULL: define(
    'value:n shape:n scale:n cumulative:b?',
    'number',
    'The Weibull distribution: the share below a value, or its density there (cumulative FALSE).',
    'ROUND(WEIBULL(1; 1; 1; TRUE()); 6) = 0.632121',
    of(
      (x, shape, scale, cumulative) =>
        where(x >= 0 && shape > 0 && scale > 0, () => {
          const power = (x / scale) ** shape;
          return cumulative !== 0
            ? -Math.expm1(-power)
            : (shape / scale) * (x / scale) ** (shape - 1) * Math.exp(-power);
        }),
      [0, 0, 0, 1],
    ),
  ),
  LOGNORMDIST: define(
    'value:n mean:n? deviation:n? cumulative:b?',
    'number',
    'The lognormal distribution: the share below a value, or its density there (cumulative FALSE).',
    'LOGNORMDIST(1) = 0.5',
    of(
      (x, mean, deviation, cumulative) =>
        where(deviation > 0, () => {
          if (x <= 0) return 0;
          const z = (Math.log(x) - mean) / deviation;
          return cumulative !== 0 ? normalShare(z) : normalDensity(z) / (deviation * x);
        }),
      [0, 0, 1, 1],
    ),
  ),
  LOGINV: define(
    'share:n mean:n? deviation:n?',
    'number',
    'The value below which a share of a lognormal distribution lies.',
    'LOGINV(0.5) = 1',
    of(
      (p, mean, deviation) => where(p > 0 && p < 1 && deviation > 0, () => Math.exp(mean + deviation * normalPlace(p))),
      [0, 0, 1],
    ),
  ),
};
