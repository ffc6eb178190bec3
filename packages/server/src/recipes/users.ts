import type { Store } from '../store/store.ts';

/** Reports and recipes that use a recipe. */
export const usersOf = async (
  store: Store,
  id: string,
): Promise<{ kind: 'report' | 'recipe'; id: string; name: string }[]> => {
  const uses = (json: unknown): boolean => JSON.stringify(json).includes(`"recipe":${JSON.stringify(id)}`);
  const found: { kind: 'report' | 'recipe'; id: string; name: string }[] = [];
  for (const { stored, read } of await store.mentioning({ kind: 'recipe', value: id })) {
    if (read.ok) found.push({ kind: 'report', id: stored.id, name: stored.name });
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
}

/** Ids of the innermost items and drawers whose settings name a field. */
const placesOf = (json: unknown, named: RegExp, id: string | null = null): string[] => {
  if (typeof json === 'string') return named.test(json) && id !== null ? [id] : [];
  if (typeof json !== 'object' || json === null) return [];
  const own = 'id' in json && typeof json.id === 'string' ? json.id : id;
  return Object.values(json).flatMap((value) => placesOf(value, named, own));
};

/** Where fields that are gone or changed are named: reports and recipes that take rows of the connection's model. */
export const fieldUsers = async (
  store: Store,
  model: string,
  changes: readonly { field: string | null; change: string }[],
): Promise<FieldUser[]> => {
  const names = changes.flatMap((c) => (c.field !== null && c.change !== 'added' ? [c.field] : []));
  const found: FieldUser[] = [];
  const look = (kind: FieldUser['kind'], id: string, name: string, json: unknown): void => {
    const text = JSON.stringify(json);
    if (!text.includes(`"model":${JSON.stringify(model)}`)) return;
    for (const field of names) {
      // Fields are named as identifiers, which have no signs that mean something in a pattern.
      const named = new RegExp(`(?<![\\p{L}\\p{N}_])${field}(?![\\p{L}\\p{N}_])`, 'u');
      if (named.test(text)) found.push({ kind, id, name, field, places: [...new Set(placesOf(json, named))] });
    }
  };
  for (const { stored, read } of await store.mentioning({ kind: 'model', value: model })) {
    if (read.ok) look('report', stored.id, stored.name, read.report);
  }
  for (const recipe of await store.data.recipes()) look('recipe', recipe.id, recipe.name, recipe.steps);
  return found;
};
