import { z } from 'zod';

/** The report from which a nested one was opened, and where it was opened from in its turn. */
export interface Outer {
  path: string;
  name: string;
  outer: Outer | null;
}

const outerSchema: z.ZodType<Outer> = z.object({
  path: z.string().startsWith('/'),
  name: z.string(),
  outer: z.lazy(() => outerSchema.nullable()),
});

/** The way back that a screen's address carries along; it outlives a reload. */
export const outerOf = (state: unknown): Outer | null => {
  const read = z.object({ outer: outerSchema }).safeParse(state);
  return read.success ? read.data.outer : null;
};
