import { formula } from './basics.ts';
import { z } from './zod.ts';

/** The reader may open and close it, and it is open at first unless this says otherwise. */
export const foldSchema = z.strictObject({
  /** Closed until it is opened. */
  closed: z.boolean().optional(),
  /** Closed at first where the condition holds, in the place of `closed`. */
  closedIf: formula.optional(),
});

/** A fold of rows: what stays of them is their heading, and their footer unless that goes as well. */
export const rowFoldSchema = foldSchema.extend({
  /** Its footer is there only while it is open. */
  hidesFooter: z.boolean().optional(),
});

export type Fold = z.infer<typeof foldSchema>;
export type RowFold = z.infer<typeof rowFoldSchema>;
