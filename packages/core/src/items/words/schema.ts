import { formula } from '../../definition/basics.ts';
import { highlightSchema, lookSchema } from '../../definition/look.ts';
import { z } from '../../definition/zod.ts';

/** What items that show text have besides their content. */
export const words = {
  style: z.string().max(80).optional(),
  look: lookSchema.optional(),
  highlights: z.array(highlightSchema).max(50).optional(),
  /** Whether the box gets higher for its text; it does when left out. */
  grow: z.boolean().optional(),
  /** Whether the box gets lower than drawn for less text. What stands below moves up. */
  shrink: z.boolean().optional(),
  /** `shrink`: the type gets smaller until the text fits the box. */
  fit: z.enum(['wrap', 'shrink']).optional(),
  /** Makes the text an entry of the outline, at this level. */
  outline: z.number().int().min(1).max(6).optional(),
  /** Millimetres to move the left edge by, as for rows that lie deeper. */
  indent: formula.optional(),
};
