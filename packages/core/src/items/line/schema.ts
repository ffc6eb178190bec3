import { color, dash, size } from '../../definition/basics.ts';
import { place, stretch } from '../../definition/item-parts.ts';
import { z } from '../../definition/zod.ts';

export const lineSchema = z.strictObject({
  kind: z.literal('line'),
  ...place,
  color: color.default('#1f2a2e'),
  thickness: size.default(0.2),
  dash: dash.default('solid'),
  stretch,
});
