import {
  type AnswerOf,
  type BodyRead,
  type CallContract,
  type CallName,
  CONTRACT,
  type ParamsOf,
  type QueryRead,
  type Right,
} from '@gaveta/core/contract';
import type { z } from 'zod';
import { type CallerSession, ownerOf } from '../access/session.ts';
import { ApiError } from '../base/api-error.ts';

/** Who calls, and what they may. */
export class Caller {
  /** The person with the claims that decide on their rows: what is theirs is nobody else’s. */
  readonly owner: string;

  constructor(
    readonly session: CallerSession,
    /** Code of the host’s own, which needs no leave for single reports. */
    readonly isCode = false,
  ) {
    this.owner = ownerOf(session);
  }

  get user(): string {
    return this.session.user;
  }

  may(right: Right): boolean {
    return this.session.rights.includes(right);
  }

  /** Throws unless the caller has the right. */
  needs(right: Right): void {
    if (!this.may(right)) throw new ApiError('not-allowed', { right });
  }
}

/** JSON that is written already, as pages are. */
export class Written {
  constructor(readonly json: Uint8Array) {}
}

/** A call as a service gets it: read, and by somebody who has the right that the contract names. */
export interface Called<C extends CallName> {
  caller: Caller;
  params: ParamsOf<C>;
  query: QueryRead<C>;
  body: BodyRead<C>;
  /** Aborted when the caller goes away. */
  signal: AbortSignal;
}

/** Calls of the contract, each with what does it. */
export type Calls<C extends CallName> = {
  readonly [N in C]: (called: Called<N>) => Promise<AnswerOf<N> | Written> | AnswerOf<N> | Written;
};

/** What came with a call, unread. */
export interface Unread {
  caller: Caller;
  params: Record<string, string>;
  query: unknown;
  body: unknown;
  signal: AbortSignal;
}

export const contractOf = (name: CallName): CallContract => CONTRACT[name];

/** Throws unless the caller has the right that a call needs. */
export const checkRight = (name: CallName, caller: Caller): void => {
  const { needs, forLinks } = contractOf(name);
  // A reader by a link makes no call that was not thought of for them.
  if (caller.session.link && !forLinks) throw new ApiError('not-by-link');
  if (needs !== 'session' && needs !== 'nobody') caller.needs(needs);
};

/** Reads what came with a call by its contract, and does it. Throws ApiError. */
export const serve = async <C extends CallName>(calls: Calls<C>, name: C, unread: Unread): Promise<unknown> => {
  const { query, body } = contractOf(name);
  checkRight(name, unread.caller);
  const called = {
    ...unread,
    query: query ? readBy(query, unread.query) : undefined,
    body: body ? readBy(body, unread.body ?? {}) : undefined,
  };
  // The contract has read it: it is what the call takes.
  return calls[name](called as unknown as Called<C>);
};

/** Throws with each place that does not fit. */
export const readBy = (schema: z.ZodType, given: unknown): unknown => {
  const parsed = schema.safeParse(given);
  if (parsed.success) return parsed.data;
  throw new ApiError('wrong-body', { detail: issuesOf(parsed.error) });
};

/** Each place that does not fit, and why. */
export const issuesOf = ({ issues }: z.ZodError): string =>
  issues.map((issue) => `${issue.path.join('.') || 'body'}: ${issue.message}`).join('; ');
