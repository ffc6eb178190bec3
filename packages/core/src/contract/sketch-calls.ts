import { identifier } from '../definition/basics.ts';
import { z } from '../definition/zod.ts';
import { pathSchema, sketchConditionSchema, sketchOrderSchema, sketchSchema } from '../sketch/schema.ts';
import type { CallContract } from './call.ts';
import * as part from './parts.ts';

const groupValue = z.union([z.string().max(10_000), z.number(), z.boolean(), z.null()]);

/** Lines that are looked at: so many from a place on, in the group that these values lead to from the outermost one in. */
const window = z.strictObject({
  at: z.array(groupValue).max(8),
  /** Levels of groups that come as lines of their own, the innermost one alone; 1 when left out. */
  levels: z.number().int().min(1).max(8).default(1),
  /** Whether the groups that each line holds are counted, which takes about as long as all else. */
  counted: z.boolean().default(true),
  from: z.number().int().min(0).max(1_000_000_000).default(0),
  most: z.number().int().min(1).max(500).default(100),
});

/** A sketch as it is, for those who design; or a stored one in the way of whoever reads it. */
const asked = z
  .strictObject({
    sketch: sketchSchema.optional(),
    /** Id of a stored one. */
    stored: part.id.optional(),
    /** Of a stored one; the newest for those who may change it when left out. */
    which: part.whichRevision.default('newest'),
    /** Of a stored one: in the place of its own. */
    order: sketchOrderSchema.optional(),
    /** Of a stored one: besides its own, about fields that it shows. */
    only: z.array(sketchConditionSchema).max(50).default([]),
  })
  .refine(
    ({ sketch, stored }) => (sketch === undefined) !== (stored === undefined),
    'either a sketch, or a stored one',
  );

/** Totals of each value across, by the values of the groups on their line and their own: a line for each that has rows. */
const across = z.object({ fields: z.array(part.field), lines: z.array(z.array(part.wireValue)) }).nullable();

const lines = z.object({
  fields: z.array(part.field),
  lines: z.array(z.array(part.wireValue)),
  /** How many lines each of them holds; null where groups were not counted, nothing for rows. */
  inside: z.array(z.number().nullable()),
  across,
});

/** Sketches: questions about rows that are answered as they are asked. */
export const SKETCH_CALLS = {
  'POST /sketches': {
    does: 'Saves a new sketch. It is listed, deleted and run as reports are, by the id that it gets.',
    needs: 'design',
    body: z.strictObject({ sketch: sketchSchema, ...part.whereNew }),
    gives: part.storedReport,
    status: 201,
  },
  'GET /sketches/:id': {
    does: 'A sketch, as it was published or, for those who may change it, saved last, with the fields that it names.',
    needs: 'view',
    query: z.object({ which: part.whichRevision.default('newest') }),
    gives: part.storedReport.extend({ sketch: sketchSchema, reach: part.reach }),
  },
  'PUT /sketches/:id': {
    does: 'Saves a revision, made to the revision “base”; refused when somebody else saved one meanwhile.',
    needs: 'design',
    body: z.strictObject({
      sketch: sketchSchema,
      base: part.revisionNumber,
      note: z.string().max(500).default(''),
    }),
    gives: part.storedReport,
  },
  'GET /sketches/:id/draft': {
    does: 'The caller’s work on a sketch that is not saved; null when there is none.',
    needs: 'design',
    gives: part.draftHead.extend({ sketch: sketchSchema }).nullable(),
  },
  'PUT /sketches/:id/draft': {
    does: 'Keeps work on a sketch that is not saved. A new sketch has an id of its own until then.',
    needs: 'design',
    body: z.strictObject({
      sketch: sketchSchema,
      /** 0 for a sketch that is new. */
      base: part.revisionNumber.or(z.literal(0)),
    }),
    gives: part.draftHead,
  },
  'POST /sketch/lines': {
    does: 'Lines of a sketch: groups with their totals, or rows; and the end of all of them.',
    needs: 'view',
    body: z.strictObject({
      of: asked,
      /** `chart`: the lines that its chart is drawn from. */
      part: z.enum(['table', 'chart']).default('table'),
      windows: z.array(window).max(50),
      /** Whether the end is asked for as well; `counted`: and how many lines the outermost level has. */
      end: z.enum(['no', 'totals', 'counted']).default('counted'),
      /** Whether all values across are asked for, with their totals at the end. */
      across: z.boolean().default(false),
    }),
    gives: z.object({
      problems: z.array(part.problem),
      failure: part.failure.nullable(),
      /** In the order of `windows`; null with a failure. */
      windows: z.array(lines).nullable(),
      /** Totals of all rows, and how many lines the outermost level has. */
      end: z
        .object({ fields: z.array(part.field), line: z.array(part.wireValue), inside: z.number().nullable() })
        .nullable(),
      /** Every value that goes across, in their order; null where nothing does, or it was not asked for. */
      across,
      milliseconds: z.number(),
    }),
  },
  'POST /sketch/values': {
    does: 'What a field of a sketch’s rows holds, or one of its columns in each row, among those that the other conditions keep: its values with how many rows have each, or how they are spread.',
    needs: 'view',
    body: z
      .strictObject({
        of: asked,
        field: pathSchema.optional(),
        /** A column by its name, in the place of a field. */
        column: identifier.optional(),
        /** Only values with these letters. */
        search: z.string().max(200).default(''),
      })
      .refine(({ field, column }) => (field === undefined) !== (column === undefined), 'either a field, or a column'),
    gives: z.object({
      problems: z.array(part.problem),
      failure: part.failure.nullable(),
      found: z
        .object({
          field: part.field,
          /** The most frequent first. */
          values: z.array(z.object({ value: z.string(), count: z.number() })),
          distinct: z.number(),
          blanks: z.number(),
          least: z.string().nullable(),
          most: z.string().nullable(),
          /** Of numbers and dates: rows in ranges of the same width between the two. */
          bins: z.array(z.number()),
        })
        .nullable(),
    }),
  },
} as const satisfies Record<string, CallContract>;
