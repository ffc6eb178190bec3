import type { Recipe } from '../definition/recipe.ts';
import type { Report } from '../definition/schema.ts';
import { type Entity, type Model, namedField, type Relation, shownFields } from '../model/model.ts';
import { phrase } from '../problems/phrases.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { didYouMean, therePhrase } from '../problems/suggest.ts';
import { planRecipe } from '../recipe/plan.ts';
import type { PlannedRecipe, RecipeContext } from '../recipe/planned.ts';
import { columnPhrase } from '../recipe/planning.ts';
import { stepsOf } from '../recipe/shape.ts';

/** Key of a query's rows where none of their fields tells them apart: their number. */
export const ROW_NUMBER = '_row';

export interface ReportModel {
  /** The report's data model with its queries as further entities; null when there is nothing to take rows from. */
  model: Model | null;
  queries: ReadonlyMap<string, PlannedRecipe>;
  problems: Problem[];
}

interface ModelContext {
  models: readonly Model[];
  recipe?: ((id: string) => Recipe | null) | undefined;
}

export const recipeContext = (report: Report, context: ModelContext): RecipeContext => ({
  models: context.models,
  recipe: context.recipe ?? (() => null),
  queries: report.queries ?? [],
  parameters: report.parameters,
});

/** What the drawers of a report may take rows from: tables of its model, its queries, and its own relations between them. */
export const reportModel = (report: Report, context: ModelContext): ReportModel => {
  const problems: Problem[] = [];
  const base = context.models.find((m) => m.name === report.model) ?? null;
  const queries = new Map<string, PlannedRecipe>();
  const entities: Entity[] = [...(base?.entities ?? [])];
  const recipes = recipeContext(report, context);
  for (const [i, query] of (report.queries ?? []).entries()) {
    const place = { path: `queries/${i}` };
    if (entities.some((e) => e.name === query.name)) {
      problems.push(problem('query-name-taken', place, { name: query.name }));
      continue;
    }
    const recipe = stepsOf(query, recipes);
    if (!recipe) {
      const hint = phrase('recipe-may-be-removed');
      problems.push(problem('recipe-unknown', place, { name: query.recipe ?? '', hint }));
      continue;
    }
    const planned = planRecipe({ ...recipe, name: query.name, label: recipe.name }, recipes, [query.name]);
    problems.push(
      ...planned.problems.map((p) => ({ ...p, place: { ...p.place, path: `${place.path}/${p.place.path}` } })),
    );
    queries.set(query.name, planned);
    entities.push(queryEntity(planned, base));
  }
  // The host's are the same in all its models.
  const currencies = (base ?? context.models[0])?.currencies;
  if (!base && queries.size === 0) return { model: null, queries, problems };
  const model: Model = {
    name: base?.name ?? 'report',
    label: base?.label ?? report.name,
    ...(currencies ? { currencies } : {}),
    entities: entities.map((entity) => ({ ...entity, relations: [...entity.relations] })),
  };
  for (const [i, relation] of (report.relations ?? []).entries()) {
    const found = ownRelation(model, relation, `relations/${i}`);
    if ('code' in found) problems.push(found);
    else {
      const entity = model.entities.find((e) => e.name === relation.from)!;
      entity.relations = [...entity.relations.filter((r) => r.name !== found.name), found];
    }
  }
  return { model, queries, problems };
};

/** A query seen as an entity: its columns, and the relations that still lead on into the report's model. */
const queryEntity = (planned: PlannedRecipe, base: Model | null): Entity => {
  const { name, label, fields } = planned;
  const key = planned.key !== null && !planned.isOrdered ? planned.key : ROW_NUMBER;
  const own = key === ROW_NUMBER ? [{ name: ROW_NUMBER, label: '', type: 'number' as const, hidden: true }] : [];
  const relations = planned.relations.filter(
    (r) => base && (r.model === undefined || r.model === base.name) && base.entities.some((e) => e.name === r.to),
  );
  return { name, label, plural: label, key, fields: [...fields, ...own], relations };
};

const ownRelation = (
  model: Model,
  { name, label, from, to, kind, on }: NonNullable<Report['relations']>[number],
  path: string,
): Relation | Problem => {
  const names = model.entities.map((e) => e.name);
  for (const end of [from, to]) {
    if (!names.includes(end)) {
      const hint = didYouMean(end, names, therePhrase(names));
      return problem('unknown-entity', { path }, { name: end, hint });
    }
  }
  const ends = [from, to].map((end) => model.entities.find((e) => e.name === end)!);
  for (const pair of on) {
    for (const [i, field] of [pair.here, pair.there].entries()) {
      const named = namedField(ends[i]!.fields, field);
      if (named === 'hidden') return problem('hidden-field', { path }, { name: field });
      if (!named) {
        const fields = shownFields(ends[i]!.fields).map((f) => f.name);
        const hint = didYouMean(
          field,
          fields,
          phrase('has-fields', { entity: ends[i]!.label, names: fields.join(', ') }),
        );
        return problem('unknown-name', { path }, { name: field, hint });
      }
    }
    const types = [pair.here, pair.there].map((field, i) => ends[i]!.fields.find((f) => f.name === field)!.type);
    if (types[0] !== types[1]) {
      const data = {
        here: pair.here,
        hereType: columnPhrase(types[0]!),
        there: pair.there,
        thereType: columnPhrase(types[1]!),
      };
      return problem('recipe-types-differ', { path }, data);
    }
  }
  return { name, label: label ?? name, to, kind, on };
};
