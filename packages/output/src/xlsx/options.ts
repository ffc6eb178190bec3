import { z } from 'zod';
import { flag } from '../options.ts';

export const xlsxDataOptions = z.strictObject({
  sheets: z
    .enum(['each', 'outline'])
    .default('each')
    .describe('each: a sheet for each set of rows; outline: all in one, rows inside others on a level of the outline'),
  header: z.enum(['labels', 'names']).default('labels').describe('first row: labels or names'),
  totals: flag(true).describe('a last row with sums that follow the filter, as formulas'),
});

export type XlsxDataOptions = z.output<typeof xlsxDataOptions>;
