import type { Drawer, Item, OwnRows, Report, RowGroup } from '../definition/schema.ts';
import { type BandAddress, findItem } from '../definition/walk.ts';
import { writtenName } from '../formula/tokens.ts';
import { type Entity, findEntity, type Model, shownFields } from '../model/model.ts';
import type { DataType } from '../value/value.ts';
import { freeName, identifierOf } from './ids.ts';
import { formulaFor, type Placeable } from './placing.ts';

/** An item that groups rows, its own or those of its place. */
export type GroupingItem = Extract<Item, { rows?: OwnRows | undefined }>;

export const isGrouping = (item: Item | undefined): item is GroupingItem =>
  item !== undefined && GROUPING.has(item.kind);
const GROUPING: ReadonlySet<Item['kind']> = new Set<GroupingItem['kind']>([
  'crosstab',
  'chart',
  'gauge',
  'sparkline',
  'map',
]);

/** A field, and how the formulas of an item reach it. */
export interface ReachedField {
  label: string;
  type: DataType;
  formula: string;
  /** Has one value where the item stands: of the row there, or of the whole report. */
  isOne?: boolean;
}

/** What an item takes its rows from by itself; null when it groups those of its place. */
export const ownRowsOf = (
  { rows }: Pick<GroupingItem, 'rows'>,
  around: Entity | null,
  model: Model | null,
): Entity | null => {
  if (!rows || !model) return null;
  if ('entity' in rows) return findEntity(model, rows.entity);
  const relation = around?.relations.find((r) => r.name === rows.relation);
  return relation ? findEntity(model, relation.to) : null;
};

/** How a formula of the item reaches a field, and the rows that it must have for that; null when it cannot. */
export const reachedBy = (
  { rows }: Pick<GroupingItem, 'rows'>,
  isEmpty: boolean,
  field: Placeable,
  address: BandAddress,
  own: Entity | null,
): { formula: string; rows?: OwnRows; isOne?: boolean } | null => {
  const bare = field.path.map(writtenName).join('.');
  if (field.table) {
    if (own?.name === field.table.entity) return { formula: bare };
    return isEmpty ? { formula: bare, rows: { entity: field.table.entity } } : null;
  }
  if (field.relation !== undefined) {
    if (rows && 'relation' in rows && rows.relation === field.relation) return { formula: bare };
    const isRow = field.drawer?.id === address.drawer && (address.band === 'detail' || address.band === 'detailFooter');
    return isEmpty && isRow ? { formula: bare, rows: { relation: field.relation } } : null;
  }
  if (rows) return null;
  const isAtRow = address.band === 'detail' || address.band === 'detailFooter';
  const isOne = !field.drawer || (isAtRow && field.drawer.id === address.drawer);
  return { formula: formulaFor(field, address), isOne };
};

const isDay = (type: DataType): boolean => type === 'date' || type === 'datetime';

/** Number formats that suit the labels of periods. */
const PERIOD_FORMATS: Partial<Record<NonNullable<RowGroup['per']>, string>> = {
  year: 'yyyy',
  quarter: 'mmm yyyy',
  month: 'mmm yyyy',
  week: 'd mmm yyyy',
  day: 'd mmm yyyy',
  hour: 'd mmm hh:mm',
};

/** A group that goes by other periods, ranges or letters, with a format of its labels that suits. */
export const groupPer = <G extends RowGroup>(
  { per: _, width, format: __, ...group }: G,
  per: NonNullable<RowGroup['per']>,
): G => {
  const format = PERIOD_FORMATS[per];
  return {
    ...group,
    ...(per === 'value' ? {} : { per }),
    ...(per === 'range' ? { width: width ?? 10 } : {}),
    ...(format ? { format } : {}),
  } as G;
};

/** A group by a field: days by month, everything else by its value. `taken`: names of groups. */
export const groupBy = ({ label, type, formula }: ReachedField, taken: ReadonlySet<string>): RowGroup => ({
  name: freeName(identifierOf(formula.split('.').at(-1) ?? '') ?? 'group', taken),
  by: formula,
  caption: label,
  ...(isDay(type) ? { per: 'month', format: 'mmm yyyy' } : {}),
});

/** What is counted of a field: numbers add up, of everything else it is how many there are. */
export const totalOf = ({ label, type, formula }: ReachedField): { formula: string; caption: string } => ({
  formula: `${type === 'number' ? 'SUM' : 'COUNTA'}(${formula})`,
  caption: label,
});

/** A field that the formulas of an item can name. */
export interface ItemField extends ReachedField {
  /** Whose rows have it. */
  of: string;
}

/** How many relations fields are offered along. */
const FARTHEST = 2;

/** The fields of rows, and those of the one row that each of them leads to. */
export const fieldsAlong = (
  entity: Entity,
  model: Model | null,
  before: { path: string[]; label: string } = { path: [], label: '' },
): { label: string; type: DataType; path: string[] }[] => [
  ...shownFields(entity.fields)
    .filter(({ type }) => type !== 'picture')
    .map(({ name, label, type }) => ({ label: `${before.label}${label}`, type, path: [...before.path, name] })),
  ...(before.path.length >= FARTHEST ? [] : entity.relations).flatMap(({ name, label, kind, to }) => {
    const target = kind === 'one' && model ? findEntity(model, to) : null;
    return target ? fieldsAlong(target, model, { path: [...before.path, name], label: `${label}: ` }) : [];
  }),
];

/** Fields that can be grouped by or counted, those of the rows that each of them leads to included. */
export const itemFields = (
  report: Report,
  id: string,
  { model, entities }: { model: Model | null; entities: ReadonlyMap<string, Entity> },
  /** Drawers whose rows can be counted where it stands. */
  drawers: readonly Drawer[],
): ItemField[] => {
  const found = findItem(report, id);
  if (!found || !isGrouping(found.item)) return [];
  const { address } = found.at;
  const around = address.drawer === null ? null : (entities.get(address.drawer) ?? null);
  const fieldsOf = (entity: Entity, written: (path: string[]) => string): ItemField[] =>
    fieldsAlong(entity, model).map(({ label, type, path }) => ({
      label,
      type,
      formula: written(path),
      of: entity.plural,
    }));
  if (found.item.rows) {
    const own = ownRowsOf(found.item, around, model);
    return own ? fieldsOf(own, (path) => path.map(writtenName).join('.')) : [];
  }
  return drawers.flatMap((drawer) => {
    const entity = entities.get(drawer.id);
    return entity ? fieldsOf(entity, (path) => formulaFor({ label: '', type: 'text', drawer, path }, address)) : [];
  });
};
