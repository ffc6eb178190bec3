import { z } from '../definition/zod.ts';
import type { CallContract } from './call.ts';
import * as part from './parts.ts';
import { TRIED_RIGHTS } from './rights.ts';

/** For the developer of a host. */
export const EMBEDDING_CALLS = {
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
