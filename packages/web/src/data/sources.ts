import { circleThrough, findEntity, type Query, type Relation, type Source, type StepOf } from '@gaveta/core/internal';
import type { ModelWithOrigin, StoredRecipe } from '../api/client.ts';

/** A table or recipe that rows can be taken from. */
export interface SourceChoice {
  /** Tells it apart; see {@link sourceOf}. */
  id: string;
  label: string;
  group: string;
}

export const sourceId = (source: Source): string =>
  'entity' in source
    ? `table ${source.model} ${source.entity}`
    : 'recipe' in source
      ? `recipe ${source.recipe}`
      : `query ${source.query}`;

export const sourceOf = (id: string): Source => {
  const [kind, first = '', second = ''] = id.split(' ');
  if (kind === 'query') return { query: first };
  return kind === 'table' ? { model: first, entity: second } : { recipe: id.slice('recipe '.length) };
};

/** Everything rows can be taken from; a recipe does not offer itself, nor one that takes its rows. */
export const sourceChoices = (
  models: readonly ModelWithOrigin[],
  recipes: readonly StoredRecipe[],
  recipesLabel: string,
  own: string | null,
  queries: { label: string; list: readonly Query[] } = { label: '', list: [] },
): SourceChoice[] => [
  ...models.flatMap((model) =>
    model.entities.map((entity) => ({
      id: sourceId({ model: model.name, entity: entity.name }),
      label: entity.plural,
      group: model.label,
    })),
  ),
  ...recipes
    .filter((r) => r.id !== own && (own === null || !leadsTo(own, r, recipes)))
    .map((r) => ({ id: sourceId({ recipe: r.id }), label: r.name, group: recipesLabel })),
  ...queries.list.map(({ name, label }) => ({
    id: sourceId({ query: name }),
    label: label ?? name,
    group: queries.label,
  })),
];

const leadsTo = (own: string, { steps }: StoredRecipe, recipes: readonly StoredRecipe[]): boolean =>
  circleThrough(own, '', steps, (id) => recipes.find((r) => r.id === id) ?? null) !== null;

export const sourceLabel = (
  source: Source,
  models: readonly ModelWithOrigin[],
  recipes: readonly StoredRecipe[],
): string => {
  if ('entity' in source) {
    const model = models.find((m) => m.name === source.model);
    return (model && findEntity(model, source.entity)?.plural) ?? source.entity;
  }
  if ('recipe' in source) return recipes.find((r) => r.id === source.recipe)?.name ?? source.recipe;
  return source.query;
};

/** As {@link sourceLabel}; a table with the name of what it is of, where there are several. */
export const sourceWords = (
  source: Source,
  models: readonly ModelWithOrigin[],
  recipes: readonly StoredRecipe[],
): string => {
  const label = sourceLabel(source, models, recipes);
  const model = 'entity' in source && models.length > 1 ? models.find((m) => m.name === source.model) : undefined;
  return model ? `${label} · ${model.label}` : label;
};

/** The step that follows a relation: every row here stays when there is one row there, those with rows there otherwise. */
export const bringAlong = (relation: Relation): StepOf<'bring'> => ({
  step: 'bring',
  relation: relation.name,
  keep: relation.kind === 'one' ? 'here' : 'matching',
  as: relation.name,
});
