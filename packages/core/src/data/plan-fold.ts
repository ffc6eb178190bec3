import type { Fold } from '../definition/schema.ts';
import { type ProblemPlace, problem } from '../problems/problem.ts';
import type { PlannedFold } from './planned.ts';
import type { Planner } from './planner.ts';
import type { Standing } from './standing.ts';

/**
 * `standing`: where its sign stands; null when no band can have it, so that it stays open. `name`: of what is folded, for a
 * problem with it.
 */
export const planFold = (
  planner: Planner,
  fold: Fold | undefined,
  standing: Standing | null,
  place: ProblemPlace,
  name: string,
): PlannedFold | null => {
  if (!fold) return null;
  if (!standing) {
    planner.found(problem('fold-without-heading', place, { name }, 'warning'));
    return null;
  }
  const at = { ...place, path: `${place.path}/closedIf` };
  return { fold, closedIf: planner.condition(fold.closedIf, standing, at, 'closed-if') };
};
