import { formula } from './basics.ts';
import { z } from './zod.ts';

export const sortSchema = z.strictObject({
  by: formula,
  descending: z.boolean().optional(),
  /** Where rows without a value come; last when left out. */
  blanks: z.enum(['first', 'last']).optional(),
});

/** What rows have in common: the value itself, a stretch of time, a range of numbers, or the first letter. */
export const GROUPINGS = ['value', 'year', 'quarter', 'month', 'week', 'day', 'hour', 'range', 'letter'] as const;
