import {
  calculatedFields,
  drawerEntities,
  type Entity,
  type FunctionTable,
  findEntity,
  type Model,
  type PlanContext,
  type Report,
  reportModel,
} from '@gaveta/core/internal';
import { createContext, useContext, useMemo } from 'react';
import { useStore } from 'zustand';
import type { ModelWithOrigin, StoredRecipe } from '../../api/client.ts';
import type { Live, LiveView } from '../../live/use-live.ts';

/** What the designer's parts know besides the report itself. */
export interface Design {
  report: Report;
  /** What drawers take rows from: the data model with the report's queries. */
  model: Model | null;
  models: readonly ModelWithOrigin[];
  recipes: readonly StoredRecipe[];
  /** Rows of each drawer, by its id, with its calculated fields. */
  entities: ReadonlyMap<string, Entity>;
  plan: PlanContext;
  live: Live;
}

export const DesignContext = createContext<Design | null>(null);

/** Apart from the rest, which changes at each edit. */
export const LiveContext = createContext<Live | null>(null);

export const useDesign = (): Design => {
  const design = useContext(DesignContext);
  if (!design) throw new Error('outside the designer');
  return design;
};

/** Everything about the report that does not change while it is only looked at. */
export const useDesignOf = (
  report: Report | null,
  models: readonly ModelWithOrigin[],
  recipes: readonly StoredRecipe[],
  functions: FunctionTable,
  live: Live,
): Design | null => {
  const nested = useStore(live.view, (view) => view.nested);
  // The same object as long as what it is made from is, so that not all that speaks of tables is drawn anew at each edit.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the parts of the report that decide on it
  const model = useMemo(
    () => report && reportModel(report, { models, recipe: (name) => recipes.find((r) => r.id === name) ?? null }).model,
    [report?.name, report?.model, report?.queries, report?.relations, report?.parameters, models, recipes],
  );
  const known = useMemo(() => {
    if (!report) return null;
    const plan: PlanContext = {
      models,
      report: (id) => nested[id] ?? null,
      recipe: (id) => recipes.find((r) => r.id === id) ?? null,
      functions,
    };
    const entities = drawerEntities(report, model);
    for (const [id, fields] of calculatedFields(report, plan)) {
      const entity = entities.get(id);
      if (entity) entities.set(id, { ...entity, fields: [...entity.fields, ...fields] });
    }
    return { report, model, models, recipes, entities, plan };
  }, [report, model, models, recipes, functions, nested]);
  return useMemo(() => known && { ...known, live }, [known, live]);
};

/** A part of what the last layout found; what it gives must stay the same object as long as it says the same. */
export const useLiveView = <T>(part: (view: LiveView) => T): T => {
  const live = useContext(LiveContext);
  if (!live) throw new Error('outside the designer');
  return useStore(live.view, part);
};

/** The table or query by its name; null when it is gone. */
export const entityNamed = (model: Model | null, name: string): Entity | null => model && findEntity(model, name);
