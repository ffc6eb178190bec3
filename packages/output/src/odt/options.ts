import { z } from 'zod';
import { flag } from '../options.ts';

export const odtOptions = z.strictObject({
  author: z.string().max(200).optional().describe('who made it'),
  fonts: flag(true).describe('holds the fonts of the report, so that it looks the same where they are not installed'),
});

export type OdtOptions = z.output<typeof odtOptions>;
