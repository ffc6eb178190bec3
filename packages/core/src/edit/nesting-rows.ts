import type { PlanContext } from '../data/planned.ts';
import { reportModel } from '../data/report-model.ts';
import type { Report } from '../definition/schema.ts';
import { type BandAddress, findDrawer } from '../definition/walk.ts';
import { parseFormula } from '../formula/parse.ts';
import { writtenName } from '../formula/tokens.ts';
import { type Tree, treeNodes } from '../formula/tree.ts';
import { type Entity, findEntity, type Model, type Relation } from '../model/model.ts';
import { drawerEntities } from './drawers.ts';

/** What a nested report can show in a band without a query of its own. */
export interface NestingRows {
  /** Relations from the row of the band to the rows that the nested report shows. */
  relations: Relation[];
  /** The nested report shows rows of the same kind as that of the band. */
  sharesRow: boolean;
}

const NOTHING: NestingRows = { relations: [], sharesRow: false };

/** The drawers around a band whose rows are current there, innermost first, with the entities of their rows. */
const rowsAround = (report: Report, address: BandAddress, model: Model): { name: string; entity: Entity }[] => {
  if (address.drawer === null) return [];
  const sees = address.group !== undefined || address.band === 'detail' || address.band === 'detailFooter';
  const found: { name: string; entity: Entity }[] = [];
  const entities = drawerEntities(report, model);
  for (let at = findDrawer(report, address.drawer); at; at = at.parent && findDrawer(report, at.parent.id)) {
    const entity = entities.get(at.drawer.id);
    if (entity && (sees || at.drawer.id !== address.drawer)) found.push({ name: at.drawer.name, entity });
  }
  return found;
};

/** The rows of the band around that a nested report can show. */
export const nestingRows = (report: Report, address: BandAddress, inner: Report, context: PlanContext): NestingRows => {
  const { model } = reportModel(report, context);
  const { rows } = inner.body[0] ?? {};
  const hasRow =
    address.drawer !== null &&
    address.group === undefined &&
    (address.band === 'detail' || address.band === 'detailFooter');
  if (!model || !rows || !('entity' in rows) || inner.model !== report.model || !hasRow) return NOTHING;
  const entity = rowsAround(report, address, model)[0]?.entity;
  if (!entity) return NOTHING;
  return {
    relations: entity.relations.filter((r) => r.to === rows.entity),
    sharesRow: entity.name === rows.entity,
  };
};

/**
 * Links by key: parameters by which a nested report chooses its rows, each with the field around the band that holds the key
 * which it is compared with. `hut_id = house` inside is linked to `id` where the row around is the hut, to `hut_id` where it has one.
 */
export const keyLinks = (
  report: Report,
  address: BandAddress,
  inner: Report,
  context: PlanContext,
): Record<string, string> => {
  const { model } = reportModel(report, context);
  const { rows, filter } = inner.body[0] ?? {};
  const start = model && rows && 'entity' in rows && inner.model === report.model && findEntity(model, rows.entity);
  const parsed = filter ? parseFormula(filter) : null;
  if (!start || !parsed?.ok) return {};
  const links: Record<string, string> = {};
  for (const [a, b] of comparedNames(parsed.tree)) {
    for (const [field, parameter] of [
      [a, b],
      [b, a],
    ] as const) {
      const name = parameter.length === 2 && parameter[0] === 'parameters' ? parameter[1]! : parameter.join('.');
      const asked = inner.parameters.find((p) => p.name === name && !p.fromHost);
      const keyOf = asked && keyedBy(model, start, field);
      const link = keyOf && fieldWith(report, address, model, keyOf);
      if (link) links[name] = link;
    }
  }
  return links;
};

/** Pairs of names that a condition compares for being equal. */
function* comparedNames(tree: Tree): Iterable<readonly [string[], string[]]> {
  for (const node of treeNodes(tree)) {
    const isEqual = node.kind === 'binary' && node.operator === '=';
    const isWithin = node.kind === 'call' && (node.name === 'WITHIN' || node.name === 'ONEOF');
    const [left, right] = isEqual ? [node.left, node.right] : isWithin ? node.arguments : [];
    if (left?.kind === 'name' && right?.kind === 'name') yield [left.parts, right.parts];
  }
}

/** The entity whose key a field holds, reached from an entity's row; null when it holds none. */
const keyedBy = (model: Model, start: Entity, path: readonly string[]): Entity | null => {
  let at: Entity | null = start;
  for (const name of path.slice(0, -1)) {
    const relation: Relation | undefined = at?.relations.find((r) => r.name === name && r.kind === 'one');
    at = relation ? findEntity(model, relation.to) : null;
  }
  const field = path.at(-1);
  if (!at || field === undefined) return null;
  if (at.key === field) return at;
  for (const { kind, to, on } of at.relations) {
    const target = findEntity(model, to);
    if (kind === 'one' && on.length === 1 && on[0]!.here === field && on[0]!.there === target?.key) return target;
  }
  return null;
};

/** A formula for the key of an entity's row, where a row around a band is one or leads to one; null where none does. */
const fieldWith = (report: Report, address: BandAddress, model: Model, wanted: Entity): string | null => {
  const isShown = (entity: Entity, name: string): boolean =>
    entity.fields.some((field) => field.name === name && !field.hidden);
  for (const [i, { name, entity }] of rowsAround(report, address, model).entries()) {
    const written = (...path: string[]): string => (i === 0 ? path : [name, ...path]).map(writtenName).join('.');
    if (entity.name === wanted.name && isShown(entity, entity.key)) return written(entity.key);
    for (const relation of entity.relations.filter(({ kind, to }) => kind === 'one' && to === wanted.name)) {
      const [pair] = relation.on;
      if (relation.on.length === 1 && pair!.there === wanted.key && isShown(entity, pair!.here))
        return written(pair!.here);
      if (isShown(wanted, wanted.key)) return written(relation.name, wanted.key);
    }
  }
  return null;
};

/**
 * What a report that is nested in a band shows there at first: linked by key where it chooses its rows by one, otherwise the rows that a
 * relation leads to, or the row itself; its own where none of these can be.
 */
export const nestedAtFirst = (
  report: Report,
  address: BandAddress,
  inner: Report,
  context: PlanContext,
): { links: Record<string, string>; rows: { relation: string } | 'current' | null } => {
  const links = keyLinks(report, address, inner, context);
  if (Object.keys(links).length > 0) return { links, rows: null };
  const { relations, sharesRow } = nestingRows(report, address, inner, context);
  const [first] = relations;
  return { links, rows: first ? { relation: first.name } : sharesRow ? 'current' : null };
};
