import { z } from 'zod';

export const textOptions = z.strictObject({
  width: z.coerce.number().int().min(20).max(1_000).default(100).describe('characters on a line, at most'),
});

export type TextOptions = z.output<typeof textOptions>;
