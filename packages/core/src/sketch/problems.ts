import type { Problem } from '../problems/problem.ts';
import { planRecipe } from '../recipe/plan.ts';
import type { RecipeContext } from '../recipe/planned.ts';
import { acrossSteps, levelSteps, rowSteps } from './levels.ts';
import type { Sketch } from './schema.ts';
import { sketchRows } from './steps.ts';

/** What is wrong with a sketch over the models as they are: with its rows, each of its levels, and the end. */
export const sketchProblems = (sketch: Sketch, context: RecipeContext): Problem[] => {
  const rows = sketchRows(sketch, context);
  const queries = { ...context, queries: [...context.queries, ...rows.queries] };
  const found = new Map<string, Problem>();
  const add = (problems: readonly Problem[]): void => {
    for (const one of problems) found.set(JSON.stringify([one.code, one.data]), one);
  };
  add(rows.problems);
  const levels = [...sketch.groups.keys()].map((i) => levelSteps(sketch, rows, i + 1));
  const across = sketch.across ? [acrossSteps(sketch, rows, sketch.groups.length)] : [];
  const end = levelSteps(sketch, rows, 0);
  for (const steps of [...levels, ...across, end, ...(sketch.rows ? [rowSteps(sketch, rows).steps] : [])])
    add(planRecipe({ name: 'sketch', steps: [...rows.steps, ...steps] }, queries).problems);
  return [...found.values()];
};
