import {
  drawerEntities,
  type Entity,
  findEntity,
  type Model,
  type PlanContext,
  type Report,
  reportModel,
} from '@gaveta/core';
import { createContext, useContext, useMemo, useRef } from 'react';
import type { ModelWithOrigin, StoredRecipe } from '../api/client.ts';
import type { LiveView, ProbeBand } from '../live/use-live.ts';

/** What the designer's parts know besides the report itself. */
export interface Design {
  report: Report;
  /** What drawers take rows from: the data model with the report's queries. */
  model: Model | null;
  models: readonly ModelWithOrigin[];
  recipes: readonly StoredRecipe[];
  /** Rows of each drawer, by its id. */
  entities: ReadonlyMap<string, Entity>;
  plan: PlanContext;
  /** What the last layout found; the same object as long as it says the same. */
  live: Pick<LiveView, 'rows' | 'problems'>;
  probe: ProbeBand;
}

export const DesignContext = createContext<Design | null>(null);

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
  live: LiveView,
  probe: ProbeBand,
): Design | null => {
  const known = useMemo(() => {
    if (!report) return null;
    const { model } = reportModel(report, { models, recipe: (name) => recipes.find((r) => r.id === name) ?? null });
    const plan: PlanContext = {
      models,
      report: () => null,
      recipe: (id) => recipes.find((r) => r.id === id) ?? null,
    };
    return { report, model, models, recipes, entities: drawerEntities(report, model), plan };
  }, [report, models, recipes]);
  const rows = useSame(live.rows);
  const problems = useSame(live.problems);
  return useMemo(() => known && { ...known, live: { rows, problems }, probe }, [known, rows, problems, probe]);
};

/** The value that was there before, as long as the new one says the same: nothing is drawn anew for it. */
const useSame = <T>(value: T): T => {
  const held = useRef(value);
  if (held.current !== value && JSON.stringify(held.current) !== JSON.stringify(value)) held.current = value;
  return held.current;
};

/** The table or query by its name; null when it is gone. */
export const entityNamed = (model: Model | null, name: string): Entity | null => model && findEntity(model, name);
