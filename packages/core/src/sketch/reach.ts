import type { Source } from '../definition/recipe.ts';
import { type Field, findEntity, type Relation } from '../model/model.ts';
import { planRecipe } from '../recipe/plan.ts';
import type { RecipeContext } from '../recipe/planned.ts';

/** How many relations lie on the way to a field at most. */
const FURTHEST = 4;

/** Fields that a sketch may show, of its own rows or of others along a way of relations. */
export interface Reached {
  /** Names of the relations on the way; none for the rows themselves. */
  way: readonly string[];
  /** What the rows there are called, as the way to them says: “Hut”. */
  label: string;
  /** Several of them: “Huts”. */
  plural: string;
  /** What the rows are of which these come along: “Stay”. */
  of: string;
  /** Whether a row has many of them. They are shown by what they add up to. */
  isMany: boolean;
  /** Those that are hidden among them, as keys of relations are. */
  fields: readonly Field[];
  relations: readonly Relation[];
  /** Name of the field that tells its rows apart; null where none alone does. Its numbers are names, and add up to nothing. */
  key: string | null;
}

/**
 * Everything in reach from a source: its rows, those along relations to one row each, and right behind the rows those along relations to
 * many. No table comes twice on one way, but for one that leads to itself. Empty where the source is not there.
 */
export const reachOf = (from: Source, context: RecipeContext): Reached[] => {
  const planned = planRecipe({ name: 'sketch', steps: [{ step: 'take', from }] }, context);
  const [take] = planned.steps;
  if (take?.operation?.kind !== 'take') return [];
  const { source } = take.operation;
  const label = source.kind === 'table' ? source.entity.label : source.recipe.label;
  const plural = source.kind === 'table' ? source.entity.plural : label;
  const own = source.kind === 'table' ? [source.entity.name] : [];
  const { fields, relations, key } = planned;
  const found: Reached[] = [{ way: [], label, plural, of: '', isMany: false, fields, relations, key }];
  /** Tables on the way to each. */
  const passed = new Map<Reached, readonly string[]>([[found[0]!, own]]);
  for (const at of found) {
    if (at.isMany || at.way.length >= FURTHEST) continue;
    for (const relation of at.relations) {
      const isMany = relation.kind === 'many';
      if (isMany && at.way.length > 0) continue;
      const model = relation.model ?? ('model' in from ? from.model : undefined);
      const home = context.models.find((m) => (model === undefined ? findEntity(m, relation.to) : m.name === model));
      const entity = home && findEntity(home, relation.to);
      const before = passed.get(at)!;
      const isOwn = before.at(-1) === relation.to && before.filter((name) => name === relation.to).length < 2;
      if (!entity || (before.includes(relation.to) && !isOwn && !isMany)) continue;
      const next: Reached = {
        way: [...at.way, relation.name],
        label: relation.label,
        plural: entity.plural,
        of: at.label,
        isMany,
        fields: entity.fields,
        key: entity.key ?? null,
        relations: entity.relations.map((r) => ({ ...r, model: r.model ?? home.name })),
      };
      found.push(next);
      passed.set(next, [...before, relation.to]);
    }
  }
  return found;
};

/** The field at a path, with the rows that it is of; null where none is in reach that may be seen. */
export const reachedField = (reach: readonly Reached[], path: string): { at: Reached; field: Field } | null => {
  const parts = path.split('.');
  const way = parts.slice(0, -1);
  const at = reach.find((r) => r.way.length === way.length && r.way.every((name, i) => name === way[i]));
  const field = at?.fields.find((f) => f.name === parts.at(-1) && !f.hidden);
  return at && field ? { at, field } : null;
};
