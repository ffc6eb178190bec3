import {
  type Entity,
  findEntity,
  type Level,
  type PlannedRecipe,
  type PlannedStep,
  type PlannedTable,
  type ReportPlan,
  relationAt,
  tablesOf,
} from '@gaveta/core/internal';

/** A table, or a statement written by hand, that rows come from. */
export type Base =
  | { kind: 'entity'; model: string; entity: Entity; table: PlannedTable | null }
  | { kind: 'sql'; model: string; text: string; recipe: PlannedRecipe };

/** Whether the rows after a step are at hand. */
type Stands = (step: PlannedStep) => boolean;

/** Every table that a report's own levels read, those of its queries included; nested reports are asked by themselves. */
export function* basesOf(plan: ReportPlan, stands?: Stands): Iterable<Base> {
  const seen = new Set<Entity>();
  for (const level of plan.levels) {
    for (const entity of entitiesOf(plan, level)) {
      if (seen.has(entity)) continue;
      seen.add(entity);
      const query = plan.queries.get(entity.name);
      if (query) yield* recipeBases(query, stands);
      else yield { kind: 'entity', model: plan.report.model ?? '', entity, table: null };
    }
  }
}

export function* recipeBases(recipe: PlannedRecipe, stands?: Stands): Iterable<Base> {
  for (const table of tablesOf(recipe, stands)) {
    if (table.kind === 'sql') yield { kind: 'sql', model: table.model, text: table.text, recipe };
    else yield { kind: 'entity', model: table.model, entity: table.entity, table };
  }
}

/** The entities that a level's statement reads: its own, and those that its columns lead along to. */
function* entitiesOf(plan: ReportPlan, level: Level): Iterable<Entity> {
  yield level.entity;
  for (const column of level.columns) {
    if (column.kind !== 'field') continue;
    let entity: Entity | null = level.entity;
    for (const step of column.path.slice(0, -1)) {
      const relation: Entity['relations'][number] | undefined = entity ? relationAt(entity, step) : undefined;
      entity = relation && plan.model ? findEntity(plan.model, relation.to) : null;
      if (entity) yield entity;
    }
  }
}
