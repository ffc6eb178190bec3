import { inflateSync } from 'node:zlib';
import type { AnswerOf } from '@gaveta/core/contract';
import { ApiError } from '../base/api-error.ts';
import { type Caller, type Calls, Written } from '../services/call.ts';
import type { Gate } from '../services/gate.ts';
import type { KeptResult } from '../store/kept-result-store.ts';
import type { Store } from '../store/store.ts';

type KeptCall = 'GET /kept' | 'GET /kept/:id' | 'GET /kept/:id/pages' | 'DELETE /kept/:id';
type Sent = AnswerOf<'GET /kept'>[number];

/** Pages that are given at once. */
const MOST_PAGES = 20;

/** A result that somebody may see. Throws as if it were not there. */
export const keptOf = async (store: Store, gate: Gate, caller: Caller, id: string): Promise<KeptResult> => {
  const result = await store.keptResults.get(gate.viewer(caller), id);
  if (!result) throw new ApiError('unknown-kept', { id });
  return result;
};

/** Results that stay as they were. */
export const keptService = (store: Store, gate: Gate): Calls<KeptCall> => {
  const sent = async (caller: Caller, result: KeptResult): Promise<Sent> => {
    const { id, delivery, report, name, owner, madeAt, pages, rows, values } = result;
    const mayRemove = caller.isCode || owner === caller.user;
    const files = await store.keptResults.fileFacts(id);
    return { id, delivery, report, name, owner, madeAt, pages, rows, values, files, may: mayRemove ? 'remove' : 'see' };
  };
  return {
    'GET /kept': async ({ caller, query }) => {
      const results = await store.keptResults.list(gate.viewer(caller), query);
      return Promise.all(results.map((result) => sent(caller, result)));
    },
    'GET /kept/:id': async ({ caller, params: { id } }) => {
      const result = await keptOf(store, gate, caller, id);
      const { state, headings } = result.run;
      return { ...(await sent(caller, result)), run: state, headings };
    },
    'GET /kept/:id/pages': async ({ caller, params: { id }, query: { from, count } }) => {
      await keptOf(store, gate, caller, id);
      const first = Math.max(1, from);
      const last = first + Math.min(MOST_PAGES, Math.max(1, count)) - 1;
      const pages: string[] = [];
      for (let at = first; at <= last; ) {
        const packed = await store.keptResults.pages(id, at);
        if (!packed) break;
        const some = JSON.parse(inflateSync(packed.bytes).toString('utf8')) as unknown[];
        const wanted = some.slice(at - packed.first, last - packed.first + 1);
        if (wanted.length === 0) break;
        pages.push(...wanted.map((page) => JSON.stringify(page)));
        at += wanted.length;
      }
      return new Written(Buffer.from(`[${pages.join(',')}]`));
    },
    'DELETE /kept/:id': async ({ caller, params: { id } }) => {
      const result = await keptOf(store, gate, caller, id);
      if ((await sent(caller, result)).may !== 'remove') throw new ApiError('not-allowed', { right: 'manage' });
      await store.keptResults.remove(id);
      return undefined;
    },
  };
};
