import { ApiError } from '../base/api-error.ts';
import { mayUseStatements } from '../recipes/known-statements.ts';
import type { Store } from '../store/store.ts';
import type { Caller } from './call.ts';

/** Who may send statements to databases. */
export class StatementRights {
  constructor(private readonly store: Store) {}

  /** Throws unless a caller may write the statements in some JSON, or somebody who may has saved them. */
  async check({ session }: Caller, json: unknown): Promise<void> {
    if (!(await mayUseStatements(this.store, session, json))) throw new ApiError('not-allowed', { right: 'sql' });
  }
}
