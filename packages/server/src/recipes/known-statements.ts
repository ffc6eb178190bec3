import type { Session } from '../access/session.ts';
import { mentionsOf } from '../store/mentions.ts';
import type { Store } from '../store/store.ts';

const statementsIn = (json: unknown): string[] =>
  mentionsOf(json).flatMap(({ kind, value }) => (kind === 'statement' ? [value] : []));

/**
 * Whether the caller may write the statements that stand in some steps or a definition, or somebody who may has saved
 * each of them before, in a report or a shared recipe.
 */
export const mayUseStatements = async (store: Store, caller: Session, json: unknown): Promise<boolean> => {
  if (caller.rights.includes('sql')) return true;
  const asked = statementsIn(json);
  if (asked.length === 0) return true;
  const known = new Set(await store.mentioned('statement', asked));
  for (const { steps } of await store.data.recipes()) for (const statement of statementsIn(steps)) known.add(statement);
  return asked.every((statement) => known.has(statement));
};
