import { z } from 'zod';
import { isInOrder, ORDER, pageRange } from '../pages.ts';

export const svgOptions = z
  .strictObject({
    ...pageRange,
    form: z
      .enum(['each', 'one'])
      .default('each')
      .describe('each: a file for each page, in a zip; one: all pages below one another'),
    text: z
      .enum(['shapes', 'text'])
      .default('shapes')
      .describe('shapes: looks the same everywhere; text: can be searched, and needs the fonts of the report'),
  })
  .refine(isInOrder, ORDER);

export type SvgOptions = z.output<typeof svgOptions>;
