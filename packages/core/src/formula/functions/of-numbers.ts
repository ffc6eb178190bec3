import { phrase } from '../../problems/phrases.ts';
import { betaShare, normalShare, whereIs } from '../../value/special-functions.ts';
import type { Value } from '../../value/value.ts';
import { double, fromDouble, outOfRange } from './define.ts';

export const NO_ANSWER = outOfRange(phrase('e-no-number'));

/** A function of numbers; `others`: what each is where it is left out. NaN is `#NUM!`. */
export const of =
  (work: (...values: number[]) => number, others: readonly number[] = []) =>
  (given: Value[]): Value => {
    const places = Math.max(given.length, others.length);
    const values = Array.from({ length: places }, (_, i) => {
      const value = given[i];
      return value === undefined || value === null ? (others[i] ?? 0) : double(value);
    });
    const found = work(...values);
    return Number.isNaN(found) ? NO_ANSWER : fromDouble(found);
  };

/** NaN unless something holds, so that what is out of range has no answer. */
export const where = (holds: boolean, work: () => number): number => (holds ? work() : Number.NaN);

export const isShare = (p: number): boolean => p >= 0 && p <= 1;

export const studentAbove = (t: number, freedom: number): number =>
  betaShare(freedom / (freedom + t * t), freedom / 2, 0.5) / 2;

export const fShare = (x: number, a: number, b: number): number =>
  x <= 0 ? 0 : betaShare((a * x) / (a * x + b), a / 2, b / 2);

export const normalPlace = (p: number): number => (p === 0.5 ? 0 : whereIs(p, normalShare, -40, 40));
