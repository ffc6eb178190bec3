import { formula, says } from '../../definition/basics.ts';
import { place } from '../../definition/item-parts.ts';
import { spoken } from '../../definition/spoken.ts';
import { z } from '../../definition/zod.ts';

/** A PNG or JPEG as a `data:` address. */
export const pictureSource = z
  .string()
  .max(8_000_000)
  .regex(/^data:image\/(png|jpeg);base64,[A-Za-z0-9+/=]+$/, says('picture-address'));

export const pictureSchema = z.strictObject({
  kind: z.literal('picture'),
  ...place,
  /** A formula that gives a picture, a picture as a `data:` address, or the id of one in the library. One of the three. */
  formula: formula.optional(),
  source: pictureSource.optional(),
  fromLibrary: z.string().min(1).max(120).optional(),
  /**
   * `whole`: all of it, as large as the box allows; `fill`: the box is full, what does not fit is cut off; `stretch`: out
   * of its proportions; `real`: 96 pixels to the inch, cut off at the box.
   */
  fit: z.enum(['whole', 'fill', 'stretch', 'real']).default('whole'),
  opacity: z.number().min(0).max(1).optional(),
  alternative: spoken(z.string().max(500)).default(''),
});
