import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
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

const loan = {
  rate: fc.integer({ min: 1, max: 300 }).map((n) => n / 10_000),
  periods: fc.integer({ min: 2, max: 120 }),
  amount: fc.integer({ min: 100, max: 1_000_000 }),
  begins: fc.constantFrom(0, 1),
};

/** A loan that is paid back period by period, as a table on paper has it. */
const onPaper = (rate: number, periods: number, amount: number, payment: number, begins: number) => {
  let left = amount;
  const interest: number[] = [];
  for (let at = 1; at <= periods; at++) {
    if (begins === 1) left -= payment;
    // What is paid at the beginning of the first period is no interest.
    const grown = left * rate;
    left += grown;
    if (begins === 0) left -= payment;
    interest.push(grown);
  }
  return { left, interest };
};

describe('loans', () => {
  it('are paid back by their payments, as a table on paper says', () => {
    fc.assert(
      fc.property(loan.rate, loan.periods, loan.amount, loan.begins, (rate, periods, amount, begins) => {
        const payment = -number(`PMT(${rate};${periods};${amount};0;${begins})`);
        const { left } = onPaper(rate, periods, amount, payment, begins);
        expect(Math.abs(left)).toBeLessThan(amount * 1e-9);
      }),
      { numRuns: 100, seed: 1 },
    );
  });
  it('have interest and principal that make up each payment, and together all of it', () => {
    fc.assert(
      fc.property(loan.rate, fc.integer({ min: 2, max: 24 }), loan.amount, (rate, periods, amount) => {
        const payment = number(`PMT(${rate};${periods};${amount})`);
        const { interest } = onPaper(rate, periods, amount, -payment, 0);
        let principal = 0;
        for (let at = 1; at <= periods; at++) {
          const part = number(`IPMT(${rate};${at};${periods};${amount})`);
          const back = number(`PPMT(${rate};${at};${periods};${amount})`);
          expect(part).toBeCloseTo(-interest[at - 1]!, 4);
          expect(part + back).toBeCloseTo(payment, 6);
          principal += back;
        }
        expect(principal).toBeCloseTo(-amount, 3);
        expect(number(`CUMPRINC(${rate};${periods};${amount};1;${periods};0)`)).toBeCloseTo(-amount, 3);
        const all = interest.reduce((sum, one) => sum + one, 0);
        expect(number(`CUMIPMT(${rate};${periods};${amount};1;${periods};0)`)).toBeCloseTo(-all, 3);
      }),
      { numRuns: 30, seed: 2 },
    );
  });
  it('have a rate, a present value and a number of periods that go with their payment', () => {
    fc.assert(
      fc.property(loan.rate, loan.periods, loan.amount, loan.begins, (rate, periods, amount, begins) => {
        const payment = number(`PMT(${rate};${periods};${amount};0;${begins})`);
        expect(number(`PV(${rate};${periods};${payment};0;${begins})`) / amount).toBeCloseTo(1, 9);
        expect(number(`NPER(${rate};${payment};${amount};0;${begins})`) / periods).toBeCloseTo(1, 6);
        expect(number(`RATE(${periods};${payment};${amount};0;${begins})`)).toBeCloseTo(rate, 7);
        expect(Math.abs(number(`FV(${rate};${periods};${payment};${amount};${begins})`))).toBeLessThan(amount * 1e-8);
      }),
      { numRuns: 60, seed: 3 },
    );
  });
  it('say so where there is no such period, or no answer', () => {
    expect(code('IPMT(0.1; 0; 12; 100)')).toBe('#NUM!');
    expect(code('PPMT(0.1; 13; 12; 100)')).toBe('#NUM!');
    expect(code('PMT(0.1; 0; 100)')).toBe('#DIV/0!');
    expect(code('NPER(0.1; -1; 100)')).toBe('#NUM!');
    expect(code('NPER(0; 0; 100)')).toBe('#DIV/0!');
    expect(code('RATE(-1; 5; 100)')).toBe('#NUM!');
    expect(code('CUMIPMT(0; 12; 100; 1; 2; 0)')).toBe('#NUM!');
    expect(code('CUMIPMT(0.1; 12; 100; 3; 2; 0)')).toBe('#NUM!');
    expect(code('ISPMT(0.1; 1; 0; 100)')).toBe('#DIV/0!');
    expect(code('EFFECT(0; 12)')).toBe('#NUM!');
    expect(code('NOMINAL(0.1; 0)')).toBe('#NUM!');
  });
});

describe('payments', () => {
  const payments = fc.array(fc.integer({ min: 1, max: 10_000 }), { minLength: 2, maxLength: 8 });
  it('are worth nothing at their own rate', () => {
    fc.assert(
      fc.property(payments, fc.integer({ min: 50, max: 90 }), (earned, share) => {
        const paid = Math.round((earned.reduce((sum, one) => sum + one, 0) * share) / 100) + 1;
        const rate = number(`IRR({-${paid};${earned.join(';')}})`);
        // The first payment comes at once.
        expect(number(`NPV(${rate};${earned.join(';')})`) / paid).toBeCloseTo(1, 6);
      }),
      { numRuns: 60, seed: 4 },
    );
  });
  it('on days a year apart have the rate that they have in periods', () => {
    const list = '{-1000;300;420;680}';
    const days = '{DATE(2021;1;1);DATE(2022;1;1);DATE(2023;1;1);DATE(2024;1;1)}';
    expect(number(`XIRR(${list};${days})`)).toBeCloseTo(number(`IRR(${list})`), 9);
    expect(number(`XNPV(0.1;${list};${days})`)).toBeCloseTo(number('-1000 + NPV(0.1; 300; 420; 680)'), 6);
  });
  it('need both signs, and a day for each', () => {
    expect(code('IRR({1;2;3})')).toBe('#NUM!');
    expect(code('IRR({-1;-2})')).toBe('#NUM!');
    expect(code('MIRR({1;2}; 0.1; 0.1)')).toBe('#DIV/0!');
    expect(code('XIRR({-1;2}; {DATE(2025;1;1)})')).toBe('#NUM!');
    expect(code('XNPV(0.1; {-1;2}; {DATE(2025;1;2);DATE(2025;1;1)})')).toBe('#NUM!');
  });
  it('compound in parts to the rate that they are compounded from', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 4000 }), fc.constantFrom(1, 2, 4, 12, 365), (rate, periods) => {
        const nominal = rate / 10_000;
        const effective = number(`EFFECT(${nominal};${periods})`);
        expect(effective).toBeCloseTo((1 + nominal / periods) ** periods - 1, 10);
        expect(number(`NOMINAL(${effective};${periods})`)).toBeCloseTo(nominal, 9);
      }),
      { numRuns: 100, seed: 5 },
    );
  });
});

describe('what loses its worth', () => {
  const things = [
    fc.integer({ min: 1000, max: 90_000 }),
    fc.integer({ min: 0, max: 900 }),
    fc.integer({ min: 2, max: 20 }),
  ] as const;
  const lost = (name: string, cost: number, salvage: number, life: number): number[] =>
    Array.from({ length: life }, (_, i) => number(`${name}(${cost};${salvage};${life};${i + 1})`));
  it('loses by the straight line and by the years’ digits what it cost above its salvage', () => {
    fc.assert(
      fc.property(...things, (cost, salvage, life) => {
        expect(number(`SLN(${cost};${salvage};${life})`) * life).toBeCloseTo(cost - salvage, 6);
        const years = lost('SYD', cost, salvage, life);
        expect(years.reduce((sum, one) => sum + one, 0)).toBeCloseTo(cost - salvage, 6);
        expect(years.every((one, i) => i === 0 || one < years[i - 1]!)).toBe(true);
      }),
      { numRuns: 50, seed: 6 },
    );
  });
  it('loses by a share of what is left never more than that, and stays at its salvage', () => {
    fc.assert(
      fc.property(...things, (cost, salvage, life) => {
        const parts = lost('DDB', cost, salvage, life);
        let left = cost;
        for (const part of parts) {
          expect(part).toBeGreaterThanOrEqual(0);
          expect(part).toBeLessThanOrEqual((left * 2) / life + 1e-6);
          left -= part;
        }
        expect(left).toBeGreaterThanOrEqual(salvage - 1e-6);
      }),
      { numRuns: 50, seed: 7 },
    );
  });
  it('has no period past its life', () => {
    for (const name of ['SYD', 'DDB', 'DB']) expect([name, code(`${name}(1000; 100; 5; 6)`)]).toEqual([name, '#NUM!']);
    expect(code('SLN(1000; 100; 0)')).toBe('#DIV/0!');
    expect(code('DDB(100; 1000; 5; 1)')).toBe('#NUM!');
  });
});
