import type { z } from '../definition/zod.ts';
import { APPLICATION_CALLS } from './application-calls.ts';
import type { CallContract } from './call.ts';
import { DATA_CALLS } from './data-calls.ts';
import { DELIVERY_CALLS } from './delivery-calls.ts';
import { EMBEDDING_CALLS } from './embedding-calls.ts';
import { LIBRARY_CALLS } from './library-calls.ts';
import { REPORT_CALLS } from './report-calls.ts';
import { RUN_CALLS } from './run-calls.ts';
import { SKETCH_CALLS } from './sketch-calls.ts';

/** Every call of the API; the server, the client and the API’s description are made from it. */
export const CONTRACT = {
  ...APPLICATION_CALLS,
  ...REPORT_CALLS,
  ...LIBRARY_CALLS,
  ...RUN_CALLS,
  ...DATA_CALLS,
  ...SKETCH_CALLS,
  ...DELIVERY_CALLS,
  ...EMBEDDING_CALLS,
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

export type { CallContract } from './call.ts';
export * from './delivery-states.ts';
export * from './file-names.ts';
export * from './library-files.ts';
export { connectionSecret } from './parts.ts';
export {
  ACCESS_LEVELS,
  ACTS,
  type AccessLevel,
  type Act,
  LIBRARY_KINDS,
  type LibraryKind,
  PUBLISHINGS,
  type Publishing,
  RIGHTS,
  type Right,
} from './rights.ts';
