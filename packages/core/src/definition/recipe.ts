import { DATA_TYPES, type DataType } from '../value/value.ts';
import { format, formula, identifier } from './basics.ts';
import { spoken } from './spoken.ts';
import { z } from './zod.ts';

/** Where rows come from: a table of a data model, a shared recipe, or another query of the same report. */
export const sourceSchema = z.union([
  z.strictObject({
    model: identifier,
    entity: identifier,
    /** Formulas for the arguments of a function that returns rows. */
    arguments: z.record(z.string().max(80), formula).optional(),
  }),
  z.strictObject({ recipe: z.string().min(1).max(120) }),
  z.strictObject({ query: identifier }),
]);

const label = spoken(z.string().max(200)).optional();
const literal = z.union([z.string().max(1000), z.number(), z.boolean()]);

/** What a field is compared with. */
export const operandSchema = z.union([
  z.strictObject({ value: literal }),
  z.strictObject({ values: z.array(literal).max(1000) }),
  z.strictObject({ from: literal, to: literal }),
  /** Without a value it keeps everything; with `evenBlank` it is compared with then too. */
  z.strictObject({ parameter: identifier, evenBlank: z.literal(true).optional() }),
  z.strictObject({ field: identifier }),
]);

export const COMPARISONS = [
  'equal',
  'notEqual',
  'less',
  'lessOrEqual',
  'greater',
  'greaterOrEqual',
  'between',
  'oneOf',
  'notOneOf',
  'contains',
  'startsWith',
  'endsWith',
  'blank',
  'notBlank',
  'within',
] as const;

export type Operand = z.infer<typeof operandSchema>;
export type Comparison = (typeof COMPARISONS)[number];

/** Conditions joined by and (`all`) or or (`any`), a comparison of one field, or a formula. */
export type Condition =
  | { all: Condition[] }
  | { any: Condition[] }
  | { field: string; is: Comparison; to?: Operand | undefined }
  | { formula: string };

export const conditionSchema: z.ZodType<Condition> = z.lazy(() =>
  z.union([
    z.strictObject({ all: z.array(conditionSchema).max(100) }),
    z.strictObject({ any: z.array(conditionSchema).max(100) }),
    z.strictObject({ field: identifier, is: z.enum(COMPARISONS), to: operandSchema.optional() }),
    z.strictObject({ formula }),
  ]),
);

/** Totals that a step may take; a subset of the totals of formulas, under the same names. */
export const STEP_TOTALS = [
  'SUM',
  'COUNT',
  'COUNTDISTINCT',
  'AVERAGE',
  'MEDIAN',
  'STDEV',
  'MIN',
  'MAX',
  'FIRST',
  'LAST',
] as const;
/** What is worked out along the rows: a running total, the value of the row before, a rank, a share of the total, a number for each row. */
export const ALONG = ['running', 'before', 'rank', 'share', 'number'] as const;
/** What columns can be turned into. */
export const CONVERTED = ['text', 'number', 'date', 'datetime', 'boolean'] as const satisfies readonly DataType[];
/** What stands in the place of a blank: the value above, the one below, or one that is given. */
export const FILLS = ['above', 'below', 'value'] as const;
export const STEP_PERIODS = ['year', 'quarter', 'month', 'week', 'day', 'hour'] as const;
/** Which rows a step that brings in others keeps: those with a partner, all here, all there, or all of both. */
export const KEEPS = ['matching', 'here', 'there', 'both'] as const;

const pair = z.strictObject({ here: identifier, there: identifier });

const stepTotal = z.strictObject({
  total: z.enum(STEP_TOTALS),
  /** Left out: COUNT counts rows. */
  of: identifier.optional(),
  name: identifier,
  label,
});

const shapes = {
  take: z.strictObject({ step: z.literal('take'), from: sourceSchema }),
  /** A reading statement in the database's own language; `columns` is what it gives, as found when it last ran. */
  sql: z.strictObject({
    step: z.literal('sql'),
    model: identifier,
    text: z.string().max(50_000),
    columns: z.array(z.strictObject({ name: z.string().min(1).max(80), type: z.enum(DATA_TYPES), label })).max(500),
  }),
  bring: z.strictObject({
    step: z.literal('bring'),
    /** A relation of the rows so far, or a source with pairs of fields whose values are equal. */
    relation: identifier.optional(),
    from: sourceSchema.optional(),
    on: z.array(pair).min(1).max(20).optional(),
    keep: z.enum(KEEPS),
    /** Stands before the names of the fields that come: `hut` makes `hut_name`. */
    as: identifier,
    /** Fields to bring; all when left out. */
    fields: z.array(identifier).max(500).optional(),
    /** What the rows there add up to, in the place of their fields: each row here stays one. */
    totals: z.array(stepTotal).min(1).max(100).optional(),
  }),
  keep: z.strictObject({ step: z.literal('keep'), where: conditionSchema }),
  add: z.strictObject({
    step: z.literal('add'),
    name: identifier,
    label,
    formula,
    format: format.optional(),
    /** A total in the formula is that of the rows that have the same values of these; of all rows when left out. */
    per: z.array(identifier).max(20).optional(),
  }),
  summarise: z.strictObject({
    step: z.literal('summarise'),
    by: z
      .array(
        z.strictObject({ field: identifier, per: z.enum(STEP_PERIODS).optional(), name: identifier.optional(), label }),
      )
      .max(50),
    totals: z.array(stepTotal).max(100),
  }),
  spread: z.strictObject({
    step: z.literal('spread'),
    names: identifier,
    values: identifier,
    /** What becomes of several values for one name. */
    total: z.enum(STEP_TOTALS),
    into: z.array(z.strictObject({ value: literal, name: identifier, label })).max(200),
  }),
  sort: z.strictObject({
    step: z.literal('sort'),
    by: z.array(z.strictObject({ field: identifier, descending: z.boolean().optional() })).max(20),
  }),
  first: z.strictObject({
    step: z.literal('first'),
    count: z.number().int().min(1).max(10_000_000),
    /** So many of each value of these. */
    per: z.array(identifier).max(20).optional(),
  }),
  distinct: z.strictObject({
    step: z.literal('distinct'),
    /** Rows that are alike in these are doubles; in every field when left out. */
    by: z.array(identifier).max(50).optional(),
  }),
  stack: z.strictObject({ step: z.literal('stack'), from: sourceSchema }),
  /** Which columns are shown, in their order, and what they are called. */
  columns: z.strictObject({
    step: z.literal('columns'),
    columns: z.array(z.strictObject({ field: identifier, name: identifier.optional(), label })).max(500),
  }),
  along: z.strictObject({
    step: z.literal('along'),
    what: z.enum(ALONG),
    /** Left out for a number of each row. */
    of: identifier.optional(),
    /** For each value of these by itself. */
    per: z.array(identifier).max(20).optional(),
    name: identifier,
    label,
  }),
  /** Columns become columns of another type; a value that does not fit it becomes blank. */
  convert: z.strictObject({
    step: z.literal('convert'),
    columns: z
      .array(
        z.strictObject({
          field: identifier,
          to: z.enum(CONVERTED),
          /** How numbers and dates are written where they are texts; left out: with a point, and day before month. */
          decimal: z.enum(['.', ',']).optional(),
          dates: z.enum(['ymd', 'dmy', 'mdy']).optional(),
        }),
      )
      .max(100),
  }),
  /** Of each row one for each of these columns, with the column's name and its value. */
  gather: z.strictObject({
    step: z.literal('gather'),
    columns: z.array(z.strictObject({ field: identifier, label })).max(200),
    names: z.strictObject({ name: identifier, label }),
    values: z.strictObject({ name: identifier, label }),
    /** Keeps the rows whose value is blank. */
    blanks: z.literal(true).optional(),
  }),
  fill: z.strictObject({
    step: z.literal('fill'),
    fields: z.array(identifier).max(100),
    /** Of the rows before or after in their order, or one that is given. */
    by: z.enum(FILLS),
    value: literal.optional(),
    /** Within the rows that have the same values of these. */
    per: z.array(identifier).max(20).optional(),
  }),
  /** Parts of a text in columns of their own; the last one takes what is left. */
  split: z.strictObject({
    step: z.literal('split'),
    field: identifier,
    at: z.string().min(1).max(20),
    into: z.array(z.strictObject({ name: identifier, label })).max(20),
  }),
  /** Texts, numbers and dates in one column, without those that are blank. */
  join: z.strictObject({
    step: z.literal('join'),
    fields: z.array(identifier).max(50),
    between: z.string().max(20),
    name: identifier,
    label,
  }),
} as const;

const off = { off: z.boolean().optional() };
const plainStepSchema = z.discriminatedUnion('step', [
  shapes.take.extend(off),
  shapes.sql.extend(off),
  shapes.bring.extend(off),
  shapes.keep.extend(off),
  shapes.add.extend(off),
  shapes.summarise.extend(off),
  shapes.spread.extend(off),
  shapes.sort.extend(off),
  shapes.first.extend(off),
  shapes.distinct.extend(off),
  shapes.stack.extend(off),
  shapes.columns.extend(off),
  shapes.along.extend(off),
  shapes.convert.extend(off),
  shapes.gather.extend(off),
  shapes.fill.extend(off),
  shapes.split.extend(off),
  shapes.join.extend(off),
]);
type PlainStepSchema = typeof plainStepSchema;
export interface StepSchema extends PlainStepSchema {}
export const stepSchema: StepSchema = plainStepSchema;

/** A recipe: steps from top to bottom, each working on what the one above gives. */
export const stepsSchema = z.array(stepSchema).min(1).max(100);

/** A query of a report: steps of its own, or a shared recipe. Drawers take its rows by its name. */
const plainQuerySchema = z.strictObject({
  name: identifier,
  label,
  recipe: z.string().min(1).max(120).optional(),
  steps: stepsSchema.optional(),
});
type PlainQuerySchema = typeof plainQuerySchema;
export interface QuerySchema extends PlainQuerySchema {}
export const querySchema: QuerySchema = plainQuerySchema;

/** A relation that a report adds between tables and queries, by fields whose values are equal. */
export const reportRelationSchema = z.strictObject({
  name: identifier,
  label,
  from: identifier,
  to: identifier,
  kind: z.enum(['one', 'many']),
  on: z.array(pair).min(1).max(20),
});

export type Source = z.infer<typeof sourceSchema>;
export type Step = z.infer<typeof stepSchema>;
export type StepKind = Step['step'];
export type StepOf<K extends StepKind> = Extract<Step, { step: K }>;
export type StepTotal = (typeof STEP_TOTALS)[number];
export type Query = z.infer<typeof querySchema>;
export type ReportRelation = z.infer<typeof reportRelationSchema>;

/** A recipe that several reports share. */
export interface Recipe {
  id: string;
  name: string;
  steps: Step[];
}
