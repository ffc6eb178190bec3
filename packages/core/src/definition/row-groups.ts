import { format, formula, identifier } from './basics.ts';
import { GROUPINGS, sortSchema } from './sorting.ts';
import { spoken } from './spoken.ts';
import { z } from './zod.ts';

/** Words that readers read. */
export const shortWords = spoken(z.string().max(200));

const ownShape = {
  filter: formula.optional(),
  sort: z.array(sortSchema).max(20).optional(),
  first: z.number().int().min(1).optional(),
};

/** Rows of an item’s own: an entity’s or a query’s, or those that a relation leads to from the row of the band. */
export const ownRowsSchema = z.union([
  z.strictObject({ entity: identifier, ...ownShape }),
  z.strictObject({ relation: identifier, ...ownShape }),
]);
export type OwnRows = z.infer<typeof ownRowsSchema>;

/** Values that an item groups its rows by. */
export const rowGroupSchema = z.strictObject({
  /** By which formulas of the item read its value. */
  name: identifier,
  by: formula,
  per: z.enum(GROUPINGS).optional(),
  /** Width of a range. */
  width: z.number().positive().optional(),
  /** Words over its labels. */
  caption: shortWords.optional(),
  /** Number format of its labels. */
  format: format.optional(),
  descending: z.boolean().optional(),
  /** Order by a formula over the totals of a group; by the value without it. */
  order: formula.optional(),
  /** Only the first so many, in this order. */
  first: z.number().int().min(1).max(100_000).optional(),
  /** What all those past the first ones are shown as; they are left out without it. */
  others: shortWords.optional(),
  /** Values without rows are shown as well: periods and ranges between the first and the last, and values that other groups have. */
  gaps: z.boolean().optional(),
});
export type RowGroup = z.infer<typeof rowGroupSchema>;
