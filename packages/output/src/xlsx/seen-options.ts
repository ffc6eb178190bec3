import { z } from 'zod';
import { flag } from '../options.ts';

export const xlsxOptions = z.strictObject({
  sheets: z
    .enum(['one', 'pages', 'groups'])
    .default('pages')
    .describe(
      'one: everything on one sheet; pages: a sheet for each set of rows with paper of its own; groups: a sheet for each of the outermost groups',
    ),
  formulas: flag(true).describe('totals of what stands above them are formulas'),
});

export type XlsxOptions = z.output<typeof xlsxOptions>;
