import { size } from '../../definition/basics.ts';
import { place } from '../../definition/item-parts.ts';
import { lookSchema } from '../../definition/look.ts';
import { z } from '../../definition/zod.ts';

/** A list of what the outline of the report holds, with the pages where it stands. */
export const contentsSchema = z.strictObject({
  kind: z.literal('contents'),
  ...place,
  /** Down to which level of the outline it goes; 3 when left out. */
  levels: z.number().int().min(1).max(6).optional(),
  /** What leads from an entry to its number; dots when left out. */
  leader: z.enum(['dots', 'none']).optional(),
  /** Numbers of pages, or those since the numbering last started anew. */
  numbers: z.enum(['page', 'part']).optional(),
  /** By which each level stands further in, and how high a line is, in millimetres. */
  indent: size.optional(),
  lineHeight: size.optional(),
  look: lookSchema.optional(),
  /** Look of the entries of the first level, over that of all. */
  firstLook: lookSchema.optional(),
});
