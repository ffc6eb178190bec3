import { type Report, recipesTaken, type Sketch, type StoredRecipe } from '@gaveta/core/internal';
import type { Store } from '../store/store.ts';

/** Reports and recipes that use a recipe. */
export const usersOf = async (
  store: Store,
  id: string,
): Promise<{ kind: 'report' | 'recipe'; id: string; name: string }[]> => {
  const uses = (json: unknown): boolean => JSON.stringify(json).includes(`"recipe":${JSON.stringify(id)}`);
  const found: { kind: 'report' | 'recipe'; id: string; name: string }[] = [];
  for (const { stored, read, sketch } of await store.mentioning({ kind: 'recipe', value: id })) {
    if (read.ok || sketch) found.push({ kind: 'report', id: stored.id, name: stored.name });
  }
  for (const recipe of await store.data.recipes()) {
    if (recipe.id !== id && uses(recipe.steps)) found.push({ kind: 'recipe', id: recipe.id, name: recipe.name });
  }
  return found;
};

export interface FieldUser {
  kind: 'report' | 'recipe';
  id: string;
  name: string;
  field: string;
  /** Ids of a report's items and drawers that name it. */
  places: string[];
  /** The recipe by which it depends on the field without naming it; null where it names it. */
  through: string | null;
}

/** Ids of the innermost items and drawers whose settings name a field. */
const placesOf = (json: unknown, named: RegExp, id: string | null = null): string[] => {
  if (typeof json === 'string') return named.test(json) && id !== null ? [id] : [];
  if (typeof json !== 'object' || json === null) return [];
  const own = 'id' in json && typeof json.id === 'string' ? json.id : id;
  return Object.values(json).flatMap((value) => placesOf(value, named, own));
};

/** The recipes that take rows of a model, each once, also those that take them through others. */
const recipesOver = (recipes: readonly StoredRecipe[], model: string): StoredRecipe[] => {
  const found = new Set<StoredRecipe>();
  const isOver = (recipe: StoredRecipe): boolean =>
    JSON.stringify(recipe.steps).includes(`"model":${JSON.stringify(model)}`) ||
    recipesTaken(recipe.steps).some((id) => [...found].some((other) => other.id === id));
  for (let before = -1; before !== found.size; ) {
    before = found.size;
    for (const recipe of recipes) if (isOver(recipe)) found.add(recipe);
  }
  return [...found];
};

/** Reports and sketches that take rows of a model by its name, or by one of the recipes over it. */
async function* reportsOver(store: Store, model: string, recipes: readonly StoredRecipe[]) {
  const seen = new Set<string>();
  const mentions = [
    { kind: 'model' as const, value: model },
    ...recipes.map(({ id }) => ({ kind: 'recipe' as const, value: id })),
  ];
  for (const mention of mentions)
    for (const { stored, read, sketch } of await store.mentioning(mention)) {
      const definition = read.ok ? read.report : sketch;
      if (!definition || seen.has(stored.id)) continue;
      seen.add(stored.id);
      yield { id: stored.id, name: stored.name, definition };
    }
}

/** The reports and recipes that take rows of a connection's model. */
export const connectionUsers = async (
  store: Store,
  model: string,
): Promise<{ kind: 'report' | 'recipe'; id: string; name: string }[]> => {
  const recipes = recipesOver(await store.data.recipes(), model);
  const found: { kind: 'report' | 'recipe'; id: string; name: string }[] = [];
  for await (const { id, name } of reportsOver(store, model, recipes)) found.push({ kind: 'report', id, name });
  for (const { id, name } of recipes) found.push({ kind: 'recipe', id, name });
  return found;
};

/** Signs that a name in a formula or step does not stand beside. A name that came from another table stands behind that one's. */
const naming = (field: string): RegExp =>
  // Fields are named as identifiers, which have no signs that mean something in a pattern.
  new RegExp(`(?<![\\p{L}\\p{N}])${field}(?![\\p{L}\\p{N}_])`, 'u');

/** Ids of the shared recipes that a report or sketch takes rows of. */
const recipesOf = (definition: Report | Sketch): string[] => {
  if ('sketch' in definition) return recipesTaken([{ step: 'take', from: definition.from }]);
  return (definition.queries ?? []).flatMap(({ recipe, steps }) => [
    ...(recipe === undefined ? [] : [recipe]),
    ...recipesTaken(steps ?? []),
  ]);
};

/**
 * What fields that are gone or changed touch: reports and recipes over the connection's model that name them, and those that take
 * rows of such a recipe, which stops with it.
 */
export const fieldUsers = async (
  store: Store,
  model: string,
  changes: readonly { field: string | null; change: string }[],
): Promise<FieldUser[]> => {
  const names = changes.flatMap((c) => (c.field !== null && c.change !== 'added' ? [c.field] : []));
  if (names.length === 0) return [];
  const recipes = recipesOver(await store.data.recipes(), model);
  const reports: { id: string; name: string; definition: Report | Sketch }[] = [];
  for await (const report of reportsOver(store, model, recipes)) reports.push(report);
  return names.flatMap((field) => {
    const named = naming(field);
    const placesIn = (json: unknown): string[] => [...new Set(placesOf(json, named))];
    const isNamed = (json: unknown): boolean => named.test(JSON.stringify(json));
    const touched = new Map<string, StoredRecipe>();
    const found: FieldUser[] = [];
    const add = (kind: FieldUser['kind'], { id, name }: { id: string; name: string }, more: Partial<FieldUser>): void =>
      void found.push({ kind, id, name, field, places: [], through: null, ...more });
    /** The first of the recipes that they take that is touched. */
    const through = (taken: readonly string[]): string | null =>
      taken.map((id) => touched.get(id)?.name).find(Boolean) ?? null;
    for (const recipe of recipes) {
      if (!isNamed(recipe.steps)) continue;
      touched.set(recipe.id, recipe);
      add('recipe', recipe, {});
    }
    for (let before = -1; before !== touched.size; ) {
      before = touched.size;
      for (const recipe of recipes) {
        const by = through(recipesTaken(recipe.steps));
        if (touched.has(recipe.id) || by === null) continue;
        touched.set(recipe.id, recipe);
        add('recipe', recipe, { through: by });
      }
    }
    for (const { id, name, definition } of reports) {
      const by = through(recipesOf(definition));
      if (isNamed(definition)) add('report', { id, name }, { places: placesIn(definition) });
      else if (by !== null) add('report', { id, name }, { through: by });
    }
    return found;
  });
};
