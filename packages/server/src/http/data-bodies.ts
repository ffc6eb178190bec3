import {
  connectionSettingsSchema,
  isLanguage,
  isTimeZone,
  parameterSchema,
  querySchema,
  stepsSchema,
} from '@gaveta/core';
import { z } from 'zod';
import { secretSchema } from '../sources/stored.ts';
import { parameterValues } from './bodies.ts';

const name = z
  .string()
  .min(1)
  .max(60)
  .regex(/^[\p{L}_][\p{L}\p{N}_]*$/u, 'a name of letters, digits and _');

const recipe = {
  steps: stepsSchema,
  parameters: z.array(parameterSchema).max(100).default([]),
};

export const recipeBody = z.strictObject({ name: z.string().min(1).max(200), ...recipe });
export const saveRecipeBody = recipeBody.extend({ base: z.number().int().min(1).max(2_147_483_647) });

/** Steps being looked at. `values`: of their parameters. */
const looked = {
  ...recipe,
  queries: z.array(querySchema).max(100).default([]),
  values: parameterValues,
  language: z.string().max(35).refine(isLanguage, 'a language tag such as en or pt-PT').default('en'),
  timeZone: z.string().max(60).refine(isTimeZone, 'a time zone such as Europe/Lisbon').default('UTC'),
};
export const previewBody = z.strictObject({ ...looked, rows: z.number().int().min(1).max(1000).default(200) });
export const countBody = z.strictObject(looked);
export const valuesBody = z.strictObject({
  ...looked,
  field: z.string().min(1).max(80),
  search: z.string().max(200).default(''),
});
export const fitBody = z.strictObject({
  ...looked,
  there: stepsSchema,
  on: z
    .array(z.strictObject({ here: z.string().max(80), there: z.string().max(80) }))
    .min(1)
    .max(20),
});

export const describeBody = z.strictObject({
  model: z.string().max(80),
  text: z.string().max(50_000),
  parameters: recipe.parameters,
  values: parameterValues,
});

export const choicesBody = z.strictObject({
  report: z.string().max(120).optional(),
  definition: z.record(z.string(), z.unknown()).optional(),
  parameter: z.string().max(80),
  values: parameterValues,
  search: z.string().max(200).default(''),
});

export const connectionBody = z.strictObject({
  name,
  label: z.string().min(1).max(200),
  settings: connectionSettingsSchema,
  /** Left out: the secret stays as it is. */
  secret: secretSchema.optional(),
  /** Id of an uploaded file; left out: the file stays as it is. */
  upload: z.string().max(80).optional(),
});
