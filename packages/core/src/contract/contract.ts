import { z } from '../definition/zod.ts';
import { DATA_TYPES } from '../value/value.ts';
import * as part from './parts.ts';
import { type Right, TRIED_RIGHTS } from './rights.ts';

/** What one call of the API takes and gives. Its name is its method and address. */
export interface CallContract {
  /** A sentence for the API’s description. */
  does: string;
  /** Right that the caller needs; `session`: any caller, `nobody`: without a token. */
  needs: Right | 'session' | 'nobody';
  query?: z.ZodType;
  body?: z.ZodType;
  /** A file: its media type is told with it. */
  gives: z.ZodType | 'nothing' | 'file' | 'events';
  /** 200 when left out. */
  status?: 201 | 204;
}

const text = z.string().max(2000);
const found = z.object({ tables: z.array(part.foundTable) });

/** Options of an output; those that there are stand in `GET /outputs`. */
const outputOptions = z.record(z.string(), z.union([z.string(), z.number(), z.boolean()])).default({});

const howToRun = {
  parameters: part.parameterValues,
  credentials: part.credentials,
  keep: z.boolean().default(false),
  form: part.pageForm.default('pages'),
  /** Rows in the way of whoever reads it. */
  arrangement: part.arrangement.optional(),
};

export const CONTRACT = {
  'GET /session': { does: 'Who is calling, and what they may do.', needs: 'session', gives: part.session },
  'GET /fonts': { does: 'The fonts that reports are laid out with.', needs: 'nobody', gives: z.array(part.font) },
  'GET /fonts/:file': { does: 'The file of a font.', needs: 'nobody', gives: 'file' },
  'GET /functions': {
    does: 'Functions of formulas that the host added.',
    needs: 'design',
    gives: part.functions,
  },
  'GET /functions/:file': {
    does: 'A module of functions that work in browsers, under the name that they give.',
    needs: 'nobody',
    gives: 'file',
  },
  'GET /themes': { does: 'Themes that the host added.', needs: 'design', gives: z.array(part.theme) },
  'GET /schema/report': { does: 'The JSON Schema of a definition.', needs: 'nobody', gives: part.jsonSchema },
  'GET /reference': { does: 'This description, as a page to read.', needs: 'nobody', gives: 'file' },
  'GET /openapi.json': { does: 'This description.', needs: 'nobody', gives: part.jsonSchema },
  'GET /models': {
    does: 'The data models, with where their rows come from, in a language.',
    needs: 'view',
    query: z.object({ language: z.string().max(35).optional() }),
    gives: z.array(
      part.model.and(
        z.object({
          origin: z.object({
            connection: z.string(),
            kind: z.enum(['database', 'rows', 'missing']),
            made: z.enum(['code', 'hand']),
          }),
        }),
      ),
    ),
  },

  'GET /reports': { does: 'All reports, newest first.', needs: 'view', gives: z.array(part.storedReport) },
  'POST /reports': {
    does: 'Saves a new report.',
    needs: 'design',
    body: z.strictObject({ definition: part.definition }),
    gives: part.storedReport,
    status: 201,
  },
  'GET /reports/:id': {
    does: 'A report; its whole definition for those who may design, name, paper and parameters for others.',
    needs: 'view',
    gives: part.storedReport.extend({ definition: part.report }),
  },
  'PUT /reports/:id': {
    does: 'Saves a revision, made to the revision “base”; refused when somebody else saved one meanwhile.',
    needs: 'design',
    body: z.strictObject({
      definition: part.definition,
      /** The revision that the changes were made to. */
      base: part.revisionNumber,
      note: z.string().max(500).default(''),
    }),
    gives: part.storedReport,
  },
  'DELETE /reports/:id': {
    does: 'Deletes a report, which can be restored for 30 days. What uses it stays as it is, and tells of the problem.',
    needs: 'design',
    gives: 'nothing',
    status: 204,
  },
  'POST /reports/:id/restore': {
    does: 'Brings a deleted report back as it was.',
    needs: 'design',
    gives: part.storedReport,
  },
  'GET /reports/:id/users': {
    does: 'The reports that use a report: they nest it, link to it, or nest a report that nests it.',
    needs: 'design',
    gives: z.array(part.reportUser),
  },
  'GET /reports/:id/revisions': { does: 'Revisions, newest first.', needs: 'design', gives: z.array(part.revision) },
  'GET /reports/:id/revisions/:number': { does: 'One revision.', needs: 'design', gives: part.report },
  'POST /reports/:id/presence': {
    does: 'Tells that a window has the report open, and who else has.',
    needs: 'design',
    body: z.strictObject({ window: z.string().min(1).max(80), leaving: z.boolean().default(false) }),
    gives: part.presence,
  },

  'GET /reports/:id/value-sets': {
    does: 'Values of a report’s parameters under names: the caller’s own, and those that are shared.',
    needs: 'view',
    gives: z.array(part.valueSet),
  },
  'POST /reports/:id/value-sets': {
    does: 'Keeps values under a name, in the place of the caller’s own of the same name. To share them needs the right to design.',
    needs: 'view',
    body: z.strictObject({
      name: z.string().trim().min(1).max(80),
      values: part.parameterValues,
      shared: z.boolean().default(false),
    }),
    gives: part.valueSet,
    status: 201,
  },
  'DELETE /reports/:id/value-sets/:set': {
    does: 'Removes values that were kept under a name: the caller’s own, or shared ones with the right to design.',
    needs: 'view',
    gives: 'nothing',
    status: 204,
  },
  'GET /drafts': { does: 'The caller’s work that is not saved.', needs: 'design', gives: z.array(part.draftHead) },
  'GET /drafts/:key': {
    does: 'One draft of the caller’s; null when nothing is kept under the key.',
    needs: 'design',
    gives: part.draftHead.extend({ definition: part.report }).nullable(),
  },
  'PUT /drafts/:key': {
    does: 'Keeps work that is not saved.',
    needs: 'design',
    body: z.strictObject({
      definition: part.definition,
      report: part.id.nullable(),
      /** 0 for a report that is new. */
      base: part.revisionNumber.or(z.literal(0)),
    }),
    gives: part.draftHead,
  },
  'DELETE /drafts/:key': {
    does: 'Discards a draft; with “savedAt” only as long as nothing newer was kept.',
    needs: 'design',
    query: z.object({ savedAt: z.string().max(40).optional() }),
    gives: 'nothing',
    status: 204,
  },

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
    }),
    gives: part.jsonSchema,
  },
  'POST /runs': {
    does: 'Runs a stored report, or a definition. With “keep” it goes on when nobody follows it; the form “long” gives one page without breaks, in strips.',
    needs: 'view',
    body: z.union([
      z.strictObject({ report: part.id, ...howToRun }),
      z.strictObject({ definition: part.definition, ...howToRun }),
    ]),
    gives: part.runState,
    status: 201,
  },
  'GET /runs/:id': { does: 'How far a run is.', needs: 'view', gives: part.runState },
  'DELETE /runs/:id': { does: 'Cancels a run.', needs: 'view', gives: part.runState },
  'GET /runs/:id/events': {
    does: 'Follows a run until it ends, by server-sent events.',
    needs: 'view',
    gives: 'events',
  },
  'POST /runs/:id/folds': {
    does: 'Lays a run out anew, from the rows that are there, with other parts of it closed: a new run. “at”: what its reader looks at.',
    needs: 'view',
    body: z.strictObject({ folds: part.folds, form: part.pageForm.optional(), at: part.placeAsked.optional() }),
    gives: part.runState,
    status: 201,
  },
  'GET /runs/:id/pages': {
    does: 'Pages from a number on, at most 20; those that are not there yet are left out.',
    needs: 'view',
    query: z.object({
      from: z.coerce.number().int().catch(1).default(1),
      count: z.coerce.number().int().catch(1).default(1),
    }),
    gives: part.pages,
  },
  'GET /runs/:id/outline': { does: 'Entries of the outline so far.', needs: 'view', gives: part.headings },
  'GET /runs/:id/found': {
    does: 'Where words stand on the pages so far, whatever their case and accents: how often on which pages, and some of the places from one on, counted from 0, with a few words around them; at most 50 places.',
    needs: 'view',
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
    query: z.object({ name: text.default('') }),
    gives: part.placeInRun.nullable(),
  },
  'GET /runs/:id/arranging': {
    does: 'How whoever reads a run may arrange its rows: by which columns, and whether only some of the rows and columns are shown.',
    needs: 'view',
    gives: part.arranging,
  },
  'GET /runs/:id/rows': {
    does: 'Where the first band of a row stands, whose region has this name; null where no page has one.',
    needs: 'view',
    query: z.object({ name: z.string().max(20_000) }),
    gives: part.placeInRun.nullable(),
  },
  'GET /runs/:id/items': {
    does: 'Where an item of the report first stands, by its id; null where no page has it.',
    needs: 'view',
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
    gives: part.runProfile.nullable(),
  },
  'GET /outputs': { does: 'The files that a report can become.', needs: 'view', gives: z.array(part.output) },
  'GET /runs/:id/files': {
    does: 'Files of a run that are being made, and how many of their pages or rows are written.',
    needs: 'view',
    gives: z.array(z.object({ output: z.string(), done: z.number(), of: z.number() })),
  },
  'GET /runs/:id/files/:output': {
    does: 'A run as a file, in the options of the output. With “problems=allow” also when it is not whole; “filename” is a pattern of its name.',
    needs: 'view',
    query: z.looseObject({ problems: z.string().max(20).optional(), filename: z.string().max(300).optional() }),
    gives: 'file',
  },
  'POST /runs/:id/files/:output': {
    does: 'The same with its options in the body, where an address would tell them, as passwords.',
    needs: 'view',
    body: z.object({ options: outputOptions, problems: text.optional(), filename: text.optional() }),
    gives: 'file',
  },
  'POST /runs/:id/files': {
    does: 'Several files of a run at once, as a zip.',
    needs: 'view',
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
  'GET /pictures/:hash': { does: 'A picture of a page, by its hash.', needs: 'view', gives: 'file' },

  'GET /recipes': { does: 'All shared recipes.', needs: 'design', gives: z.array(part.storedRecipe) },
  'POST /recipes': {
    does: 'Saves a new recipe.',
    needs: 'design',
    body: part.newRecipe,
    gives: part.storedRecipe,
    status: 201,
  },
  'PUT /recipes/:id': {
    does: 'Saves a recipe, changed from the revision “base”.',
    needs: 'design',
    body: part.newRecipe.extend({ base: part.revisionNumber }),
    gives: part.storedRecipe,
  },
  'DELETE /recipes/:id': {
    does: 'Removes a recipe that nothing takes rows from.',
    needs: 'design',
    gives: 'nothing',
    status: 204,
  },
  'GET /recipes/:id/users': { does: 'What takes rows from a recipe.', needs: 'design', gives: z.array(part.user) },
  'POST /recipe/rows': {
    does: 'The first rows after some steps.',
    needs: 'design',
    body: z.strictObject({ ...part.looked, rows: z.number().int().min(1).max(1000).default(200) }),
    gives: part.look(part.recipeRows),
  },
  'POST /recipe/count': {
    does: 'How many rows some steps give.',
    needs: 'design',
    body: z.strictObject(part.looked),
    gives: part.look(z.object({ count: z.number(), milliseconds: z.number() })),
  },
  'POST /recipe/facts': {
    does: 'What is known of each column after some steps.',
    needs: 'design',
    body: z.strictObject(part.looked),
    gives: part.look(z.array(part.columnFacts)),
  },
  'POST /recipe/values': {
    does: 'The values of a column, the most frequent first.',
    needs: 'design',
    body: z.strictObject({
      ...part.looked,
      field: z.string().min(1).max(80),
      search: z.string().max(200).default(''),
    }),
    gives: part.look(z.array(z.object({ value: z.string(), count: z.number() }))),
  },
  'POST /recipe/fit': {
    does: 'How many rows of two sources match by some fields.',
    needs: 'design',
    body: z.strictObject({ ...part.looked, there: part.looked.steps, on: part.pairs }),
    gives: part.look(z.object({ here: z.number(), there: z.number(), hereAlone: z.number(), thereAlone: z.number() })),
  },
  'POST /sql/describe': {
    does: 'The columns that a statement gives, or what is wrong with it and where.',
    needs: 'sql',
    body: z.strictObject({
      model: z.string().max(80),
      text: z.string().max(50_000),
      parameters: part.looked.parameters,
      values: part.parameterValues,
    }),
    gives: z.object({
      columns: z.array(z.object({ name: z.string(), type: z.enum(DATA_TYPES) })).nullable(),
      failure: z.object({ detail: z.string(), said: part.said, position: z.number().nullable() }).nullable(),
    }),
  },
  'POST /choices': {
    does: 'What a parameter with choices out of rows offers.',
    needs: 'view',
    body: z.strictObject({
      report: z.string().max(120).optional(),
      definition: part.definition.optional(),
      parameter: z.string().max(80),
      values: part.parameterValues,
      search: z.string().max(200).default(''),
    }),
    gives: part.choices,
  },

  'GET /connections': {
    does: 'Connections that were made by hand, and the names of those of the application’s code.',
    needs: 'design',
    gives: z.object({
      made: z.array(part.madeConnection),
      fixed: z.array(z.object({ name: z.string(), kind: z.enum(['database', 'rows']) })),
      allowedAddresses: z.array(z.string()),
      keepsSecrets: z.boolean(),
    }),
  },
  'POST /connections/test': {
    does: 'Looks what a source holds, without keeping anything.',
    needs: 'data',
    body: part.connection,
    gives: found,
  },
  'PUT /connections': {
    does: 'Saves a connection.',
    needs: 'data',
    body: part.connection,
    gives: found.extend({ changes: z.array(part.sourceChange) }),
  },
  'POST /connections/:name/refresh': {
    does: 'Looks again what a source holds. With “keep=false” only says what would change.',
    needs: 'data',
    query: z.object({ keep: z.string().max(10).optional() }),
    gives: z.object({ changes: z.array(part.sourceChange), users: z.array(part.fieldUser) }),
  },
  'DELETE /connections/:name': { does: 'Removes a connection.', needs: 'data', gives: 'nothing', status: 204 },
  'POST /uploads': {
    does: 'Takes a file, as the bytes of the request, for a connection that is saved within the hour.',
    needs: 'data',
    gives: z.object({ id: z.string() }),
    status: 201,
  },

  'GET /embedding': {
    does: 'What the host registered, what is missing, and the last errors of its log.',
    needs: 'develop',
    gives: part.embedding,
  },
  'POST /embedding/check': {
    does: 'Holds the models against their databases now; empty when everything fits.',
    needs: 'develop',
    gives: z.array(part.finding),
  },
  'POST /embedding/token': {
    does: 'A token to try the elements with, for five minutes: for the caller, with some of their own rights, and never “develop”.',
    needs: 'develop',
    body: z.strictObject({ rights: z.array(z.enum(TRIED_RIGHTS)).max(10) }),
    gives: z.object({ token: z.string() }),
  },
} as const satisfies Record<string, CallContract>;

export type CallName = keyof typeof CONTRACT;

type Field<C extends CallName, K extends string> = (typeof CONTRACT)[C] extends { readonly [P in K]: infer T }
  ? T
  : never;

/** The names in a call's address: `id` of `GET /reports/:id`. */
export type ParamsOf<C extends string> = C extends `${string}:${infer Name}/${infer Rest}`
  ? Record<Name, string> & ParamsOf<Rest>
  : C extends `${string}:${infer Name}`
    ? Record<Name, string>
    : unknown;

/** A body as it is sent, and as the server reads it. */
export type BodySent<C extends CallName> = Field<C, 'body'> extends infer S extends z.ZodType ? z.input<S> : undefined;
export type BodyRead<C extends CallName> = Field<C, 'body'> extends infer S extends z.ZodType ? z.output<S> : undefined;
export type QueryRead<C extends CallName> =
  Field<C, 'query'> extends infer S extends z.ZodType ? z.output<S> : undefined;

/** What a call gives; undefined for those that give nothing, and for files and events. */
export type AnswerOf<C extends CallName> =
  Field<C, 'gives'> extends infer S extends z.ZodType ? z.output<S> : undefined;

export { connectionSecret } from './parts.ts';
export { RIGHTS, type Right } from './rights.ts';
