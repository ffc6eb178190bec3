import { describe, expect, it } from 'vitest';
import {
  betaShare,
  errorFunction,
  gamma,
  gammaShares,
  logGamma,
  normalDensity,
  normalShare,
  whereIs,
} from './special-functions.ts';

/** Equal but for what doubles lose on the way. */
const close = (found: number, expected: number, within = 1e-12): void => {
  expect(Math.abs(found - expected)).toBeLessThanOrEqual(within * Math.max(1, Math.abs(expected)));
};

const PLACES = [0.01, 0.3, 0.5, 1, 1.7, 2, 5.5, 12, 40, 120.25];

/** The area under a curve by Simpson’s rule: slow and plain. */
const area = (curve: (x: number) => number, from: number, to: number, steps = 2000): number => {
  const width = (to - from) / steps;
  let sum = curve(from) + curve(to);
  for (let i = 1; i < steps; i++) sum += curve(from + i * width) * (i % 2 === 0 ? 2 : 4);
  return (sum * width) / 3;
};

describe('the gamma function', () => {
  it('grows by x from x to x + 1, also left of 0', () => {
    for (const x of [...PLACES, -0.5, -3.25]) close(gamma(x + 1), x * gamma(x));
    for (const x of PLACES) close(logGamma(x + 1), logGamma(x) + Math.log(x));
  });

  it('is the factorial of whole numbers, and nothing where it has no value', () => {
    for (const [x, value] of [
      [1, 1],
      [2, 1],
      [5, 24],
      [11, 3_628_800],
      [19, 6_402_373_705_728_000],
    ] as const)
      expect(gamma(x)).toBe(value);
    for (const x of [0, -1, -7]) expect(gamma(x)).toBeNaN();
    expect(gamma(200)).toBe(Number.POSITIVE_INFINITY);
  });

  it('has the value at a half that a circle gives', () => {
    close(gamma(0.5) ** 2, Math.PI);
    close(gamma(0.25) * gamma(0.75), Math.PI * Math.SQRT2);
  });
});

describe('shares of the gamma function', () => {
  it('make up a whole, and grow', () => {
    for (const a of PLACES) {
      let before = 0;
      for (const x of PLACES) {
        const { below, above } = gammaShares(a, x);
        close(below + above, 1);
        expect(below).toBeGreaterThanOrEqual(before);
        before = below;
      }
    }
  });

  it('follow from the next smaller one', () => {
    for (const a of PLACES)
      for (const x of PLACES) {
        const step = Math.exp(a * Math.log(x) - x - logGamma(a + 1));
        close(gammaShares(a + 1, x).below, gammaShares(a, x).below - step);
      }
  });

  it('are the area under its density', () => {
    for (const [a, x] of [
      [2, 1.5],
      [3.5, 4],
      [6, 9],
    ] as const)
      close(
        gammaShares(a, x).below,
        area((t) => Math.exp((a - 1) * Math.log(t || 1e-300) - t - logGamma(a)), 0, x),
        1e-8,
      );
  });

  it('say that they come to no end instead of something near', () => {
    expect(gammaShares(1e14, 1e14).below).toBeNaN();
    expect(betaShare(0.5, 1e14, 1e14)).toBeNaN();
  });
});

describe('shares of the beta function', () => {
  it('are the rest of those from the other side', () => {
    for (const a of PLACES)
      for (const b of PLACES)
        for (const x of [0.1, 0.35, 0.5, 0.9]) close(betaShare(x, a, b), 1 - betaShare(1 - x, b, a));
  });

  it('are sums of binomial probabilities', () => {
    for (const n of [1, 4, 11])
      for (let k = 0; k < n; k++)
        for (const p of [0.2, 0.5, 0.75]) {
          let [sum, ways] = [0, 1];
          for (let i = 0; i <= n; i++) {
            if (i > k) sum += ways * p ** i * (1 - p) ** (n - i);
            ways = (ways * (n - i)) / (i + 1);
          }
          close(betaShare(p, k + 1, n - k), sum);
        }
  });

  it('end at 0 and 1', () => {
    expect([betaShare(-1, 2, 3), betaShare(0, 2, 3), betaShare(1, 2, 3), betaShare(2, 2, 3)]).toEqual([0, 0, 1, 1]);
  });
});

describe('the normal distribution', () => {
  it('is the area under its density', () => {
    for (const x of [-2, -0.5, 0, 1, 2.5]) close(normalShare(x), area(normalDensity, -12, x, 20_000), 1e-10);
  });

  it('has two like halves, and tails that stay above 0', () => {
    for (const x of [0.1, 1, 3, 6]) close(normalShare(-x), 1 - normalShare(x));
    expect(normalShare(-30)).toBeGreaterThan(0);
    expect(normalShare(-30)).toBeLessThan(1e-190);
    for (const x of [-3, -0.2, 0.4, 2]) close(errorFunction(x).below + errorFunction(x).above, 1);
  });
});

describe('where a growing function has a value', () => {
  it('is found near and far', () => {
    for (const x of [1e-9, 0.2, 3, 1e6, 1e40]) close(whereIs(x ** 3, (t) => t ** 3, 0, 1e300) / x, 1);
    close(
      whereIs(-5, (t) => t * 2, -40, 40),
      -2.5,
    );
  });

  it('is the closest place where it never has it, and no number where the function has none', () => {
    close(
      whereIs(7, (t) => Math.min(2, t), 0, 4),
      4,
    );
    expect(whereIs(-1, (t) => t, 0, 4)).toBe(0);
    expect(whereIs(1, () => Number.NaN, 0, 4)).toBeNaN();
  });
});
