import { z } from '../definition/zod.ts';
import type { CallContract } from './call.ts';
import * as part from './parts.ts';

const text = z.string().max(2000);

/** Options of an output; those that there are stand in `GET /outputs`. */
const outputOptions = z.record(z.string(), z.union([z.string(), z.number(), z.boolean()])).default({});

const howToRun = {
  parameters: part.parameterValues,
  credentials: part.credentials,
  keep: z.boolean().default(false),
  form: part.pageForm.default('pages'),
  /** The languages of its reader, the preferred one first: a report is shown in the first of them that it speaks. */
  language: part.readerLanguages.optional(),
  /** Rows in the way of whoever reads it. */
  arrangement: part.arrangement.optional(),
};

/** Reports being checked, run and read, and the files that they become. */
export const RUN_CALLS = {
  'POST /check': {
    does: 'Checks a definition.',
    needs: 'design',
    body: z.strictObject({ definition: part.definition }),
    gives: z.object({ problems: z.array(part.problem) }),
  },
  'POST /design-rows': {
    does: 'Rows for the live page of a report that is being designed.',
    needs: 'design',
    body: z.strictObject({
      definition: part.definition,
      parameters: part.parameterValues,
      id: z.string().max(120).optional(),
      language: part.languageTag.optional(),
    }),
    gives: part.jsonSchema,
  },
  'POST /runs': {
    does: 'Runs a stored report as it was published or, for those who may change it, as it was saved last; or a definition. With “keep” it goes on when nobody follows it; the form “long” gives one page without breaks, in strips.',
    needs: 'view',
    forLinks: true,
    body: z.union([
      z.strictObject({ report: part.id, revision: part.whichRevision.default('published'), ...howToRun }),
      z.strictObject({ definition: part.definition, ...howToRun }),
    ]),
    gives: part.runState,
    status: 201,
  },
  'GET /runs/:id': { does: 'How far a run is.', needs: 'view', forLinks: true, gives: part.runState },
  'DELETE /runs/:id': { does: 'Cancels a run.', needs: 'view', forLinks: true, gives: part.runState },
  'GET /runs/:id/events': {
    does: 'Follows a run until it ends, by server-sent events.',
    needs: 'view',
    forLinks: true,
    gives: 'events',
  },
  'POST /runs/:id/folds': {
    does: 'Lays a run out anew, from the rows that are there, with other parts of it closed: a new run. “at”: what its reader looks at.',
    needs: 'view',
    forLinks: true,
    body: z.strictObject({ folds: part.folds, form: part.pageForm.optional(), at: part.placeAsked.optional() }),
    gives: part.runState,
    status: 201,
  },
  'GET /runs/:id/pages': {
    does: 'Pages from a number on, at most 20; those that are not there yet are left out.',
    needs: 'view',
    forLinks: true,
    query: z.object({
      from: z.coerce.number().int().catch(1).default(1),
      count: z.coerce.number().int().catch(1).default(1),
    }),
    gives: part.pages,
  },
  'GET /runs/:id/outline': {
    does: 'Entries of the outline so far.',
    needs: 'view',
    forLinks: true,
    gives: part.headings,
  },
  'GET /runs/:id/found': {
    does: 'Where words stand on the pages so far, whatever their case and accents: how often on which pages, and some of the places from one on, counted from 0, with a few words around them; at most 50 places.',
    needs: 'view',
    forLinks: true,
    query: z.object({
      text: z.string().max(200).default(''),
      from: z.coerce.number().int().min(0).catch(0).default(0),
      count: z.coerce.number().int().min(0).catch(0).default(0),
    }),
    gives: part.foundOnPages,
  },
  'GET /runs/:id/anchor': {
    does: 'Where a link to an anchor leads; null when there is no such anchor.',
    needs: 'view',
    forLinks: true,
    query: z.object({ name: text.default('') }),
    gives: part.placeInRun.nullable(),
  },
  'GET /runs/:id/arranging': {
    does: 'How whoever reads a run may arrange its rows: by which columns, and whether only some of the rows and columns are shown.',
    needs: 'view',
    forLinks: true,
    gives: part.arranging,
  },
  'GET /runs/:id/rows': {
    does: 'Where the first band of a row stands, whose region has this name; null where no page has one.',
    needs: 'view',
    forLinks: true,
    query: z.object({ name: z.string().max(20_000) }),
    gives: part.placeInRun.nullable(),
  },
  'GET /runs/:id/items': {
    does: 'Where an item of the report first stands, by its id; null where no page has it.',
    needs: 'view',
    forLinks: true,
    query: z.object({ id: z.string().max(200) }),
    gives: part.placeInRun.nullable(),
  },
  'POST /runs/:id/explain': {
    does: 'Where a value on the pages of a run comes from: its formulas, the rows that they count, and what cuts those.',
    needs: 'view',
    body: part.askedValue,
    gives: part.explanation,
  },
  'GET /runs/:id/profile': {
    does: 'What a run did; null before it is done.',
    needs: 'view',
    forLinks: true,
    gives: part.runProfile.nullable(),
  },
  'GET /outputs': {
    does: 'The files that a report can become.',
    needs: 'view',
    forLinks: true,
    gives: z.array(part.output),
  },
  'GET /runs/:id/files': {
    does: 'Files of a run that are being made, and how many of their pages or rows are written.',
    needs: 'view',
    forLinks: true,
    gives: z.array(z.object({ output: z.string(), done: z.number(), of: z.number() })),
  },
  'GET /runs/:id/files/:output': {
    does: 'A run as a file, in the options of the output. With “problems=allow” also when it is not whole; “filename” is a pattern of its name.',
    needs: 'view',
    forLinks: true,
    query: z.looseObject({ problems: z.string().max(20).optional(), filename: z.string().max(300).optional() }),
    gives: 'file',
  },
  'POST /runs/:id/files/:output': {
    does: 'The same with its options in the body, where an address would tell them, as passwords.',
    needs: 'view',
    forLinks: true,
    body: z.object({ options: outputOptions, problems: text.optional(), filename: text.optional() }),
    gives: 'file',
  },
  'POST /runs/:id/files': {
    does: 'Several files of a run at once, as a zip.',
    needs: 'view',
    forLinks: true,
    body: z.object({
      files: z
        .array(z.object({ output: text, options: outputOptions }))
        .min(1)
        .max(20),
      problems: text.optional(),
      filename: text.optional(),
    }),
    gives: 'file',
  },
  'POST /joined-runs': {
    does: 'The pages of several runs as one file of an output of pages, one run after another, each under its title in the outline.',
    needs: 'view',
    body: z.object({
      runs: z.array(text).min(1).max(50),
      output: text.default('pdf'),
      options: outputOptions,
      title: text.optional(),
      problems: text.optional(),
    }),
    gives: 'file',
  },
  'GET /pictures/:hash': { does: 'A picture of a page, by its hash.', needs: 'view', forLinks: true, gives: 'file' },
} as const satisfies Record<string, CallContract>;
