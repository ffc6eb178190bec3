import type { AxisGroup, CrosstabCell, Drawer, Item, ItemOf, Report } from '../definition/schema.ts';
import { type BandAddress, findItem } from '../definition/walk.ts';
import { writtenName } from '../formula/tokens.ts';
import { type Entity, findEntity, type Model, shownFields } from '../model/model.ts';
import type { DataType } from '../value/value.ts';
import type { Edit } from './edit.ts';
import { freeName, identifierOf } from './ids.ts';
import { formulaFor, type Placeable } from './placing.ts';

/** Where a field can go in a crosstab. */
export const CROSSTAB_PARTS = ['down', 'across', 'cells'] as const;
export type CrosstabPart = (typeof CROSSTAB_PARTS)[number];

type Crosstab = ItemOf<'crosstab'>;

/** The part that suits a field by its type: numbers are counted, days go across, everything else down. */
export const partFor = (type: DataType): CrosstabPart =>
  type === 'number' ? 'cells' : isDay(type) ? 'across' : 'down';

/** What a crosstab takes its rows from by itself; null when it groups those of its place. */
export const ownRowsOf = ({ rows }: Crosstab, around: Entity | null, model: Model | null): Entity | null => {
  if (!rows || !model) return null;
  if ('entity' in rows) return findEntity(model, rows.entity);
  const relation = around?.relations.find((r) => r.name === rows.relation);
  return relation ? findEntity(model, relation.to) : null;
};

/** How a formula of the crosstab reaches a field, and the rows that it must have for that; null when it cannot. */
const reached = (
  item: Crosstab,
  field: Placeable,
  address: BandAddress,
  own: Entity | null,
): { formula: string; rows?: Crosstab['rows'] } | null => {
  const bare = field.path.map(writtenName).join('.');
  const isEmpty = item.down.length + item.across.length + item.cells.length === 0;
  if (field.table) {
    if (own?.name === field.table.entity) return { formula: bare };
    return isEmpty ? { formula: bare, rows: { entity: field.table.entity } } : null;
  }
  if (field.relation !== undefined) {
    const isOf = item.rows !== undefined && 'relation' in item.rows && item.rows.relation === field.relation;
    if (isOf) return { formula: bare };
    const isRow = field.drawer?.id === address.drawer && (address.band === 'detail' || address.band === 'detailFooter');
    return isEmpty && isRow ? { formula: bare, rows: { relation: field.relation } } : null;
  }
  // Parameters and values of the page are the same for all rows.
  if (!field.drawer || item.rows) return null;
  return { formula: formulaFor(field, address) };
};

/** A field, and how the formulas of the crosstab reach it. */
interface Reached {
  label: string;
  type: DataType;
  formula: string;
}

const isDay = (type: DataType): boolean => type === 'date' || type === 'datetime';

/** Number formats that suit the labels of periods. */
const PERIOD_FORMATS: Partial<Record<NonNullable<AxisGroup['per']>, string>> = {
  year: 'yyyy',
  quarter: 'mmm yyyy',
  month: 'mmm yyyy',
  week: 'd mmm yyyy',
  day: 'd mmm yyyy',
  hour: 'd mmm hh:mm',
};

/** A group that goes by other periods, ranges or letters, with a format of its labels that suits. */
export const groupPer = (
  { per: _, width, format: __, ...group }: AxisGroup,
  per: NonNullable<AxisGroup['per']>,
): AxisGroup => {
  const format = PERIOD_FORMATS[per];
  return {
    ...group,
    ...(per === 'value' ? {} : { per }),
    ...(per === 'range' ? { width: width ?? 10 } : {}),
    ...(format ? { format } : {}),
  };
};

/** A group by a field: days by month, everything else by its value. */
const groupOf = ({ down, across }: Crosstab, { label, type, formula }: Reached): AxisGroup => {
  const taken = new Set([...down, ...across].map(({ name }) => name));
  return {
    name: freeName(identifierOf(formula.split('.').at(-1) ?? '') ?? 'group', taken),
    by: formula,
    caption: label,
    ...(isDay(type) ? { per: 'month', format: 'mmm yyyy' } : {}),
  };
};

/** What is counted of a field: numbers add up, of everything else it is how many there are. */
const cellOf = ({ label, type, formula }: Reached): CrosstabCell => ({
  formula: `${type === 'number' ? 'SUM' : 'COUNTA'}(${formula})`,
  caption: label,
});

/** A part of a crosstab with one more field. */
export const withField = (item: Crosstab, part: CrosstabPart, field: Reached): Partial<Crosstab> =>
  part === 'cells' ? { cells: [...item.cells, cellOf(field)] } : { [part]: [...item[part], groupOf(item, field)] };

/**
 * What dropping fields into a crosstab does: each goes to the part, or to the one that suits its type. An empty crosstab
 * takes the rows that the first field is of. Null when it cannot take them.
 */
export const intoCrosstab = (
  report: Report,
  id: string,
  part: CrosstabPart | null,
  fields: readonly Placeable[],
  { model, entities }: { model: Model | null; entities: ReadonlyMap<string, Entity> },
): Edit | null => {
  const found = findItem(report, id);
  if (found?.item.kind !== 'crosstab') return null;
  const { address } = found.at;
  const around = address.drawer === null ? null : (entities.get(address.drawer) ?? null);
  let item = found.item;
  let uses: string | null = null;
  for (const field of fields) {
    if (field.type === 'picture') return null;
    const at = reached(item, field, address, ownRowsOf(item, around, model));
    if (!at) return null;
    if (field.table && report.model !== field.table.model) uses = field.table.model;
    const { formula, rows = item.rows } = at;
    const { label, type } = field;
    const added = withField(item, part ?? partFor(type), { label, type, formula });
    item = { ...item, ...(rows ? { rows } : {}), ...added };
  }
  if (item === found.item) return null;
  const { down, across, cells, rows } = item;
  const set: Edit = { do: 'set', items: [id], settings: { down, across, cells, ...(rows ? { rows } : {}) } };
  return uses === null ? set : { do: 'all', edits: [{ do: 'report', settings: { model: uses } }, set] };
};

/** A field that the formulas of a crosstab can name. */
export interface CrosstabField {
  label: string;
  type: DataType;
  /** What is written for it. */
  formula: string;
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
export const crosstabFields = (
  report: Report,
  id: string,
  { model, entities }: { model: Model | null; entities: ReadonlyMap<string, Entity> },
  /** Drawers whose rows can be counted where it stands. */
  drawers: readonly Drawer[],
): CrosstabField[] => {
  const found = findItem(report, id);
  if (found?.item.kind !== 'crosstab') return [];
  const { address } = found.at;
  const around = address.drawer === null ? null : (entities.get(address.drawer) ?? null);
  const fieldsOf = (entity: Entity, written: (path: string[]) => string): CrosstabField[] =>
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

/** A crosstab with groups moved: from one place to another, on the same axis or the other. */
export const moveGroup = (
  { down, across }: Crosstab,
  from: { part: 'down' | 'across'; at: number },
  to: { part: 'down' | 'across'; at: number },
): Pick<Crosstab, 'down' | 'across'> => {
  const axes = { down: [...down], across: [...across] };
  const [group] = axes[from.part].splice(from.at, 1);
  if (group) axes[to.part].splice(to.at, 0, group);
  return axes;
};

export const isCrosstab = (item: Item | undefined): item is Crosstab => item?.kind === 'crosstab';
