import { describe, expect, it } from 'vitest';
import { isNumeric, toNumber } from '../../value/number.ts';
import { FormulaError } from '../../value/value.ts';
import { worked } from '../formulas.test-support.ts';

const value = (formula: string): number => {
  const found = worked(formula);
  if (!isNumeric(found)) throw new Error(`${formula} is ${String(found)}`);
  return toNumber(found);
};

/** Equal but for what doubles lose on the way. */
const close = (formula: string, expected: number, within = 1e-11): void => {
  const off = Math.abs(value(formula) - expected);
  expect(off, `${formula} is ${value(formula)} and not ${expected}`).toBeLessThanOrEqual(
    within * Math.max(1, Math.abs(expected)),
  );
};

/** A distribution with what undoes it: the share below a place, and the place of a share. */
const PAIRS: [share: string, place: string][] = [
  ['NORMDIST(X; 3; 2)', 'NORMINV(P; 3; 2)'],
  ['NORMSDIST(X)', 'NORMSINV(P)'],
  ['LOGNORMDIST(X; 0.5; 1.2)', 'LOGINV(P; 0.5; 1.2)'],
  ['GAMMADIST(X; 2.5; 3; TRUE())', 'GAMMAINV(P; 2.5; 3)'],
  ['CHISQDIST(X; 5)', 'CHISQINV(P; 5)'],
  ['CHIDIST(X; 5)', 'CHIINV(P; 5)'],
  ['TDIST(X; 7; 2)', 'TINV(P; 7)'],
  ['FDIST(X; 4; 9)', 'FINV(P; 4; 9)'],
  ['BETADIST(X; 2; 5; 1; 4)', 'BETAINV(P; 2; 5; 1; 4)'],
];

describe('distributions', () => {
  it.each(PAIRS)('%s is undone by %s', (share, place) => {
    for (const p of [0.001, 0.05, 0.3, 0.5, 0.8, 0.99]) {
      const x = value(place.replace('P', String(p)));
      close(share.replace('X', x.toFixed(14)), p, 1e-9);
    }
  });

  it('have densities that say how fast their shares grow', () => {
    for (const [formula, places] of [
      ['NORMDIST(X; 1; 2; C)', [-2, 0.5, 4]],
      ['LOGNORMDIST(X; 0; 1; C)', [0.5, 1, 3]],
      ['GAMMADIST(X; 3; 2; C)', [0.5, 4, 12]],
      ['CHISQDIST(X; 4; C)', [0.5, 3, 9]],
      ['FDIST(X; 5; 8; C)', [0.3, 1, 2.5]],
      ['BETADIST(X; 2; 3; 0; 2; C)', [0.2, 1, 1.7]],
      ['EXPONDIST(X; 1.5; C)', [0.1, 1, 3]],
      ['WEIBULL(X; 2; 3; C)', [0.5, 2, 5]],
    ] as const)
      for (const x of places) {
        const at = (place: number, cumulative: boolean): number =>
          value(formula.replace('(X', `(${place}`).replace('C)', cumulative ? 'TRUE())' : 'FALSE())'));
        const step = 1e-5;
        const slope = (at(x + step, true) - at(x - step, true)) / (2 * step);
        expect(Math.abs(slope - at(x, false)), `${formula} at ${x}`).toBeLessThan(1e-7);
      }
  });

  it('of what is counted are sums of single probabilities', () => {
    for (const formula of ['POISSON(K; 3.2; C)', 'BINOMDIST(K; 9; 0.35; C)', 'HYPGEOMDIST(K; 6; 10; 25; C)']) {
      let sum = 0;
      for (let k = 0; k <= 6; k++) {
        const at = formula.replace('K', String(k));
        sum += value(at.replace('C', 'FALSE()'));
        close(at.replace('C', 'TRUE()'), sum);
      }
    }
  });

  it('of many trials go on where factorials end', () => {
    close('BINOMDIST(5000; 10000; 0.5; TRUE()) + BINOMDIST(4999; 10000; 0.5; TRUE())', 1, 1e-9);
    close(
      'HYPGEOMDIST(500; 1000; 10000; 20000) / HYPGEOMDIST(499; 1000; 10000; 20000)',
      (501 * 9501) / (500 * 9501),
      1e-3,
    );
    close('POISSON(100000; 100000) - POISSON(99999; 100000)', value('POISSON(100000; 100000; FALSE())'), 1e-9);
    expect(value('CRITBINOM(1000000; 0.5; 0.5)')).toBe(500_000);
  });

  it('tell what is out of their range', () => {
    for (const formula of [
      'NORMINV(1; 0; 1)',
      'NORMDIST(1; 0; -1)',
      'GAMMADIST(1; 0; 1; TRUE())',
      'CHISQINV(1; 3)',
      'TDIST(1; 5; 3)',
      'FDIST(1; 0; 3)',
      'BETADIST(0.5; 1; 1; 2; 1)',
      'EXPONDIST(1; 0)',
      'WEIBULL(-1; 1; 1; TRUE())',
      'POISSON(-1; 2)',
      'BINOMDIST(1; 3; 1.5)',
      'NEGBINOMDIST(1; 0; 0.5)',
      'HYPGEOMDIST(1; 5; 3; 4)',
      'CONFIDENCE(0; 1; 10)',
      'TTEST({1;2}; {3;4}; 3; 2)',
      'GAMMALN(0)',
    ]) {
      const found = worked(formula);
      expect(found instanceof FormulaError && found.code, formula).toBe('#NUM!');
    }
    for (const formula of ['FTEST({1}; {1;2})', 'ZTEST({2;2}; 1)', 'TTEST({1;1}; {1;1}; 2; 2)'])
      expect((worked(formula) as FormulaError).code, formula).toBe('#DIV/0!');
    expect((worked('CHITEST({1;2}; {1})') as FormulaError).code).toBe('#N/A');
  });

  it('take their usual values where these are left out', () => {
    for (const [short, long] of [
      ['NORMDIST(0.7)', 'NORMDIST(0.7; 0; 1; TRUE())'],
      ['LOGINV(0.7)', 'LOGINV(0.7; 0; 1)'],
      ['BETADIST(0.3; 2; 3)', 'BETADIST(0.3; 2; 3; 0; 1; TRUE())'],
      ['FDIST(1.5; 3; 4)', 'FDIST(1.5; 3; 4; TRUE())'],
      ['POISSON(2; 3)', 'POISSON(2; 3; TRUE())'],
    ])
      expect(value(short!), short).toBe(value(long!));
  });
});

describe('tests of samples', () => {
  it('find no difference between a sample and itself, and more the further two are apart', () => {
    for (const kind of [2, 3]) {
      close(`TTEST({1;2;3;4}; {1;2;3;4}; 2; ${kind})`, 1);
      const apart = [1, 2, 5].map((by) =>
        value(`TTEST({1;2;3;4}; {${[1, 2, 3, 4].map((x) => x + by).join(';')}}; 2; ${kind})`),
      );
      expect(apart).toEqual([...apart].sort((a, b) => b - a));
    }
  });

  it('have twice the probability in both tails as in one, and do not mind which sample is first', () => {
    close('TTEST({1;2;4}; {3;5;9}; 2; 3) - 2 * TTEST({1;2;4}; {3;5;9}; 1; 3)', 0);
    close('TTEST({1;2;4}; {3;5;9}; 2; 1) - TTEST({3;5;9}; {1;2;4}; 2; 1)', 0);
    close('FTEST({1;2;4}; {3;5;9;1}) - FTEST({3;5;9;1}; {1;2;4})', 0);
  });
});
