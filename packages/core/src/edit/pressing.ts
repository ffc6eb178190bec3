import type { Drawer, ItemOf, Parameter, Report, RowGroup } from '../definition/schema.ts';
import { drawersOf, findItem } from '../definition/walk.ts';
import { parseFormula } from '../formula/parse.ts';
import { writtenName } from '../formula/tokens.ts';
import { type Entity, findEntity, type Model } from '../model/model.ts';
import type { DataType } from '../value/value.ts';
import type { Edit } from './edit.ts';
import { freeName } from './ids.ts';
import { ownRowsOf } from './item-fields.ts';

/** An item whose parts can be pressed in the viewer. */
export type PressedItem = ItemOf<'chart'> | ItemOf<'map'>;

/** A drawer that a press on a group can keep to the rows of that group. */
export interface PressFilter {
  drawer: Drawer;
  group: RowGroup;
  /** What the rows of the drawer have of the group, as a formula over them. */
  formula: string;
  /** The field that the group goes by. */
  field: { label: string; type: DataType; entity: Entity; name: string };
}

/** How many relations may lie between the rows of the drawer and those of the item. */
const FARTHEST = 3;

/** The tables that a path passes, the first one included, and the field at its end; null when it leads nowhere. */
const walk = (
  from: Entity,
  path: readonly string[],
  model: Model,
): { tables: Entity[]; field: Omit<PressFilter['field'], 'entity'> } | null => {
  const tables = [from];
  for (const part of path.slice(0, -1)) {
    const relation = tables.at(-1)!.relations.find(({ name, kind }) => name === part && kind === 'one');
    const next = relation && findEntity(model, relation.to);
    if (!next) return null;
    tables.push(next);
  }
  const field = tables.at(-1)!.fields.find(({ name }) => name === path.at(-1));
  return field ? { tables, field: { label: field.label, type: field.type, name: field.name } } : null;
};

/** The shortest way along relations to one row from one table to another; null when there is none. */
const wayTo = (from: Entity, to: Entity, model: Model): string[] | null => {
  let ways: { entity: Entity; path: string[] }[] = [{ entity: from, path: [] }];
  for (let steps = 0; steps <= FARTHEST; steps++) {
    const found = ways.find(({ entity }) => entity.name === to.name);
    if (found) return found.path;
    ways = ways.flatMap(({ entity, path }) =>
      entity.relations.flatMap(({ name, kind, to: next }) => {
        const target = kind === 'one' ? findEntity(model, next) : null;
        return target ? [{ entity: target, path: [...path, name] }] : [];
      }),
    );
  }
  return null;
};

/** Groups that a part of the item stands for. */
const groupsOf = (item: PressedItem): RowGroup[] =>
  (item.kind === 'chart' ? [item.along, item.split, item.panels] : [item.along]).flatMap((group) => group ?? []);

/** A parameter holds no time of day, so rows of an hour cannot be asked for. */
const canAsk = ({ per }: RowGroup, type: DataType): boolean => per !== 'hour' && type !== 'picture';

/**
 * What a press on an item can keep a drawer to: rows that have the value of the part that was pressed. The drawer’s rows may be those
 * that the item counts, those that each of them leads to, or rows that lead to either.
 */
export const pressFilters = (
  report: Report,
  id: string,
  { model, entities }: { model: Model | null; entities: ReadonlyMap<string, Entity> },
): PressFilter[] => {
  const found = findItem(report, id);
  if (!model || !found || (found.item.kind !== 'chart' && found.item.kind !== 'map')) return [];
  const item = found.item;
  const { address } = found.at;
  const around = address.drawer === null ? null : (entities.get(address.drawer) ?? null);
  const drawers = [...drawersOf(report)].map(({ drawer }) => drawer);
  /** The rows that a path begins at, and the rest of it: without rows of the item’s own, a drawer’s name may stand before it. */
  const counted = (parts: readonly string[]): { from: Entity; path: readonly string[] } | null => {
    const own = ownRowsOf(item, around, model);
    if (own || item.rows) return own && { from: own, path: parts };
    const named = parts.length > 1 ? drawers.find(({ name }) => name === parts[0]) : undefined;
    const from = named ? entities.get(named.id) : around;
    return from ? { from, path: named ? parts.slice(1) : parts } : null;
  };
  return groupsOf(item).flatMap((group) => {
    const parsed = parseFormula(group.by);
    const tree = parsed.ok ? parsed.tree : null;
    const start = tree?.kind === 'name' ? counted(tree.parts) : null;
    const walked = start && walk(start.from, start.path, model);
    if (!start || !walked || !canAsk(group, walked.field.type)) return [];
    const { tables, field } = walked;
    const last = tables.at(-1)!;
    return drawers.flatMap((drawer) => {
      const entity = entities.get(drawer.id);
      if (!entity) return [];
      // The table nearest to the field is surest: a row leads to one of its rows, and that has one value.
      for (let at = tables.length - 1; at >= 0; at--) {
        const way = wayTo(entity, tables[at]!, model);
        if (!way) continue;
        const formula = [...way, ...start.path.slice(at)].map(writtenName).join('.');
        return [{ drawer, group, formula, field: { ...field, entity: last } }];
      }
      return [];
    });
  });
};

/** What the rows of a group have in common, as a formula over one of them. */
const keyFormula = ({ per = 'value', width = 10 }: RowGroup, formula: string): string => {
  switch (per) {
    case 'value':
      return formula;
    case 'letter':
      return `INITIAL(${formula})`;
    case 'range':
      return `RANGESTART(${formula}; ${width})`;
    case 'hour':
      return `PERIODHOUR(${formula})`;
    default:
      return `PERIOD(${formula}; "${per}")`;
  }
};

/** The parameter that holds what was pressed: values of a field can be chosen from a list as well. */
const parameterFor = (name: string, { group, field }: PressFilter): Parameter => {
  const base = { name, label: group.caption?.trim() || field.label };
  if (group.per !== undefined && group.per !== 'value') {
    const type = group.per === 'letter' ? 'text' : group.per === 'range' ? 'number' : 'date';
    return { ...base, type };
  }
  const { type, entity, name: value } = field;
  const choicesFrom = { rows: entity.name, value: writtenName(value) };
  switch (type) {
    case 'text':
      return { ...base, type: 'choice', choicesFrom };
    case 'number':
      return { ...base, type: 'choice', of: 'number', choicesFrom };
    case 'boolean':
      return { ...base, type };
    default:
      return { ...base, type: 'date' };
  }
};

/** The parameter of the report that a press sets to the value of the group; null when there is none. */
const parameterSet = (report: Report, { onPress }: PressedItem, { group }: PressFilter): string | null => {
  const set = Object.entries(onPress && 'set' in onPress ? onPress.set : {});
  const isKnown = (name: string): boolean => report.parameters.some((parameter) => parameter.name === name);
  return set.find(([name, read]) => read === group.name && isKnown(name))?.[0] ?? null;
};

const conditionOf = (name: string, { group, formula }: PressFilter): string =>
  `WITHIN(${keyFormula(group, formula)}; parameters.${writtenName(name)})`;

/** Whether a press does so already. */
export const isPressFilterOn = (report: Report, item: PressedItem, filter: PressFilter): boolean => {
  const name = parameterSet(report, item, filter);
  return name !== null && (filter.drawer.filter?.includes(conditionOf(name, filter)) ?? false);
};

/** A press keeps the drawer to the rows of the group; further drawers go by the parameter that the first one was given. */
export const filterByPress = (report: Report, item: PressedItem, filter: PressFilter): Edit => {
  if (isPressFilterOn(report, item, filter)) return { do: 'all', edits: [] };
  const { drawer, group } = filter;
  const edits: Edit[] = [];
  let name = parameterSet(report, item, filter);
  if (name === null) {
    const drawers = [...drawersOf(report)].map((one) => one.drawer.name);
    name = freeName(group.name, new Set([...report.parameters.map((parameter) => parameter.name), ...drawers]));
    edits.push({ do: 'report', settings: { parameters: [...report.parameters, parameterFor(name, filter)] } });
  }
  const condition = conditionOf(name, filter);
  const before = drawer.filter?.trim().replace(/^=/, '');
  const set = item.onPress && 'set' in item.onPress ? item.onPress.set : {};
  edits.push(
    { do: 'drawer', drawer: drawer.id, settings: { filter: before ? `AND(${before}; ${condition})` : condition } },
    { do: 'set', items: [item.id], settings: { onPress: { set: { ...set, [name]: group.name } } } },
  );
  return { do: 'all', edits };
};
