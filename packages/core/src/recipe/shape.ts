import type { Query, Recipe } from '../definition/recipe.ts';
import type { Field, Relation } from '../model/model.ts';
import type {
  BroughtColumn,
  PlannedRecipe,
  PlannedSource,
  PlannedStep,
  PlannedTable,
  RecipeContext,
} from './planned.ts';

/** What a source gives: its columns, what tells its rows apart, and where they lead. */
export interface Shape {
  fields: readonly Field[];
  key: string | null;
  relations: Relation[];
}

/** The relations of a table, with the model in which they lead on. */
export const shapeOf = (source: PlannedSource): Shape => {
  if (source.kind === 'recipe') return source.recipe;
  const { fields, key, relations } = source.entity;
  return { fields, key, relations: relations.map((r) => ({ ...r, model: r.model ?? source.model })) };
};

export const labelOf = (source: PlannedSource): string =>
  source.kind === 'table' ? source.entity.label : source.recipe.label;

/** A relation of rows that were brought in, from the names that their fields have now. */
export const renamed = (relation: Relation, as: string, columns: readonly BroughtColumn[]): Relation[] => {
  const on = relation.on.flatMap(({ here, there }) => {
    const column = columns.find((c) => c.field === here);
    return column ? [{ here: column.name, there }] : [];
  });
  return on.length === relation.on.length ? [{ ...relation, name: `${as}_${relation.name}`, on }] : [];
};

/** The steps of a report's query: its own, or those of the shared recipe that it names. Null when that is not there. */
export const stepsOf = (query: Query, context: Pick<RecipeContext, 'recipe'>): Recipe | null => {
  if (query.recipe === undefined) return { id: query.name, name: query.label ?? query.name, steps: query.steps ?? [] };
  const shared = context.recipe(query.recipe);
  return shared && { ...shared, name: query.label ?? shared.name };
};

/**
 * Every table that a recipe's rows come from, those of the recipes it takes included. `stands`: whether the rows after a
 * step are at hand, so that no table is needed for them.
 */
export function* tablesOf(
  recipe: PlannedRecipe,
  stands: (step: PlannedStep) => boolean = () => false,
): Iterable<PlannedTable | { kind: 'sql'; model: string; text: string; fields: Field[] }> {
  for (const { operation, fields } of recipe.steps.slice(recipe.steps.findLastIndex(stands) + 1)) {
    if (!operation) continue;
    if (operation.kind === 'sql') yield { kind: 'sql', model: operation.model, text: operation.text, fields };
    if (!('source' in operation)) continue;
    if (operation.source.kind === 'table') yield operation.source;
    else yield* tablesOf(operation.source.recipe, stands);
  }
}

/** Whether rows come from a statement that somebody wrote, of the recipe itself or of one that it takes. */
export const isWritten = (recipe: PlannedRecipe): boolean => [...tablesOf(recipe)].some(({ kind }) => kind === 'sql');
