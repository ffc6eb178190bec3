import { z } from '../definition/zod.ts';
import { sketchSchema } from '../sketch/schema.ts';
import type { CallContract } from './call.ts';
import * as part from './parts.ts';

const groupValue = z.union([z.string().max(10_000), z.number(), z.boolean(), z.null()]);

/** Lines that are looked at: so many from a place on, in the group that these values lead to from the outermost one in. */
const window = z.strictObject({
  at: z.array(groupValue).max(8),
  from: z.number().int().min(0).max(1_000_000_000).default(0),
  most: z.number().int().min(1).max(500).default(100),
});

/** Sketches: questions about rows that are answered as they are asked. */
export const SKETCH_CALLS = {
  'POST /sketch/lines': {
    does: 'Lines of a sketch: groups with their totals, or rows; and the end of all of them.',
    needs: 'design',
    body: z.strictObject({
      sketch: sketchSchema,
      windows: z.array(window).max(50),
      language: part.language,
      timeZone: part.timeZone,
    }),
    gives: z.object({
      problems: z.array(part.problem),
      failure: part.failure.nullable(),
      /** In the order of `windows`; null with a failure. */
      windows: z
        .array(
          z.object({
            fields: z.array(part.field),
            lines: z.array(z.array(part.wireValue)),
            /** How many lines each of them holds; nothing for rows. */
            inside: z.array(z.number()),
          }),
        )
        .nullable(),
      /** Totals of all rows, and how many lines the outermost level has. */
      end: z.object({ fields: z.array(part.field), line: z.array(part.wireValue), inside: z.number() }).nullable(),
      milliseconds: z.number(),
    }),
  },
} as const satisfies Record<string, CallContract>;
