import type { Step } from '../definition/recipe.ts';
import { problem } from '../problems/problem.ts';
import type { Operation, PlannedRecipe, PlannedStep, RecipeContext } from './planned.ts';
import { type NamedSteps, StepPlanning } from './planning.ts';
import { stepRoom } from './steps.ts';
import { lackOf } from './unfinished.ts';

/** Plans the steps of a recipe. Never fails: what is wrong stands at its step, which is then passed over. */
export const planRecipe = (recipe: NamedSteps, context: RecipeContext, around: readonly string[] = []): PlannedRecipe =>
  planWith(recipe, context, around, { count: 0 });

/** `taken`: recipes taken by the outermost one, and by those inside it. */
const planWith = (
  recipe: NamedSteps,
  context: RecipeContext,
  around: readonly string[],
  taken: { count: number },
): PlannedRecipe => {
  const planning = new StepPlanning(context, around, taken, (found, outer) => planWith(found, context, outer, taken));
  const { name, label = name } = recipe;
  const steps = recipe.steps.map((step, i): PlannedStep => {
    planning.found = [];
    const { fields, key, isOrdered, relations } = planning;
    const operation = step.off ? null : planStep(name, step, i, planning);
    const problems = planning.found.map((p) => ({ ...p, place: { path: `steps/${i}`, ...p.place } }));
    if (!operation) Object.assign(planning, { fields, key, isOrdered, relations });
    return { step, fields: planning.fields, problems, operation };
  });
  const problems = steps.flatMap((p) => p.problems);
  const first = steps.find((p) => p.operation);
  if (!(first && stepRoom(first.step).begins) && problems.length === 0)
    problems.unshift(problem('recipe-empty', { path: 'steps/0' }, { name }));
  const { fields, key, isOrdered, relations } = planning;
  return { name, label, steps, fields, key, isOrdered, relations, problems };
};

const planStep = (name: string, step: Step, at: number, planning: StepPlanning): Operation | null => {
  const { plan, begins = false } = stepRoom(step);
  const lack = lackOf(step);
  if (lack) return planning.wrong('recipe-step-unfinished', { part: lack });
  const isFirst = planning.fields.length === 0;
  if (begins && !isFirst) return planning.wrong('recipe-take-first');
  // What is missing is said once, at the first step.
  if (!begins && isFirst) return at === 0 ? planning.wrong('recipe-empty', { name }) : null;
  return plan(step, planning);
};
