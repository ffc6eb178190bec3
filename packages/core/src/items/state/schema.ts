import { STATE_SHAPES } from '../../chart/state.ts';
import { color, formula } from '../../definition/basics.ts';
import { place } from '../../definition/item-parts.ts';
import { lookSchema } from '../../definition/look.ts';
import { shortWords } from '../../definition/row-groups.ts';
import { z } from '../../definition/zod.ts';

/** One state: what is shown while its condition holds. */
const stateCase = z.strictObject({
  when: formula,
  shape: z.enum(STATE_SHAPES),
  color,
  words: shortWords.optional(),
});
export type StateCase = z.infer<typeof stateCase>;

export const stateSchema = z.strictObject({
  kind: z.literal('state'),
  ...place,
  /** The first one whose condition holds is shown; nothing where none does. */
  cases: z.array(stateCase).max(20).default([]),
  look: lookSchema.optional(),
});
