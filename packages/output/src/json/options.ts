import { z } from 'zod';
import { columnNames } from '../options.ts';

export const jsonOptions = z.strictObject({
  form: z
    .enum(['nested', 'lines'])
    .default('nested')
    .describe('nested: one document; lines: a document for each outermost row, one on each line'),
  names: columnNames.default('names').describe('what values are called by: names or labels'),
  numbers: z
    .enum(['number', 'text'])
    .default('number')
    .describe('number: with every digit, which some programs round as they read; text: in quotes, which none do'),
  indent: z.coerce.number().int().min(0).max(8).default(0).describe('spaces for each level; 0: none, on one line'),
});

export type JsonOptions = z.output<typeof jsonOptions>;
