import { color, formula } from '../../definition/basics.ts';
import { place } from '../../definition/item-parts.ts';
import { z } from '../../definition/zod.ts';

export const CHECK_SIGNS = ['tick', 'cross', 'dot'] as const;
export type CheckSign = (typeof CHECK_SIGNS)[number];

export const checkSchema = z.strictObject({
  kind: z.literal('check'),
  ...place,
  /** TRUE shows the sign, FALSE the frame alone, blank nothing. */
  formula,
  sign: z.enum(CHECK_SIGNS).default('tick'),
  /** Whether a frame stands around it; it does when left out. */
  frame: z.boolean().optional(),
  color: color.default('#1f2a2e'),
});
