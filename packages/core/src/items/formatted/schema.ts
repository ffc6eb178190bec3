import { formula } from '../../definition/basics.ts';
import { place } from '../../definition/item-parts.ts';
import { lookSchema } from '../../definition/look.ts';
import { z } from '../../definition/zod.ts';

/** A text that brings its form along: headings, lists, links, tables, ways of writing. */
export const formattedSchema = z.strictObject({
  kind: z.literal('formatted'),
  ...place,
  /** Gives the text. */
  formula,
  /** How its form is written; found out from the text when left out. */
  written: z.enum(['html', 'markdown']).optional(),
  look: lookSchema.optional(),
  /** Whether the box gets lower than drawn for less text. */
  shrink: z.boolean().optional(),
});
