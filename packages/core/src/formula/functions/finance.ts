import { phrase } from '../../problems/phrases.ts';
import { add, compareNumeric, divide, isNumeric, multiply, subtract } from '../../value/number.ts';
import { FormulaError, type Value } from '../../value/value.ts';
import type { EvaluationContext } from './context.ts';
import {
  DIVISION_BY_ZERO,
  dayOf,
  define,
  double,
  type FunctionTable,
  flatten,
  fromDouble,
  numeric,
  outOfRange,
  whole,
} from './define.ts';

const NO_ANSWER = outOfRange(phrase('e-no-number'));

const isZero = (value: number): boolean => Math.abs(value) < 1e-300;

/** Whether payments come at the beginning of a period. */
const begins = (value: Value | undefined): number => (value !== undefined && double(value) !== 0 ? 1 : 0);

/** (1 + rate)^periods − 1, over the rate: what payments of 1 add up to. */
const grown = (rate: number, periods: number): number =>
  isZero(rate) ? periods : Math.expm1(periods * Math.log1p(rate)) / rate;

/** What is there after some periods (OpenFormula, section 6.12.20: FV). */
const futureValue = (rate: number, periods: number, payment: number, present: number, type: number): number =>
  -(present * (1 + rate) ** periods + payment * (1 + rate * type) * grown(rate, periods));

const paymentOf = (rate: number, periods: number, present: number, future: number, type: number): number =>
  -(present * (1 + rate) ** periods + future) / ((1 + rate * type) * grown(rate, periods));

/** The part of a payment that is interest. */
const interestOf = (rate: number, period: number, payment: number, present: number, type: number): number => {
  if (type === 1 && period === 1) return 0;
  const before = futureValue(rate, period - 1, payment, present, type);
  return (type === 1 ? before / (1 + rate) : before) * rate;
};

/** Where a function of a rate is 0: by Newton’s steps from a guess, and by halving where those lead nowhere. */
const rootOf = (work: (rate: number) => number, guess: number): number | null => {
  let rate = guess;
  for (let i = 0; i < 60; i++) {
    const value = work(rate);
    if (!Number.isFinite(value)) break;
    const step = Math.max(1e-7, Math.abs(rate) * 1e-7);
    const slope = (work(rate + step) - work(rate - step)) / (2 * step);
    if (value === 0) return rate;
    if (!Number.isFinite(slope) || slope === 0) break;
    const next = rate - value / slope;
    if (Math.abs(next - rate) <= 1e-14 * Math.max(1, Math.abs(next))) return next > -1 ? next : null;
    rate = next > -1 ? next : (rate - 1) / 2;
  }
  const places = [-0.9999, -0.9, -0.5, -0.2, -0.05, 0, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 100, 1000];
  for (let i = 0; i + 1 < places.length; i++) {
    let [low, high] = [places[i]!, places[i + 1]!];
    const [below, above] = [work(low), work(high)];
    if (below === 0) return low;
    if (!(below * above < 0)) continue;
    for (let k = 0; k < 200 && high - low > 1e-15 * Math.max(1, Math.abs(low)); k++) {
      const middle = (low + high) / 2;
      if (work(middle) * below > 0) low = middle;
      else high = middle;
    }
    return (low + high) / 2;
  }
  return null;
};

/** As they come, errors and what is no number among them. */
const amounts = (values: readonly Value[]): number[] | FormulaError => {
  const all = flatten(values);
  const error = all.find((value) => value instanceof FormulaError);
  return error instanceof FormulaError ? error : all.filter(isNumeric).map(double);
};

/** What payments are worth now, the first after one period. */
const presentOf = (rate: number, payments: readonly number[]): number =>
  payments.reduceRight((sum, payment) => (sum + payment) / (1 + rate), 0);

/** Both signs are among them. */
const isMixed = (payments: readonly number[]): boolean =>
  payments.some((one) => one > 0) && payments.some((one) => one < 0);

const numbersOf = (values: readonly (Value | undefined)[]): number[] => values.map((value) => double(value));

/** Payments with their days, counted from the first. */
const dated = (
  payments: Value | undefined,
  days: Value | undefined,
  context: EvaluationContext,
): { payment: number; years: number }[] | FormulaError => {
  const given = amounts([payments ?? null]);
  if (given instanceof FormulaError) return given;
  const at = flatten([days ?? null]).map((day) => dayOf(day, context));
  if (at.length !== given.length || given.length === 0 || at.some((day) => day === null))
    return outOfRange(phrase('e-lengths'));
  const first = at[0]!;
  if (at.some((day) => day! < first)) return outOfRange(phrase('e-dates-reversed'));
  return given.map((payment, i) => ({ payment, years: (at[i]! - first) / 365 }));
};

const presentOfDated = (rate: number, payments: readonly { payment: number; years: number }[]): number =>
  payments.reduce((sum, { payment, years }) => sum + payment / (1 + rate) ** years, 0);

/** What falls off in a period where each takes a share of what is left (OpenFormula, section 6.12.14: DDB). */
const declining = (cost: number, salvage: number, life: number, period: number, factor: number): number => {
  const rate = Math.min(1, factor / life);
  const before = rate === 1 ? (period === 1 ? cost : 0) : cost * (1 - rate) ** (period - 1);
  const after = rate === 1 ? 0 : cost * (1 - rate) ** period;
  return Math.max(0, before - Math.max(after, salvage));
};

/** A function of the payment of one period, and of the interest in it. */
const inPeriod =
  (part: (payment: number, interest: number) => number) =>
  ([rate, period, periods, present, future, type]: Value[]): Value => {
    const [r = 0, at = 0, n = 0, pv = 0, fv = 0] = numbersOf([rate, period, periods, present, future]);
    if (at < 1 || at > n) return outOfRange(phrase('e-no-period'));
    const payment = paymentOf(r, n, pv, fv, begins(type));
    return fromDouble(part(payment, interestOf(r, at, payment, pv, begins(type))));
  };

/** Functions of loans, savings and things that lose their worth (OpenFormula, section 6.12). What one pays is negative. */
export const FINANCE_FUNCTIONS: FunctionTable = {
  PMT: define(
    'rate:n periods:n present:n future:n? begins:n?',
    'number',
    'The payment per period of a loan with a fixed rate. What you pay is negative.',
    'ROUND(PMT(0.01; 12; 1000); 2) = -88.85',
    ([rate, periods, present, future, type]) => {
      const [r = 0, n = 0, pv = 0, fv = 0] = numbersOf([rate, periods, present, future]);
      return n === 0 ? DIVISION_BY_ZERO : fromDouble(paymentOf(r, n, pv, fv, begins(type)));
    },
  ),
  IPMT: define(
    'rate:n period:n periods:n present:n future:n? begins:n?',
    'number',
    'The interest in the payment of one period of a loan.',
    'ROUND(IPMT(0.01; 1; 12; 1000); 2) = -10',
    inPeriod((_, interest) => interest),
  ),
  PPMT: define(
    'rate:n period:n periods:n present:n future:n? begins:n?',
    'number',
    'The principal in the payment of one period of a loan.',
    'ROUND(PPMT(0.01; 1; 12; 1000); 2) = -78.85',
    inPeriod((payment, interest) => payment - interest),
  ),
  PV: define(
    'rate:n periods:n payment:n future:n? begins:n?',
    'number',
    'The present value of payments at a fixed rate.',
    'ROUND(PV(0.01; 12; -88.85); 0) = 1000',
    ([rate, periods, payment, future, type]) => {
      const [r = 0, n = 0, pmt = 0, fv = 0] = numbersOf([rate, periods, payment, future]);
      return fromDouble(-(fv + pmt * (1 + r * begins(type)) * grown(r, n)) / (1 + r) ** n);
    },
  ),
  FV: define(
    'rate:n periods:n payment:n present:n? begins:n?',
    'number',
    'The future value of payments at a fixed rate.',
    'ROUND(FV(0.01; 12; -100); 2) = 1268.25',
    ([rate, periods, payment, present, type]) => {
      const [r = 0, n = 0, pmt = 0, pv = 0] = numbersOf([rate, periods, payment, present]);
      return fromDouble(futureValue(r, n, pmt, pv, begins(type)));
    },
  ),
  NPER: define(
    'rate:n payment:n present:n future:n? begins:n?',
    'number',
    'The number of periods in which payments pay a loan back.',
    'ROUND(NPER(0.01; -88.85; 1000); 1) = 12',
    ([rate, payment, present, future, type]) => {
      const [r = 0, pmt = 0, pv = 0, fv = 0] = numbersOf([rate, payment, present, future]);
      if (isZero(r)) return pmt === 0 ? DIVISION_BY_ZERO : fromDouble(-(pv + fv) / pmt);
      const each = pmt * (1 + r * begins(type));
      const share = (each - fv * r) / (each + pv * r);
      return share > 0 ? fromDouble(Math.log(share) / Math.log1p(r)) : NO_ANSWER;
    },
  ),
  RATE: define(
    'periods:n payment:n present:n future:n? begins:n? guess:n?',
    'number',
    'The rate per period of a loan.',
    'ROUND(RATE(12; -88.85; 1000); 4) = 0.01',
    ([periods, payment, present, future, type, guess]) => {
      const [n = 0, pmt = 0, pv = 0, fv = 0] = numbersOf([periods, payment, present, future]);
      if (n <= 0) return outOfRange(phrase('e-no-period'));
      const work = (rate: number): number => futureValue(rate, n, pmt, pv, begins(type)) - fv;
      const found = rootOf(work, guess === undefined ? 0.1 : double(guess));
      return found === null ? NO_ANSWER : fromDouble(found);
    },
  ),
  NPV: define(
    'rate:n payment:x*',
    'number',
    'The net present value of payments at the end of each period.',
    'ROUND(NPV(0.1; 110; 121); 6) = 200',
    ([rate, ...payments]) => {
      const given = amounts(payments);
      return given instanceof FormulaError ? given : fromDouble(presentOf(double(rate), given));
    },
  ),
  IRR: define(
    'payments:l guess:n?',
    'number',
    'The internal rate of return of payments, the first of them at once.',
    'ROUND(IRR({-100;60;60}); 6) = 0.130662',
    ([payments, guess]) => {
      const given = amounts([payments ?? null]);
      if (given instanceof FormulaError) return given;
      if (!isMixed(given)) return NO_ANSWER;
      const found = rootOf((rate) => presentOf(rate, given), guess === undefined ? 0.1 : double(guess));
      return found === null ? NO_ANSWER : fromDouble(found);
    },
  ),
  XIRR: define(
    'payments:l days:l guess:n?',
    'number',
    'The internal rate of return per year of payments on given dates.',
    'ROUND(XIRR({-100;110}; {DATE(2025;1;1);DATE(2026;1;1)}); 6) = 0.1',
    ([payments, days, guess], context) => {
      const given = dated(payments, days, context);
      if (given instanceof FormulaError) return given;
      if (!isMixed(given.map(({ payment }) => payment))) return NO_ANSWER;
      const found = rootOf((rate) => presentOfDated(rate, given), guess === undefined ? 0.1 : double(guess));
      return found === null ? NO_ANSWER : fromDouble(found);
    },
  ),
  XNPV: define(
    'rate:n payments:l days:l',
    'number',
    'The net present value, on the first date, of payments on given dates.',
    'ROUND(XNPV(0.1; {-100;110}; {DATE(2025;1;1);DATE(2026;1;1)}); 6) = 0',
    ([rate, payments, days], context) => {
      const given = dated(payments, days, context);
      return given instanceof FormulaError ? given : fromDouble(presentOfDated(double(rate), given));
    },
  ),
  MIRR: define(
    'payments:l financed:n reinvested:n',
    'number',
    'The internal rate of return where payments are financed at one rate, and earnings reinvested at another.',
    'ROUND(MIRR({-100;60;60}; 0.1; 0.1); 6) = 0.122497',
    ([payments, financed, reinvested]) => {
      const given = amounts([payments ?? null]);
      if (given instanceof FormulaError) return given;
      if (!isMixed(given)) return DIVISION_BY_ZERO;
      const count = given.length;
      const [f, r] = [double(financed), double(reinvested)];
      const paid = given.reduce((sum, one, i) => sum + (one < 0 ? one / (1 + f) ** i : 0), 0);
      const earned = given.reduce((sum, one, i) => sum + (one > 0 ? one * (1 + r) ** (count - 1 - i) : 0), 0);
      return fromDouble((earned / -paid) ** (1 / (count - 1)) - 1);
    },
  ),
  EFFECT: define(
    'rate:n periods:n',
    'number',
    'The effective rate per year of a nominal rate that is compounded several times a year.',
    'ROUND(EFFECT(0.12; 12); 6) = 0.126825',
    ([rate, periods]) => {
      const count = whole(periods);
      if (double(rate) <= 0 || count < 1) return outOfRange(phrase('e-positive', { name: 'EFFECT' }));
      return fromDouble(Math.expm1(count * Math.log1p(double(rate) / count)));
    },
  ),
  NOMINAL: define(
    'rate:n periods:n',
    'number',
    'The nominal rate per year of an effective rate.',
    'ROUND(NOMINAL(0.126825; 12); 6) = 0.12',
    ([rate, periods]) => {
      const count = whole(periods);
      if (double(rate) <= 0 || count < 1) return outOfRange(phrase('e-positive', { name: 'NOMINAL' }));
      return fromDouble(count * Math.expm1(Math.log1p(double(rate)) / count));
    },
  ),
  CUMIPMT: define(
    'rate:n periods:n present:n first:n last:n begins:n',
    'number',
    'The interest in the payments of several periods of a loan.',
    'ROUND(CUMIPMT(0.01; 12; 1000; 1; 2; 0); 2) = -19.21',
    (values) => cumulated(values, (rate, at, payment, present, type) => interestOf(rate, at, payment, present, type)),
  ),
  CUMPRINC: define(
    'rate:n periods:n present:n first:n last:n begins:n',
    'number',
    'The principal in the payments of several periods of a loan.',
    'ROUND(CUMPRINC(0.01; 12; 1000; 1; 2; 0); 2) = -158.49',
    (values) =>
      cumulated(values, (rate, at, payment, present, type) => payment - interestOf(rate, at, payment, present, type)),
  ),
  ISPMT: define(
    'rate:n period:n periods:n present:n',
    'number',
    'The interest of one period of a loan whose principal is paid back in equal parts.',
    'ISPMT(0.01; 3; 12; 1200) = -9',
    ([rate, period, periods, present]) => {
      if (compareNumeric(numeric(periods), 0) === 0) return DIVISION_BY_ZERO;
      const done = subtract(divide(numeric(period), numeric(periods))!, 1);
      return multiply(multiply(numeric(present), numeric(rate)), done);
    },
  ),
  SLN: define(
    'cost:n salvage:n life:n',
    'number',
    'The depreciation of an asset in each period, the same in all (straight line).',
    'SLN(1000; 100; 9) = 100',
    ([cost, salvage, life]) => divide(subtract(numeric(cost), numeric(salvage)), numeric(life)) ?? DIVISION_BY_ZERO,
  ),
  SYD: define(
    'cost:n salvage:n life:n period:n',
    'number',
    'The depreciation of an asset in one period, by the sum of the years’ digits.',
    'SYD(1000; 100; 5; 1) = 300',
    ([cost, salvage, life, period]) => {
      const [n, at] = [numeric(life), numeric(period)];
      if (compareNumeric(at, 1) < 0 || compareNumeric(at, n) > 0) return outOfRange(phrase('e-no-period'));
      const lost = subtract(numeric(cost), numeric(salvage));
      const above = multiply(multiply(lost, add(subtract(n, at), 1)), 2);
      return divide(above, multiply(n, add(n, 1))) ?? DIVISION_BY_ZERO;
    },
  ),
  DDB: define(
    'cost:n salvage:n life:n period:n factor:n?',
    'number',
    'The depreciation of an asset in one period, as a share of what is left: twice that of the straight line, or as the factor says.',
    'DDB(1000; 100; 5; 1) = 400',
    ([cost, salvage, life, period, factor]) => {
      const [c = 0, s = 0, n = 0, at = 0] = numbersOf([cost, salvage, life, period]);
      const f = factor === undefined ? 2 : double(factor);
      if (c < 0 || s < 0 || s > c || n <= 0 || at < 1 || at > n || f <= 0) return outOfRange(phrase('e-no-period'));
      return fromDouble(declining(c, s, n, at, f));
    },
  ),
  DB: define(
    'cost:n salvage:n life:n period:n months:n?',
    'number',
    'The depreciation of an asset in one period, as a fixed share of what is left; the first year may have fewer than 12 months.',
    'ROUND(DB(1000; 100; 5; 1); 2) = 369',
    ([cost, salvage, life, period, months]) => {
      const [c = 0, s = 0, n = 0, at = 0] = numbersOf([cost, salvage, life, period]);
      const first = months === undefined ? 12 : whole(months);
      if (c <= 0 || s < 0 || n <= 0 || at < 1 || at > n + (first < 12 ? 1 : 0) || first < 1 || first > 12)
        return outOfRange(phrase('e-no-period'));
      const rate = Math.round((1 - (s / c) ** (1 / n)) * 1000) / 1000;
      const opening = (c * rate * first) / 12;
      if (at === 1) return fromDouble(opening);
      const left = (c - opening) * (1 - rate) ** (at - 2);
      return fromDouble(at > n ? (left * rate * (12 - first)) / 12 : left * rate);
    },
  ),
};

/** Periods that one sum goes through. */
const MOST_PERIODS = 10_000;

const cumulated = (
  [rate, periods, present, first, last, type]: Value[],
  part: (rate: number, at: number, payment: number, present: number, type: number) => number,
): Value => {
  const [r = 0, n = 0, pv = 0] = numbersOf([rate, periods, present]);
  const [from, to] = [whole(first), whole(last)];
  if (r <= 0 || n <= 0 || pv <= 0 || from < 1 || to < from || to > n || to > MOST_PERIODS)
    return outOfRange(phrase('e-no-period'));
  const payment = paymentOf(r, n, pv, 0, begins(type));
  let sum = 0;
  for (let at = from; at <= to; at++) sum += part(r, at, payment, pv, begins(type));
  return fromDouble(sum);
};
