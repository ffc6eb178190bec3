import { GAUGE_TYPES } from '../../chart/gauge.ts';
import { color, format, formula } from '../../definition/basics.ts';
import { place } from '../../definition/item-parts.ts';
import { lookSchema } from '../../definition/look.ts';
import { ownRowsSchema, shortWords } from '../../definition/row-groups.ts';
import { z } from '../../definition/zod.ts';

const zone = z.strictObject({
  from: formula.optional(),
  to: formula.optional(),
  caption: shortWords.optional(),
  color,
});

export const gaugeSchema = z.strictObject({
  kind: z.literal('gauge'),
  ...place,
  type: z.enum(GAUGE_TYPES).default('dial'),
  /** Rows of its own, which its formulas total; without them they are worked out where it stands. */
  rows: ownRowsSchema.optional(),
  /** What it shows; empty until a field is dropped onto it. */
  value: formula.default(''),
  format: format.optional(),
  unit: shortWords.optional(),
  title: shortWords.optional(),
  /** Ends of its scale; they follow from what is shown when left out. */
  from: formula.optional(),
  to: formula.optional(),
  target: formula.optional(),
  /** What the value is held against, as that of last year. */
  compare: formula.optional(),
  compareCaption: shortWords.optional(),
  /** The change in per cent (when left out) or as a difference. */
  compareAs: z.enum(['share', 'difference']).optional(),
  /** Which way is good; up when left out. */
  good: z.enum(['up', 'down', 'neither']).optional(),
  zones: z.array(zone).max(20).optional(),
  /** Divisions of the scale, about, and how many parts each of them has. */
  major: z.number().int().min(1).max(50).optional(),
  minor: z.number().int().min(1).max(10).optional(),
  tickFormat: format.optional(),
  color: color.optional(),
  look: lookSchema.optional(),
});
