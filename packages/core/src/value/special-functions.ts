/** Lanczos’ coefficients for g = 7 and nine terms (C. Lanczos, 1964): about 15 digits. */
const LANCZOS = [
  0.99999999999980993, 676.5203681218851, -1259.1392167224028, 771.32342877765313, -176.61502916214059,
  12.507343278686905, -0.13857109526572012, 9.9843695780195716e-6, 1.5056327351493116e-7,
];

const HALF_LOG_TWO_PI = 0.9189385332046728;

/** The natural logarithm of the gamma function of a positive number. */
export const logGamma = (x: number): number => {
  // Small ones by the next larger one, where the series is at its best.
  if (x < 0.5) return Math.log(Math.PI / Math.sin(Math.PI * x)) - logGamma(1 - x);
  const at = x - 1;
  let sum = LANCZOS[0]!;
  for (let i = 1; i < LANCZOS.length; i++) sum += LANCZOS[i]! / (at + i);
  const base = at + 7.5;
  return HALF_LOG_TWO_PI + (at + 0.5) * Math.log(base) - base + Math.log(sum);
};

/** The gamma function; NaN for 0 and negative whole numbers. */
export const gamma = (x: number): number => {
  if (Number.isInteger(x)) {
    if (x <= 0) return Number.NaN;
    if (x <= 171) {
      let product = 1;
      for (let i = 2; i < x; i++) product *= i;
      return product;
    }
  }
  return x < 0.5 ? Math.PI / (Math.sin(Math.PI * x) * gamma(1 - x)) : Math.exp(logGamma(x));
};

/** Steps after which something is taken to come to no end: NaN. */
const MOST_STEPS = 10_000;
const CLOSE = 1e-16;
const TINY = 1e-300;
const NO_SHARES = { below: Number.NaN, above: Number.NaN };

/**
 * Shares of the gamma function up to x and from there on, P(a; x) and Q(a; x) (NIST Digital Library of Mathematical Functions, 8.2): by the
 * series (8.11.4) or the continued fraction (8.9.2), whichever ends sooner.
 */
export const gammaShares = (a: number, x: number): { below: number; above: number } => {
  if (x <= 0) return { below: 0, above: 1 };
  const scale = Math.exp(a * Math.log(x) - x - logGamma(a));
  if (x < a + 1) {
    let term = 1 / a;
    let sum = term;
    for (let i = 1; Math.abs(term) > Math.abs(sum) * CLOSE; i++) {
      if (i > MOST_STEPS) return NO_SHARES;
      term *= x / (a + i);
      sum += term;
    }
    const below = Math.min(1, sum * scale);
    return { below, above: 1 - below };
  }
  let b = x + 1 - a;
  let c = 1 / TINY;
  let d = 1 / b;
  let h = d;
  for (let i = 1; ; i++) {
    if (i > MOST_STEPS) return NO_SHARES;
    const an = -i * (i - a);
    b += 2;
    d = 1 / (an * d + b || TINY);
    c = b + an / c || TINY;
    const step = d * c;
    h *= step;
    if (Math.abs(step - 1) < CLOSE) break;
  }
  const above = Math.min(1, scale * h);
  return { below: 1 - above, above };
};

/** The share of the beta function up to x, I_x(a; b) (NIST Digital Library of Mathematical Functions, 8.17.22). */
export const betaShare = (x: number, a: number, b: number): number => {
  if (x <= 0) return 0;
  if (x >= 1) return 1;
  const scale = Math.exp(logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log1p(-x));
  return x < (a + 1) / (a + b + 2) ? (scale * betaFraction(x, a, b)) / a : 1 - (scale * betaFraction(1 - x, b, a)) / b;
};

const betaFraction = (x: number, a: number, b: number): number => {
  let c = 1;
  let d = 1 / (1 - ((a + b) * x) / (a + 1) || TINY);
  let h = d;
  for (let m = 1; ; m++) {
    if (m > MOST_STEPS) return Number.NaN;
    const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m));
    d = 1 / (1 + even * d || TINY);
    c = 1 + even / c || TINY;
    h *= d * c;
    const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1));
    d = 1 / (1 + odd * d || TINY);
    c = 1 + odd / c || TINY;
    const step = d * c;
    h *= step;
    if (Math.abs(step - 1) < CLOSE) break;
  }
  return h;
};

/** The error function, and what is left of it to 1. */
export const errorFunction = (x: number): { below: number; above: number } => {
  const { below, above } = gammaShares(0.5, x * x);
  return x < 0 ? { below: -below, above: 2 - above } : { below, above };
};

/** The share of the standard normal distribution below x. */
export const normalShare = (x: number): number => errorFunction(-x / Math.SQRT2).above / 2;

export const normalDensity = (x: number): number => Math.exp((-x * x) / 2) / Math.sqrt(2 * Math.PI);

/**
 * Where a growing function has a value, between two places; where it has it at none of them, the one that is closest. Halves what is
 * between, so that it ends for every function.
 */
export const whereIs = (value: number, grows: (x: number) => number, from: number, to: number): number => {
  let [low, high] = [from, Math.min(to, from + 1)];
  while (high < to && grows(high) < value) [low, high] = [high, Math.min(to, from + (high - from) * 4)];
  for (let i = 0; i < 400; i++) {
    const middle = low + (high - low) / 2;
    if (middle <= low || middle >= high) break;
    if (grows(middle) < value) low = middle;
    else high = middle;
  }
  const [below, above] = [grows(low), grows(high)];
  if (Number.isNaN(below) || Number.isNaN(above)) return Number.NaN;
  return Math.abs(below - value) <= Math.abs(above - value) ? low : high;
};
