import { color, formula } from '../../definition/basics.ts';
import { place } from '../../definition/item-parts.ts';
import { ownRowsSchema, rowGroupSchema } from '../../definition/row-groups.ts';
import { z } from '../../definition/zod.ts';

export const sparklineSchema = z.strictObject({
  kind: z.literal('sparkline'),
  ...place,
  type: z.enum(['line', 'area', 'column']).default('line'),
  /** Rows of its own; without them it groups those that a total counts where it stands. */
  rows: ownRowsSchema.optional(),
  along: rowGroupSchema.optional(),
  /** What is measured; empty until a field is dropped onto it. */
  measure: formula.default(''),
  format: z.string().max(200).optional(),
  /** Ends of its scale, so that several of them can be compared. */
  from: formula.optional(),
  to: formula.optional(),
  color: color.optional(),
  /** Which points are marked: the last one when left out. */
  marks: z.enum(['last', 'ends', 'extremes', 'none']).optional(),
});
