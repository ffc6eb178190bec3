import { color, dash, size } from '../../definition/basics.ts';
import { place } from '../../definition/item-parts.ts';
import { z } from '../../definition/zod.ts';

/**
 * A frame that stacks the items which lie inside it, in the order in which they are drawn: what grows moves those after it,
 * and the frame with them.
 */
export const panelSchema = z.strictObject({
  kind: z.literal('panel'),
  ...place,
  /** Below one another, or side by side. */
  stack: z.enum(['column', 'row']).default('column'),
  /** Between its items, and between its edge and them. */
  gap: size.default(2),
  padding: size.default(3),
  /** Where items stand across the stack; where they are drawn when left out. */
  align: z.enum(['start', 'middle', 'end']).optional(),
  fill: color.optional(),
  stroke: color.optional(),
  thickness: size.default(0.2),
  dash: dash.optional(),
  radius: size.default(0),
  /** Left out, with its frame, when none of its items is there. */
  leaveOutEmpty: z.boolean().optional(),
});
