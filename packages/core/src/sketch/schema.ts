import { CHART_TYPES } from '../chart/chart.ts';
import { color, format, formula, identifier } from '../definition/basics.ts';
import { COMPARISONS, operandSchema, STEP_PERIODS, STEP_TOTALS, sourceSchema } from '../definition/recipe.ts';
import { z } from '../definition/zod.ts';
import { isLanguage } from '../text/format.ts';
import { isTimeZone } from '../value/date.ts';

/** Groups inside one another. */
export const MOST_GROUPS = 8;

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
  /** On screen, in CSS pixels; on paper the columns share the width in the same proportion. */
  width: z.number().int().min(40).max(1200).optional(),
  /** Sort and formulas still know it. */
  hidden: z.literal(true).optional(),
  /** Stays in view at the left while the others scroll. */
  pinned: z.literal(true).optional(),
  /** A bar behind each number, as long as the number is large. */
  bars: z.literal(true).optional(),
  /** Another colour for the numbers that are so, on rows and innermost groups; of several that hold, the last one wins. */
  highlights: z
    .array(z.strictObject({ is: z.enum(['less', 'greater']), to: z.number(), color }))
    .max(10)
    .optional(),
});

const groupSchema = z.strictObject({
  name: identifier,
  label,
  field: pathSchema,
  /** Dates of one of these make one group. */
  per: z.enum(STEP_PERIODS).optional(),
});

const acrossSchema = groupSchema.extend({
  /** Without what all of its values have together, at the end of each line. */
  withoutTotal: z.literal(true).optional(),
});

/** Made by a press or a drag in the chart, which goes on showing what it leaves out. */
const fromChart = z.literal(true).optional();

export const sketchConditionSchema = z.union([
  z.strictObject({
    field: pathSchema,
    /** Dates are compared by the first day of the period that they lie in. */
    per: z.enum(STEP_PERIODS).optional(),
    is: z.enum(COMPARISONS),
    to: operandSchema.optional(),
    /** Rows without a value are kept as well. */
    orBlank: z.literal(true).optional(),
    fromChart,
  }),
  z.strictObject({ formula, label, fromChart }),
  z.strictObject({
    /** A column of the sketch by its name. */
    column: identifier,
    /** Groups of this name are kept by what they have in that column; rows by their own value without it. */
    of: identifier.optional(),
    is: z.enum(COMPARISONS),
    to: operandSchema.optional(),
    orBlank: z.literal(true).optional(),
    fromChart,
  }),
]);

/** What is left out follows from the groups and columns. */
const chartSchema = z.strictObject({
  type: z.enum(CHART_TYPES).optional(),
  /** Groups by their names: along its axis, and in colours of their own. */
  along: identifier.optional(),
  split: z.union([identifier, z.null()]).optional(),
  /** Columns by their names. */
  measures: z.array(identifier).max(6).optional(),
});

export const sketchOrderSchema = z.array(z.strictObject({ by: identifier, descending: z.boolean().optional() })).max(8);

const sketchShape = z.strictObject({
  sketch: z.literal(SKETCH_VERSION),
  name: z.string().max(200),
  note: z.string().max(2000).optional(),
  /** BCP 47 tag and IANA name: the order of texts, names of months, and where days begin. */
  language: z.string().max(35).refine(isLanguage).default('en'),
  timeZone: z.string().max(60).refine(isTimeZone).default('UTC'),
  /** Name of the theme of its report; the first one when left out. */
  theme: z.string().max(80).optional(),
  /** What one row is. */
  from: sourceSchema,
  /** Whether each row is shown; else only its groups are. */
  rows: z.boolean(),
  columns: z.array(columnSchema).max(100),
  /** Outermost first. */
  groups: z.array(groupSchema).max(MOST_GROUPS),
  /** Each of its values has a column for everything with totals. */
  across: acrossSchema.optional(),
  /** What rows must meet, all of it. */
  only: z.array(sketchConditionSchema).max(50),
  /** Columns and groups by their names, the one that counts most first. */
  order: sketchOrderSchema,
  /** So many groups of a name in each group around, in their order; the others are left out of all totals. */
  first: z.strictObject({ of: identifier, count: z.number().int().min(1).max(10_000) }).optional(),
  /** Stands above the lines. */
  chart: chartSchema.optional(),
  /** Every second row on another ground. */
  stripes: z.literal(true).optional(),
  /** Rows are fetched only when asked for; made-up ones are shown until then. */
  onRequest: z.literal(true).optional(),
});

/** A question about rows, and how its answer is shown. */
export const sketchSchema = sketchShape.refine(({ rows, across }) => !rows || across === undefined, {
  path: ['across'],
  message: 'a sketch that shows each row has nothing across',
});

export interface Sketch extends z.infer<typeof sketchSchema> {}
export type SketchColumn = Sketch['columns'][number];
export type SketchGroup = Sketch['groups'][number];
export type SketchAcross = NonNullable<Sketch['across']>;
export type SketchChart = NonNullable<Sketch['chart']>;
export type SketchCondition = Sketch['only'][number];
export type ColumnCondition = Extract<SketchCondition, { column: string }>;

/** Everything that a sketch groups by: down its lines, and across. */
export const groupsOf = ({ groups, across }: Pick<Sketch, 'groups' | 'across'>): readonly SketchGroup[] =>
  across ? [...groups, across] : groups;

/** Whether a column has something on the lines of groups. */
export const isMeasured = ({ ofLine, total }: SketchColumn): boolean => ofLine !== undefined || total !== undefined;

/** Whether the last value across comes first. */
export const isAcrossDescending = ({ across, order }: Pick<Sketch, 'across' | 'order'>): boolean =>
  order.some(({ by, descending }) => by === across?.name && descending === true);
