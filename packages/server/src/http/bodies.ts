import { z } from 'zod';

const single = z.union([z.string().max(20_000), z.number(), z.boolean()]);

/** Values by parameter name. */
export const parameterValues = z
  .record(z.string().max(80), z.union([single, z.null(), z.array(z.union([z.string(), z.number()])).max(1000)]))
  .default({});
const parameters = parameterValues;

/** Who runs it, to connections that ask for that; kept nowhere. */
const credentials = z
  .record(z.string().max(80), z.strictObject({ user: z.string().max(200), password: z.string().max(2000) }))
  .default({});
/** Checked by core, which gives problems by place. */
const definition = z.record(z.string(), z.unknown());

export const createBody = z.strictObject({ definition });
export const saveBody = z.strictObject({
  definition,
  /** The revision that the changes were made to. */
  base: z.number().int().min(1),
  note: z.string().max(500).default(''),
});
export const draftBody = z.strictObject({
  definition,
  report: z.string().min(1).max(120).nullable(),
  base: z.number().int().min(0),
});
export const presenceBody = z.strictObject({ window: z.string().min(1).max(80), leaving: z.boolean().default(false) });
export const checkBody = z.strictObject({ definition });
export const designBody = z.strictObject({ definition, parameters, id: z.string().max(120).optional() });
export const runBody = z.union([
  z.strictObject({ report: z.string().min(1).max(120), parameters, credentials }),
  z.strictObject({ definition, parameters, credentials }),
]);

/** Bodies by call, as the API's description lists them. */
export const BODIES = {
  'POST /reports': createBody,
  'PUT /reports/:id': saveBody,
  'PUT /drafts/:key': draftBody,
  'POST /reports/:id/presence': presenceBody,
  'POST /check': checkBody,
  'POST /design-rows': designBody,
  'POST /runs': runBody,
} as const;
