import { z } from '../definition/zod.ts';
import { DATA_TYPES } from '../value/value.ts';
import type { CallContract } from './call.ts';
import * as part from './parts.ts';

const found = z.object({ tables: z.array(part.foundTable) });

/** Recipes, choices and connections. */
export const DATA_CALLS = {
  'GET /recipes': {
    does: 'The shared recipes that the caller sees.',
    needs: 'design',
    gives: z.array(part.storedRecipe),
  },
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
    body: part.changedRecipe.extend({ base: part.revisionNumber }),
    gives: part.storedRecipe,
  },
  'DELETE /recipes/:id': {
    does: 'Deletes a recipe that nothing takes rows from; it can be restored for 30 days.',
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
      /** Only those with these values: which of them are offered for the values of the other parameters. */
      among: z.array(z.string().max(200)).max(1000).optional(),
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
  'POST /connections/:name/rename': {
    does: 'Lets fields that are gone go on under their names, over columns that are called otherwise now.',
    needs: 'data',
    body: z.strictObject({
      renamed: z
        .array(z.strictObject({ table: z.string().max(500), field: z.string().max(80), column: z.string().max(80) }))
        .min(1)
        .max(500),
    }),
    gives: z.object({ changes: z.array(part.sourceChange) }),
  },
  'GET /connections/:name/users': {
    does: 'The reports and recipes that take rows of a connection, also through recipes.',
    needs: 'data',
    gives: z.array(part.user),
  },
  'DELETE /connections/:name': { does: 'Removes a connection.', needs: 'data', gives: 'nothing', status: 204 },
  'POST /uploads': {
    does: 'Takes a file, as the bytes of the request, for a connection that is saved within the hour.',
    needs: 'data',
    gives: z.object({ id: z.string() }),
    status: 201,
  },
} as const satisfies Record<string, CallContract>;
