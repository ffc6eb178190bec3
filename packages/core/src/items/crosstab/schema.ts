import { color, format, formula, identifier, size } from '../../definition/basics.ts';
import { foldSchema } from '../../definition/folding.ts';
import { place } from '../../definition/item-parts.ts';
import { highlightSchema, lookSchema } from '../../definition/look.ts';
import { ownRowsSchema, rowGroupSchema, shortWords } from '../../definition/row-groups.ts';
import { z } from '../../definition/zod.ts';

const totalPlace = z.enum(['before', 'after', 'none']);

/** Values that rows are grouped by, along one axis. */
const axisGroup = rowGroupSchema.extend({
  /** Where the totals of all its inner groups stand. */
  total: totalPlace.optional(),
  /** Look of its labels and of the lines of its groups, over that of the whole and of totals. */
  look: lookSchema.optional(),
  /** Opened and closed by the reader, at its label; closed, it has the line of its totals alone. */
  fold: foldSchema.optional(),
});
export type AxisGroup = z.infer<typeof axisGroup>;

/** What a cell shows of its value. */
export const SHOWN_AS = [
  'value',
  'row-share',
  'column-share',
  'whole-share',
  'difference',
  'ratio',
  'running',
  'rank',
] as const;

const cell = z.strictObject({
  caption: shortWords.optional(),
  formula,
  format: format.optional(),
  /**
   * The value itself, its share of the row, the column or the whole, its difference from or ratio to the column before, the
   * sum of the row so far, or its rank in the column.
   */
  shows: z.enum(SHOWN_AS).optional(),
  look: lookSchema.optional(),
  highlights: z.array(highlightSchema).max(20).optional(),
  /** Another report that a click on the cell opens, with values from formulas over the cell: the rows behind it. */
  link: z
    .strictObject({ report: z.string().min(1).max(120), parameters: z.record(identifier, formula).default({}) })
    .optional(),
  /** Background of the innermost cells from the smallest value to the largest. */
  scale: z.strictObject({ from: color, to: color }).optional(),
});

export const crosstabSchema = z.strictObject({
  kind: z.literal('crosstab'),
  ...place,
  /** Rows of its own; without them it groups those that a total counts where it stands. */
  rows: ownRowsSchema.optional(),
  /** Groups down and across, outermost first. */
  down: z.array(axisGroup).max(8).default([]),
  across: z.array(axisGroup).max(8).default([]),
  cells: z.array(cell).max(20).default([]),
  /** Several values of a cell stand below one another. */
  below: z.boolean().optional(),
  /** Where the totals of everything stand. */
  totalDown: totalPlace.optional(),
  totalAcross: totalPlace.optional(),
  /** What totals of everything are called. */
  totalCaption: shortWords.optional(),
  /** Labels of the groups down stand in one column, inner ones indented, or in a column each. */
  labels: z.enum(['indented', 'columns']).optional(),
  /** Labels in columns say their value on each line. */
  repeatLabels: z.boolean().optional(),
  /** Widths of the columns; as wide as they need to be without it. */
  labelWidth: size.optional(),
  cellWidth: size.optional(),
  /** All columns as wide as the widest. */
  even: z.boolean().optional(),
  /** Height of a line. */
  rowHeight: size.optional(),
  /** What is shown when there are no rows. */
  empty: shortWords.optional(),
  look: lookSchema.optional(),
  /** Looks of its parts, over that of the whole. */
  headingLook: lookSchema.optional(),
  labelLook: lookSchema.optional(),
  totalLook: lookSchema.optional(),
  /** Lines between rows. */
  line: color.optional(),
  /** A legend of the colours below. */
  legend: z.boolean().optional(),
});
export type CrosstabCell = z.infer<typeof cell>;
