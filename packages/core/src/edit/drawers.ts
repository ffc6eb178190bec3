import type { Band, Drawer, Report } from '../definition/schema.ts';
import { drawersOf, findDrawer } from '../definition/walk.ts';
import { type Entity, findEntity, type Model, type Relation } from '../model/model.ts';
import { isWithin } from './edit.ts';
import { freeName, freshId } from './ids.ts';

/** The entity whose rows each drawer shows, by the drawer's id. Drawers whose rows are unknown are left out. */
export const drawerEntities = (report: Report, model: Model | null): Map<string, Entity> => {
  const found = new Map<string, Entity>();
  if (!model) return found;
  for (const { drawer, parent } of drawersOf(report)) {
    const { rows } = drawer;
    if ('entity' in rows) {
      const entity = findEntity(model, rows.entity);
      if (entity) found.set(drawer.id, entity);
      continue;
    }
    const relation = parent && found.get(parent.id)?.relations.find((r) => r.name === rows.relation);
    const entity = relation && findEntity(model, relation.to);
    if (entity) found.set(drawer.id, entity);
  }
  return found;
};

const empty = (height: number): Band => ({ height, items: [] });

/** A drawer with bands and nothing in them yet, named after its entity. */
export const newDrawer = (report: Report, rows: Drawer['rows'], entity: string): Drawer => ({
  id: freshId(report, entity),
  name: freeName(entity, new Set([...drawersOf(report)].map(({ drawer }) => drawer.name))),
  rows,
  detail: empty(8),
});

/** Why a drawer cannot be nested there, or the relations that would lead to its rows. */
export type Nesting =
  | { ok: true; relations: Relation[] }
  | { ok: false; reason: 'outermost' | 'inside-itself' | 'no-relation' | 'unknown-rows' };

/** Whether `drawer` can be put inside `parent`. */
export const nestingOf = (report: Report, model: Model | null, drawer: string, parent: string): Nesting => {
  const found = findDrawer(report, drawer);
  if (!found?.parent) return { ok: false, reason: 'outermost' };
  if (isWithin(found.drawer, parent)) return { ok: false, reason: 'inside-itself' };
  const entities = drawerEntities(report, model);
  const own = entities.get(drawer);
  const outer = entities.get(parent);
  if (!own || !outer) return { ok: false, reason: 'unknown-rows' };
  const relations = outer.relations.filter((r) => r.to === own.name);
  return relations.length > 0 ? { ok: true, relations } : { ok: false, reason: 'no-relation' };
};
