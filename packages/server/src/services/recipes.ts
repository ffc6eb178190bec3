import {
  circleThrough,
  type Field,
  findEntity,
  namedField,
  type PlannedRecipe,
  type Relation,
  type Step,
} from '@gaveta/core/internal';
import { ApiError } from '../base/api-error.ts';
import { usersOf } from '../recipes/users.ts';
import { entryId } from '../store/entries.ts';
import type { Calls } from './call.ts';
import { lookingOver, type RecipeParts } from './looking.ts';
import { whereNew } from './where-new.ts';

type RecipeCalls =
  | 'GET /recipes'
  | 'POST /recipes'
  | 'PUT /recipes/:id'
  | 'DELETE /recipes/:id'
  | 'GET /recipes/:id/users'
  | 'POST /recipe/rows'
  | 'POST /recipe/count'
  | 'POST /recipe/facts'
  | 'POST /recipe/values'
  | 'POST /recipe/fit';

/** Values of a field that are offered. */
const MOST_VALUES = 200;

/** Recipes, and what can be seen of rows before a report shows them. */
export const recipeService = (parts: RecipeParts): Calls<RecipeCalls> => {
  const { store, catalogue, rights, gate, book } = parts;
  const { data } = store;
  const { looking } = lookingOver(parts);

  /** Whether the pairs are those of a relation of the model, which may go by keys that are hidden. */
  const isRelation = (recipe: PlannedRecipe, there: readonly Step[], on: Relation['on']): boolean => {
    const [take] = there;
    if (there.length !== 1 || take?.step !== 'take' || !('entity' in take.from)) return false;
    const { model, entity } = take.from;
    const home = ({ model: given, to }: Relation): string | undefined =>
      given ?? [...catalogue.models.values()].find(({ model: m }) => findEntity(m, to))?.model.name;
    return recipe.relations.some(
      (r) => r.to === entity && home(r) === model && JSON.stringify(r.on) === JSON.stringify(on),
    );
  };

  return {
    'GET /recipes': async ({ caller }) => {
      const hidden = await rights.hidden(caller);
      return (await data.recipes()).filter(({ id }) => !hidden.recipes.has(id));
    },
    'POST /recipes': async ({ caller, body: { folder: asked, note, ...given } }) => {
      await rights.check(caller, given.steps);
      await gate.checkCreate(caller);
      const folder = await gate.folderFor(caller, asked ?? null);
      const made = await data.createRecipe(given, caller.user, undefined, whereNew(caller, folder, note));
      book.note(caller, 'created', { id: entryId('recipe', made.id), name: made.name });
      return made;
    },
    'PUT /recipes/:id': async ({ caller, params: { id }, body: { base, ...given } }) => {
      const entry = await gate.checkEntry(caller, 'change', 'recipe', id);
      await rights.check(caller, given.steps);
      const others = new Map((await data.recipes()).map((recipe) => [recipe.id, recipe]));
      const circle = circleThrough(id, given.name, given.steps, (other) => others.get(other) ?? null);
      if (circle) throw new ApiError('recipe-in-circle', { name: given.name, path: circle.join(' → ') });
      const saved = await data.saveRecipe(id, given, base, caller.user);
      if (saved.ok) {
        book.note(caller, 'saved', entry, { revision: saved.stored.revision });
        return saved.stored;
      }
      if (saved.reason === 'missing') throw new ApiError('unknown-recipe', { id });
      const { current } = saved;
      throw new ApiError('conflict', { author: current.changedBy, revision: current.revision }, { current });
    },
    'DELETE /recipes/:id': async ({ caller, params: { id } }) => {
      const entry = await gate.checkEntry(caller, 'delete', 'recipe', id);
      const users = await usersOf(store, id);
      if (users.length > 0) {
        const seen = await gate.visible(caller, users);
        // One that is kept from the caller is not named either.
        const names = [...seen.map((u) => u.name), ...(seen.length < users.length ? ['…'] : [])];
        throw new ApiError('recipe-in-use', { reports: names.join(', ') });
      }
      if (!(await data.removeRecipe(id))) throw new ApiError('unknown-recipe', { id });
      book.note(caller, 'deleted', entry);
      return undefined;
    },
    'GET /recipes/:id/users': async ({ caller, params: { id } }) => {
      await gate.checkEntry(caller, 'view', 'recipe', id);
      return gate.visible(caller, await usersOf(store, id));
    },

    'POST /recipe/rows': (called) =>
      looking(called, called.body, [], async (desk, recipe) => {
        return desk.rows(recipe, called.body.rows);
      }),
    'POST /recipe/count': (called) => looking(called, called.body, [], (desk, recipe) => desk.count(recipe)),
    'POST /recipe/facts': (called) => looking(called, called.body, [], (desk, recipe) => desk.facts(recipe)),
    'POST /recipe/values': (called) =>
      looking(called, called.body, [], async (desk, recipe) => {
        const { field: name, search } = called.body;
        const field = namedField(recipe.fields, name);
        const isThere = field !== null && field !== 'hidden' && field.type !== 'picture';
        return isThere ? desk.values(recipe, name, search, MOST_VALUES) : [];
      }),
    'POST /recipe/fit': (called) => {
      const { there, on } = called.body;
      return looking(called, called.body, there, async (desk, recipe, other) => {
        const isKnown =
          isRelation(recipe, there, on) ||
          on.every((pair) => isShown(recipe.fields, pair.here) && isShown(other!.fields, pair.there));
        return isKnown ? desk.fit(recipe, other!, on) : null;
      });
    },
  };
};

const isShown = (fields: readonly Field[], name: string): boolean => {
  const field = namedField(fields, name);
  return field !== null && field !== 'hidden';
};
