import { color, dash, size } from '../../definition/basics.ts';
import { place, stretch } from '../../definition/item-parts.ts';
import { z } from '../../definition/zod.ts';

export const rectangleSchema = z.strictObject({
  kind: z.literal('rectangle'),
  ...place,
  fill: color.optional(),
  stroke: color.optional(),
  thickness: size.default(0.2),
  dash: dash.optional(),
  radius: size.default(0),
  opacity: z.number().min(0).max(1).optional(),
  stretch,
});
