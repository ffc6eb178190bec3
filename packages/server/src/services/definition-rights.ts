import { ApiError } from '../base/api-error.ts';
import { mayUseStatements } from '../recipes/known-statements.ts';
import { entryOf } from '../store/entries.ts';
import { type Mention, mentionsOf } from '../store/mentions.ts';
import type { Store } from '../store/store.ts';
import type { Caller } from './call.ts';
import type { Gate } from './gate.ts';

/** Names of what rows are taken from that are not there for somebody. */
export interface HiddenData {
  /** Ids of recipes. */
  recipes: ReadonlySet<string>;
  /** Names of the models of connections that were made by hand. */
  models: ReadonlySet<string>;
}

const NOTHING: HiddenData = { recipes: new Set(), models: new Set() };

/** What definitions may name that people bring. */
export class DefinitionRights {
  constructor(
    private readonly store: Store,
    private readonly gate: Gate,
    /** All models, by their names. */
    private readonly models: { has(name: string): boolean },
  ) {}

  /**
   * Throws unless a caller may take rows from all that some JSON names, and write its statements. What does not exist is refused as
   * what is hidden from them, so that nobody finds out about one by the other.
   */
  async check(caller: Caller, json: unknown): Promise<void> {
    await this.checkStatements(caller, json);
    const hidden = await this.hidden(caller);
    if (hidden.recipes.size + hidden.models.size === 0) return;
    const recipes = new Set((await this.store.data.recipes()).map(({ id }) => id));
    const unseen = mentionsOf(json).filter(({ kind, value }) => {
      if (kind === 'recipe') return hidden.recipes.has(value) || !recipes.has(value);
      return kind === 'model' && (hidden.models.has(value) || !this.models.has(value));
    });
    if (unseen[0]) throw new ApiError('names-not-there', { names: unseen.map(({ value }) => value).join(', ') });
  }

  /** Throws unless a caller may write the statements in some JSON, or somebody who may has saved them. */
  async checkStatements({ session }: Caller, json: unknown): Promise<void> {
    if (!(await mayUseStatements(this.store, session, json))) throw new ApiError('not-allowed', { right: 'sql' });
  }

  /**
   * What a caller neither sees in the library, nor meets in a recipe that they see, or in what they may change: whoever may change a
   * report works with what it takes rows from.
   */
  async hidden(caller: Caller): Promise<HiddenData> {
    if (caller.isCode) return NOTHING;
    const seen = new Set((await this.gate.entries(caller)).map(({ id }) => id));
    const left = new Map<string, Mention>();
    for (const id of await this.store.library.entries()) {
      const entry = entryOf(id);
      if (!entry || seen.has(id)) continue;
      const mention: Mention = { kind: entry.kind === 'recipe' ? 'recipe' : 'model', value: entry.key };
      left.set(keyOf(mention), mention);
    }
    if (left.size === 0) return NOTHING;
    const recipes = new Map((await this.store.data.recipes()).map((recipe) => [recipe.id, recipe]));
    const meet = (met: readonly Mention[]): void => {
      const queue = [...met];
      for (let next = queue.pop(); next; next = queue.pop()) {
        left.delete(keyOf(next));
        const recipe = next.kind === 'recipe' ? recipes.get(next.value) : undefined;
        if (recipe) queue.push(...mentionsOf(recipe.steps).filter((one) => left.has(keyOf(one))));
      }
    };
    meet([...recipes.keys()].filter((id) => !left.has(keyOf({ kind: 'recipe', value: id }))).map(asRecipe));
    for (const mention of [...left.values()])
      if (left.has(keyOf(mention)) && (await this.gate.isInChangeable(caller, mention))) meet([mention]);
    const named = (kind: Mention['kind']): Set<string> =>
      new Set([...left.values()].flatMap((one) => (one.kind === kind ? [one.value] : [])));
    return { recipes: named('recipe'), models: named('model') };
  }
}

const keyOf = ({ kind, value }: Mention): string => `${kind} ${value}`;
const asRecipe = (value: string): Mention => ({ kind: 'recipe', value });
