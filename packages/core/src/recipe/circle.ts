import type { Recipe, Step } from '../definition/recipe.ts';

/** Ids of the shared recipes that steps take rows from. */
export const recipesTaken = (steps: readonly Step[]): string[] =>
  steps.flatMap((step) => ('from' in step && step.from && 'recipe' in step.from ? [step.from.recipe] : []));

/**
 * The names of the recipes through which steps of a recipe would take rows from itself, from the first one they take to the recipe
 * again; null where they do not.
 */
export const circleThrough = (
  id: string,
  name: string,
  steps: readonly Step[],
  recipe: (id: string) => Recipe | null,
): string[] | null => {
  const seen = new Set<string>();
  const look = (taken: readonly Step[]): string[] | null => {
    for (const next of recipesTaken(taken)) {
      if (next === id) return [name];
      if (seen.has(next)) continue;
      seen.add(next);
      const found = recipe(next);
      const path = found && look(found.steps);
      if (path) return [found.name, ...path];
    }
    return null;
  };
  return look(steps);
};
