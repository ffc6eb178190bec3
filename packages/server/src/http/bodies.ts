import { z } from 'zod';

/** What the store counts revisions with. */
const revision = z.number().int().min(1).max(2_147_483_647);

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
  base: revision,
  note: z.string().max(500).default(''),
});
export const draftBody = z.strictObject({
  definition,
  report: z.string().min(1).max(120).nullable(),
  /** 0 for a report that is new. */
  base: revision.or(z.literal(0)),
});
export const presenceBody = z.strictObject({ window: z.string().min(1).max(80), leaving: z.boolean().default(false) });
export const checkBody = z.strictObject({ definition });
export const designBody = z.strictObject({ definition, parameters, id: z.string().max(120).optional() });
/** The run goes on when nobody follows it or asks for it. */
const keep = z.boolean().default(false);
export const runBody = z.union([
  z.strictObject({ report: z.string().min(1).max(120), parameters, credentials, keep }),
  z.strictObject({ definition, parameters, credentials, keep }),
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
