import { formula, identifier } from '../../definition/basics.ts';
import { place } from '../../definition/item-parts.ts';
import { z } from '../../definition/zod.ts';

export const subreportSchema = z.strictObject({
  kind: z.literal('subreport'),
  ...place,
  /** Id of the stored report that runs here. */
  report: z.string().min(1).max(120),
  /** The nested report's parameters, each with a formula that is read in this band. */
  links: z.record(identifier, formula).default({}),
  /**
   * Rows of this report that the nested one's outermost drawer shows instead of fetching its own: those that a relation
   * leads to from the current row, or the current row itself.
   */
  rows: z.union([z.strictObject({ relation: identifier }), z.literal('current')]).optional(),
});
