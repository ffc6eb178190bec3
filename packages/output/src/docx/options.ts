import { z } from 'zod';
import { flag } from '../options.ts';

export const docxOptions = z.strictObject({
  author: z.string().max(200).optional().describe('who made it'),
  fonts: flag(true).describe('holds the fonts of the report, so that it looks the same where they are not installed'),
});

export type DocxOptions = z.output<typeof docxOptions>;
