import { type FunctionTable, type Model, type PlanContext, type Report, reportModel } from '@gaveta/core/internal';
import type { ModelWithOrigin, StoredRecipe } from '../../api/client.ts';

/** Kept by the designer for hands and commands, which run outside of components. */
let known: { models: readonly ModelWithOrigin[]; recipes: readonly StoredRecipe[]; functions: FunctionTable } = {
  models: [],
  recipes: [],
  functions: {},
};

export const knowModels = (
  models: readonly ModelWithOrigin[],
  recipes: readonly StoredRecipe[],
  functions: FunctionTable,
): void => {
  known = { models, recipes, functions };
};

/** What planning needs to know outside of components; nested reports are not among it. */
export const currentPlan = (): PlanContext => ({
  models: known.models,
  report: () => null,
  recipe: (id) => known.recipes.find((r) => r.id === id) ?? null,
  functions: known.functions,
});

export const currentModel = (report: Report): Model | null =>
  reportModel(report, {
    models: known.models,
    recipe: (name) => known.recipes.find((r) => r.id === name) ?? null,
  }).model;
