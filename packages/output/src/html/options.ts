import { z } from 'zod';
import { flag } from '../options.ts';
import { isInOrder, ORDER, pageRange } from '../pages.ts';

export const pagedOptions = z
  .strictObject({
    ...pageRange,
    outline: flag(true).describe('shows the outline beside the pages'),
  })
  .refine(isInOrder, ORDER);

export type PagedOptions = z.output<typeof pagedOptions>;
