import { z } from 'zod';
import { flag } from '../options.ts';

export const markdownOptions = z.strictObject({
  pictures: flag(false).describe('holds pictures and charts; otherwise it says what they show'),
});

export type MarkdownOptions = z.output<typeof markdownOptions>;
