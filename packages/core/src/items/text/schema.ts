import { format, formula } from '../../definition/basics.ts';
import { place } from '../../definition/item-parts.ts';
import { lookSchema } from '../../definition/look.ts';
import { spoken } from '../../definition/spoken.ts';
import { z } from '../../definition/zod.ts';

import { words } from '../words/schema.ts';

/** A piece of a text item: words, words with a look of their own, or a formula whose value is shown there. */
const textPiece = z.union([
  z.string().max(20_000),
  z.strictObject({ text: z.string().max(20_000), look: lookSchema.optional() }),
  z.strictObject({ formula, format: format.optional(), look: lookSchema.optional() }),
]);
export type TextPiece = z.infer<typeof textPiece>;

export const textSchema = z.strictObject({
  kind: z.literal('text'),
  ...place,
  ...words,
  content: spoken(z.array(textPiece).max(500), 'pieces'),
});
