import { ApiError } from '../base/api-error.ts';
import type { Store } from '../store/store.ts';
import type { Calls } from './call.ts';
import type { Gate } from './gate.ts';

type ValueSetCalls =
  | 'GET /reports/:id/value-sets'
  | 'POST /reports/:id/value-sets'
  | 'DELETE /reports/:id/value-sets/:set';

/** Sets that somebody may have of one report. */
const MOST_SETS = 100;

/** Values of parameters that readers keep under a name, for themselves or for everybody who may run the report. */
export const valueSetService = (store: Store, gate: Gate): Calls<ValueSetCalls> => ({
  'GET /reports/:id/value-sets': async ({ caller, params: { id } }) => {
    await gate.checkId(caller, 'run', id);
    return store.valueSets.list(id, caller.owner);
  },
  'POST /reports/:id/value-sets': async ({ caller, params: { id }, body: { name, values, shared } }) => {
    // Everybody reads its name and values, so that those share one who may change the report itself.
    if (shared) caller.needs('design');
    await gate.checkId(caller, shared ? 'change' : 'run', id);
    const { owner, user: by } = caller;
    const own = await store.valueSets.list(id, owner);
    const isNew = !own.some((one) => one.isOwn && one.name === name);
    if (isNew && (await store.valueSets.count(id, owner)) >= MOST_SETS)
      throw new ApiError('too-many-value-sets', { limit: MOST_SETS });
    return store.valueSets.put(id, owner, { name, values, isShared: shared, by });
  },
  'DELETE /reports/:id/value-sets/:set': async ({ caller, params: { id, set } }) => {
    await gate.checkId(caller, 'run', id);
    await store.valueSets.remove(id, caller.owner, set, caller.may('design'));
  },
});
