import type { Drawer, Group } from '../definition/schema.ts';
import { typePhrase } from '../formula/check.ts';
import type { Checked } from '../formula/checked.ts';
import { type Entity, findEntity, type Relation } from '../model/model.ts';
import { type Phrase, type PhraseCode, phrase } from '../problems/phrases.ts';
import { type Problem, type ProblemPlace, problem } from '../problems/problem.ts';
import { didYouMean, hasPhrase, therePhrase } from '../problems/suggest.ts';
import { Level, type LevelSort } from './level.ts';
import type { Planner } from './planner.ts';
import { conjuncts, joinConjuncts } from './pushable.ts';
import type { Standing } from './standing.ts';
import { hasSubreportRows } from './subreport-rows.ts';
import { totalsIn } from './total.ts';

export interface LevelTree {
  level: Level;
  inner: LevelTree[];
}

/** Makes the levels of a drawer and of those inside it; null when its rows are not to be found. */
export const levelTree = (planner: Planner, drawer: Drawer, parent: Level | null, path: string): LevelTree | null => {
  const level = levelOf(planner, drawer, parent, { path, drawer: drawer.id });
  if (!level) return null;
  const inner = (drawer.drawers ?? []).flatMap(
    (child, i) => levelTree(planner, child, level, `${path}/drawers/${i}`) ?? [],
  );
  return { level, inner };
};

/** The level of an item's own rows; `place`: the item's. */
export const itemLevel = (planner: Planner, rows: Drawer, parent: Level | null, place: ProblemPlace): Level | null => {
  const level = levelOf(planner, rows, 'relation' in rows.rows ? parent : null, place);
  if (level) planRows(planner, { level, inner: [] });
  return level;
};

/** Where a definition has its first set of rows: the one that shows rows of a report around it. */
const FIRST_SET = 'body/0';

/** `owner`: place of the drawer or item whose rows these are. */
const levelOf = (planner: Planner, drawer: Drawer, parent: Level | null, owner: ProblemPlace): Level | null => {
  const { model, levels } = planner;
  const { path = '' } = owner;
  const place: ProblemPlace = { ...owner, path: `${path}/rows` };
  if (!model) {
    if (!planner.report.model) planner.found(problem('unknown-model', place, { name: '(none)' }));
    return null;
  }
  const isShared = planner.link?.rows != null && path === FIRST_SET;
  const source = sourceOf(planner, drawer, parent, isShared, place);
  if (!source) return null;
  const { entity, relation } = source;
  const tree = drawer.rows.tree === undefined ? null : treeOf(planner, entity, drawer.rows.tree, place);
  const level = new Level(levels.length, drawer, path, entity, parent, relation, tree, owner.item ?? null);
  if (tree) {
    level.depthColumn = level.column({ kind: 'depth' });
    // The tree is made of these.
    for (const { here, there } of tree.on) {
      for (const name of [here, there]) {
        const field = entity.fields.find((f) => f.name === name);
        if (field) level.field([name], field);
      }
    }
  }
  if (isShared && planner.link?.rows === 'current') level.sharedWith = planner.link.outer;
  // Rows below a shared row hang on the outer report's level.
  if (parent?.sharedWith && relation) for (const { here } of relation.on) parent.sharedWith.linkKeys.add(here);
  if (planner.context.rowKeys && owner.item === undefined) {
    const key = entity.fields.find(({ name, hidden }) => name === entity.key && !hidden);
    if (key) level.keyColumn = level.field([key.name], key);
  }
  levels.push(level);
  return level;
};

/** The entity whose rows a drawer takes, and the relation that leads to them; `isShared`: they are those of the report around. */
const sourceOf = (
  planner: Planner,
  { rows }: Drawer,
  parent: Level | null,
  isShared: boolean,
  place: ProblemPlace,
): { entity: Entity; relation: Relation | null } | null => {
  const model = planner.model!;
  let relation: Relation | null = null;
  if ('relation' in rows) {
    relation = parent?.entity.relations.find((r) => r.name === rows.relation) ?? null;
    if (!parent || !relation) {
      const names = parent?.entity.relations.map((r) => r.name) ?? [];
      const hint = parent ? didYouMean(rows.relation, names, hasPhrase(names)) : phrase('outermost-takes-entity');
      const data = { entity: parent?.entity.name ?? phrase('the-report'), name: rows.relation, hint };
      planner.found(problem('unknown-relation', place, data));
      return null;
    }
  } else if (parent) {
    planner.malformed(place, phrase('inner-drawer-relation'), '{ "relation": … }');
    return null;
  }
  const name = relation ? relation.to : (rows as { entity: string }).entity;
  const entity = findEntity(model, name);
  if (!entity) {
    const names = model.entities.map((e) => e.name);
    planner.found(
      problem('unknown-entity', place, {
        name,
        hint: didYouMean(name, names, therePhrase(names)),
      }),
    );
    return null;
  }
  if (entity.arguments && entity.arguments.length > 0) {
    planner.malformed(
      place,
      phrase('needs-arguments', { entity: entity.label, names: entity.arguments.map((a) => a.label).join(', ') }),
      phrase('query-with-values'),
    );
    return null;
  }
  const { link } = planner;
  if (isShared && link?.rows) {
    const given = link.rows === 'current' ? link.outer?.entity.name : link.rows.relation.to;
    if (given !== entity.name) {
      planner.found(problem('shared-rows-differ', place, { given: given ?? '(none)', wanted: entity.name }));
      return null;
    }
    return { entity, relation: link.rows === 'current' ? null : link.rows.relation };
  }
  return { entity, relation };
};

const treeOf = (planner: Planner, entity: Entity, name: string, place: ProblemPlace): Relation | null => {
  const own = entity.relations.filter((r) => r.to === entity.name && r.kind === 'many');
  const tree = own.find((r) => r.name === name);
  if (tree) return tree;
  const names = own.map((r) => r.name);
  const hint = didYouMean(name, names, names.length > 0 ? hasPhrase(names) : phrase('it-has-none-to-itself'));
  planner.found(problem('unknown-relation', place, { entity: entity.name, name, hint }));
  return null;
};

/** Filters, order and groups of a drawer's rows; those inside it first, since totals of their rows may be asked for. */
export const planRows = (planner: Planner, { level, inner }: LevelTree): void => {
  for (const child of inner) planRows(planner, child);
  const { drawer, path } = level;
  /** Notes that it cannot be told which rows there are, with what was found wrong last. */
  const refuse = (): void => {
    level.refused ??= planner.problems.at(-1) ?? null;
  };
  const broken = planner.queries.get(level.entity.name)?.problems.find((p) => p.severity === 'error');
  if (broken) level.refused = broken;
  const standing: Standing = { current: level, scope: { level, kind: 'row', group: 0 }, ahead: true, decides: true };
  for (const [i, group] of (drawer.groups ?? []).entries()) {
    const isCut = group.first !== undefined || drawer.first !== undefined;
    if (!planGroup(planner, level, group, `${path}/groups/${i}`) && isCut) refuse();
  }
  // What a calculated field reads is told where it is used; by itself it is read for the names in it alone.
  if (planner.context.onName) {
    const row: Standing = { current: level, scope: { level, kind: 'row', group: 0 }, ahead: true };
    for (const [i, { formula }] of (drawer.calculated ?? []).entries())
      planner.tryCheck(formula, row, { path: `${path}/calculated/${i}` });
  }
  if (!planFilter(planner, level, standing)) refuse();
  for (const [i, sort] of (drawer.sort ?? []).entries()) {
    const formula = planner.check(sort.by, standing, level.place(`sort/${i}`));
    if (!formula) {
      // Which rows are the first ones depends on it.
      if (level.isCut || drawer.first !== undefined) refuse();
      continue;
    }
    level.sort.push({ formula, descending: sort.descending ?? false, blanksFirst: sort.blanks === 'first' });
  }
  const order = [...level.groups.flatMap(groupOrder), ...level.sort];
  const deciding = [level.pushedFilter, level.localFilter, ...(level.isCut ? order.map((o) => o.formula) : [])];
  for (const total of deciding.flatMap((formula) => (formula ? totalsIn(formula, planner.totals) : [])))
    level.refused ??= refusalOf(total.counted, level);
  // A database knows the root order of texts; the alphabets of some languages have one of their own.
  level.sortsLocally = order.some(({ formula }) => !planner.canPush(formula, true));
};

/** What keeps the rows of a level from being known, or those on the way to it from another one around. */
export const refusalOf = (counted: Level, around: Level | null): Problem | null => {
  for (let level: Level | null = counted; level && level !== around; level = level.parent)
    if (level.refused) return level.refused;
  return null;
};

/** False when a part of the filter is wrong. */
const planFilter = (planner: Planner, level: Level, standing: Standing): boolean => {
  const { drawer } = level;
  const parts: Checked[] = [];
  const place = level.place('filter');
  const filter = planner.condition(drawer.filter, standing, place, 'a-filter');
  let isFine = filter !== null || (drawer.filter ?? '').trim() === '';
  if (filter) parts.push(...conjuncts(filter));
  if (drawer.onlyWithInner) {
    const inner = planOnlyWithInner(planner, level, standing);
    if (inner) parts.push(inner);
    else isFine &&= inner !== null;
  }
  level.pushedFilter = joinConjuncts(parts.filter((part) => planner.canPush(part)));
  level.localFilter = joinConjuncts(parts.filter((part) => !planner.canPush(part)));
  return isFine;
};

/**
 * The condition that a row has rows in an inner drawer or in a subreport of its bands; undefined when nothing lies inside it, or
 * when that cannot be told ahead, null when it is wrong.
 */
const planOnlyWithInner = (planner: Planner, level: Level, standing: Standing): Checked | null | undefined => {
  const place = level.place('onlyWithInner');
  const conditions: Checked[] = [];
  for (const { drawer } of level.drawers) {
    const some = planner.check(`COUNT('${drawer.name}') > 0`, standing, place);
    if (!some) return null;
    conditions.push(some);
  }
  const nested = hasSubreportRows(planner, level);
  if (!nested) return undefined;
  conditions.push(...nested);
  return conditions.length > 1 ? { kind: 'call', name: 'OR', arguments: conditions, type: 'boolean' } : conditions[0];
};

/** False when the group, or what decides on its order, is wrong. */
const planGroup = (planner: Planner, level: Level, group: Group, path: string): boolean => {
  const place = { path: `${path}/by`, drawer: level.drawer.id };
  const standing: Standing = { current: level, scope: null, ahead: true, decides: true };
  const by = planner.check(group.by, standing, place);
  if (!by) return false;
  if (by.type === 'picture' || by.type === 'list') {
    const data = { where: phrase('a-group'), expected: phrase('value-to-group-by'), given: typePhrase(by.type) };
    planner.found(problem('wrong-type', place, data));
    return false;
  }
  const key = groupKey(planner, group, by, place);
  if (!key) return false;
  const at = level.groups.push({ group, key, order: null }) - 1;
  if (group.order === undefined) return true;
  const scope = { level, kind: 'group' as const, group: at };
  const order = planner.check(
    group.order,
    { current: level, scope, ahead: true, decides: true },
    { ...place, path: `${path}/order` },
  );
  if (!order) return false;
  level.groups[at]!.order = { formula: order, descending: group.descending ?? false, blanksFirst: false };
  return true;
};

const groupPhrase = (per: NonNullable<Group['per']>): Phrase =>
  per === 'value' ? phrase('a-group') : phrase('group-per', { period: phrase(`per-${per}`) });

/** What rows of one group have in common, as a formula. */
export const groupKey = (
  planner: Planner,
  group: Pick<Group, 'per' | 'width'>,
  by: Checked,
  place: ProblemPlace,
): Checked | null => {
  const per = group.per ?? 'value';
  const needs = (types: readonly string[], expected: PhraseCode): boolean => {
    if (types.includes(by.type) || by.type === 'any') return true;
    planner.found(
      problem('wrong-type', place, { where: groupPhrase(per), expected: phrase(expected), given: typePhrase(by.type) }),
    );
    return false;
  };
  const call = (name: string, list: Checked[], type: Checked['type']): Checked => ({
    kind: 'call',
    name,
    arguments: list,
    type,
  });
  switch (per) {
    case 'value':
      return by;
    case 'letter':
      return needs(['text'], 'column-text') ? call('INITIAL', [by], 'text') : null;
    case 'range': {
      if (!needs(['number'], 'type-number')) return null;
      const width: Checked = { kind: 'literal', value: group.width ?? 10, type: 'number' };
      return { ...call('RANGESTART', [by, width], 'number'), ...(by.format ? { format: by.format } : {}) };
    }
    case 'hour':
      return needs(['datetime'], 'type-datetime') ? call('PERIODHOUR', [by], 'datetime') : null;
    case 'year':
    case 'quarter':
    case 'month':
    case 'week':
    case 'day':
      if (!needs(['date', 'datetime'], 'type-date')) return null;
      return call('PERIOD', [by, { kind: 'literal', value: per, type: 'text' }], 'date');
    default:
      return per satisfies never;
  }
};

/** The keys by which a group's rows come together. */
export const groupOrder = ({ group, key, order }: Level['groups'][number]): LevelSort[] => {
  const byKey = { formula: key, descending: order ? false : (group.descending ?? false), blanksFirst: false };
  return order ? [order, byKey] : [byKey];
};
