import { z } from 'zod';
import { flag } from '../options.ts';

export const xmlOptions = z.strictObject({
  schema: z
    .enum(['none', 'beside', 'alone'])
    .default('none')
    .describe('XML Schema of this report: none, beside the document in a zip, or alone'),
  indent: flag(true).describe('each element on a line of its own'),
});

export type XmlOptions = z.output<typeof xmlOptions>;
