import type { TotalName } from '../formula/functions/index.ts';

/** A total of a column. */
export interface ColumnTotal<P extends string = string> {
  path: P;
  name: TotalName;
}

const totalBy =
  (name: TotalName) =>
  <const P extends string>(path: P): ColumnTotal<P> => ({ path, name });

/** The sum of a column of numbers. */
export const sum = totalBy('SUM');
/** How many values a column has that are not blank. */
export const count = totalBy('COUNTA');
/** How many distinct values a column has. */
export const countDistinct = totalBy('COUNTDISTINCT');
export const average = totalBy('AVERAGE');
export const minimum = totalBy('MIN');
export const maximum = totalBy('MAX');
