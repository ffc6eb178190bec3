import { format, formula } from '../../definition/basics.ts';
import { place } from '../../definition/item-parts.ts';
import { z } from '../../definition/zod.ts';

import { words } from '../words/schema.ts';

export const fieldSchema = z.strictObject({
  kind: z.literal('field'),
  ...place,
  ...words,
  formula,
  /** A spreadsheet number-format code; left out: the format of the field. */
  format: format.optional(),
});
