import { formula, says } from '../../definition/basics.ts';
import { place } from '../../definition/item-parts.ts';
import { z } from '../../definition/zod.ts';

export const pictureSchema = z.strictObject({
  kind: z.literal('picture'),
  ...place,
  /** A formula that gives a picture, or a picture as a `data:` address. One of the two. */
  formula: formula.optional(),
  source: z
    .string()
    .max(8_000_000)
    .regex(/^data:image\/(png|jpeg);base64,[A-Za-z0-9+/=]+$/, says('picture-address'))
    .optional(),
  /**
   * `whole`: all of it, as large as the box allows; `fill`: the box is full, what does not fit is cut off; `stretch`: out
   * of its proportions; `real`: 96 pixels to the inch, cut off at the box.
   */
  fit: z.enum(['whole', 'fill', 'stretch', 'real']).default('whole'),
  opacity: z.number().min(0).max(1).optional(),
  alternative: z.string().max(500).default(''),
});
