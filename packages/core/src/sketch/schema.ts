import { format, formula, identifier } from '../definition/basics.ts';
import { COMPARISONS, operandSchema, STEP_PERIODS, STEP_TOTALS, sourceSchema } from '../definition/recipe.ts';
import { z } from '../definition/zod.ts';

/** Version of the format that this code writes. */
export const SKETCH_VERSION = 1;

/** A field of the rows, or of others along relations: `nights`, `hut.region.name`. */
export const pathSchema = z
  .string()
  .max(400)
  .refine((path) => path.split('.').every((part) => identifier.safeParse(part).success));

const label = z.string().max(200).optional();

const columnSchema = z.strictObject({
  /** By which sort and formulas name it. */
  name: identifier,
  label,
  /** What it shows; a column with a formula has none, and one that counts rows neither. */
  field: pathSchema.optional(),
  /** Worked out for each row out of its fields. */
  formula: formula.optional(),
  /** Worked out on every line, those of groups and the end included, out of other columns by their names. */
  ofLine: formula.optional(),
  /** What becomes of many rows along the way to the field, as the charges of a stay: one value for each row. */
  inner: z.enum(STEP_TOTALS).optional(),
  /** What a group shows; nothing when left out. */
  total: z.enum(STEP_TOTALS).optional(),
  /** What the end shows, where that is not the same. */
  end: z.enum([...STEP_TOTALS, 'nothing']).optional(),
  format: format.optional(),
});

const groupSchema = z.strictObject({
  name: identifier,
  label,
  field: pathSchema,
  /** Dates of one of these make one group. */
  per: z.enum(STEP_PERIODS).optional(),
});

const conditionSchema = z.union([
  z.strictObject({ field: pathSchema, is: z.enum(COMPARISONS), to: operandSchema.optional() }),
  z.strictObject({ formula }),
]);

/** A question about rows, and how its answer is shown. */
export const sketchSchema = z.strictObject({
  sketch: z.literal(SKETCH_VERSION),
  name: z.string().max(200),
  note: z.string().max(2000).optional(),
  /** What one row is. */
  from: sourceSchema,
  /** Whether each row is shown; else only its groups are. */
  rows: z.boolean(),
  columns: z.array(columnSchema).max(100),
  /** Outermost first. */
  groups: z.array(groupSchema).max(8),
  /** What rows must meet, all of it. */
  only: z.array(conditionSchema).max(50),
  /** Columns and groups by their names, the one that counts most first. */
  order: z.array(z.strictObject({ by: identifier, descending: z.boolean().optional() })).max(8),
  /** So many groups of a name in each group around, in their order; the others are left out of all totals. */
  first: z.strictObject({ of: identifier, count: z.number().int().min(1).max(10_000) }).optional(),
});

export interface Sketch extends z.infer<typeof sketchSchema> {}
export type SketchColumn = Sketch['columns'][number];
export type SketchGroup = Sketch['groups'][number];
export type SketchCondition = Sketch['only'][number];
