import type { PlannedRecipe, ReportPlan } from '@gaveta/core/internal';

/** Steps that go by every column there is, whether it is named or not. */
const goesByAll = (recipe: PlannedRecipe): boolean =>
  recipe.steps.some(({ step, operation }) => {
    if (!operation) return false;
    if (step.step === 'spread' || step.step === 'stack' || (step.step === 'distinct' && !step.by)) return true;
    return 'source' in operation && operation.source.kind === 'recipe' && goesByAll(operation.source.recipe);
  });

/** What the steps of a recipe name: in words of their own, by the pairs of a relation, and as what tells rows apart. */
const stepsIn = (recipe: PlannedRecipe): unknown[] =>
  recipe.steps.flatMap(({ step, operation }) => [
    step,
    recipe.key,
    operation && 'on' in operation ? operation.on : null,
    ...(operation && 'source' in operation && operation.source.kind === 'recipe'
      ? stepsIn(operation.source.recipe)
      : operation && 'source' in operation && operation.source.kind === 'table'
        ? [operation.source.entity.key]
        : []),
  ]);

/**
 * Tells of a field by its name whether nothing in a run can need it: it is named nowhere in the reports, their queries and the
 * relations of their models. Fields of the same name are taken for one another, so that one too many counts as needed.
 */
export const unusedIn = (plans: readonly ReportPlan[]): ((name: string) => boolean) => {
  const queries = plans.flatMap((plan) => [...plan.queries.values()]);
  if (queries.some(goesByAll)) return () => false;
  const entities = plans.flatMap((plan) => plan.model?.entities ?? []);
  const keys = entities.flatMap(({ key, relations }) => [
    key,
    ...relations.flatMap(({ on }) => on.flatMap(({ here, there }) => [here, there])),
  ]);
  const text = JSON.stringify([plans.map(({ report }) => report), queries.flatMap(stepsIn), keys]);
  const known = new Map<string, boolean>();
  return (name) => {
    let isUnused = known.get(name);
    if (isUnused === undefined) {
      // Fields are named as identifiers, which have no signs that mean something in a pattern.
      isUnused = !new RegExp(`(?<![\\p{L}\\p{N}_])${name}(?![\\p{L}\\p{N}_])`, 'u').test(text);
      known.set(name, isUnused);
    }
    return isUnused;
  };
};
