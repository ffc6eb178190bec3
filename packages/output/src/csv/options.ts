import { z } from 'zod';
import { flag } from '../options.ts';

const SEPARATORS = { comma: ',', semicolon: ';', tab: '\t', bar: '|' } as const;

const named = z.enum(['comma', 'semicolon', 'tab', 'bar']);
const separator = z.union([named.transform((name) => SEPARATORS[name]), z.enum([',', ';', '\t', '|'])]);

const common = {
  decimal: z.enum(['.', ',']).default('.').describe('decimal sign of numbers: . or ,'),
  encoding: z
    .enum(['utf-8', 'utf-16', 'windows-1252'])
    .default('utf-8')
    .describe('utf-8, utf-16 or windows-1252; what the last one lacks becomes ?'),
  bom: flag(true).describe('begins with a mark by which spreadsheets know the encoding'),
  quotes: z.enum(['needed', 'all']).default('needed').describe('around cells that need them, or all'),
  header: z.enum(['labels', 'names', 'none']).default('labels').describe('first line: labels, names or none'),
  guard: flag(true).describe('a text that a spreadsheet would run as a formula gets an apostrophe before it'),
  sets: z
    .enum(['together', 'apart'])
    .default('together')
    .describe('one file, with the fields of outer rows repeated, or a file for each set of rows, in a zip'),
};

export const csvOptions = z
  .strictObject({
    separator: separator
      .optional()
      .describe(
        'between cells: comma, semicolon, tab or bar; left out: comma, or semicolon where the decimal sign is a comma',
      ),
    ...common,
  })
  .transform((given) => ({
    ...given,
    separator: given.separator ?? (given.decimal === ',' ? (';' as const) : (',' as const)),
  }));

export type CsvOptions = z.output<typeof csvOptions>;

export const tsvOptions = z.strictObject(common).transform((given) => ({ ...given, separator: '\t' as const }));
