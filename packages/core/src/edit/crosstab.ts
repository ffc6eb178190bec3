import type { ItemOf } from '../definition/schema.ts';
import type { DataType } from '../value/value.ts';
import type { FieldParts } from './field-parts.ts';
import { groupBy, type ReachedField, totalOf } from './item-fields.ts';

/** Where a field can go in a crosstab. */
export const CROSSTAB_PARTS = ['down', 'across', 'cells'] as const;
export type CrosstabPart = (typeof CROSSTAB_PARTS)[number];

type Crosstab = ItemOf<'crosstab'>;

/** The part that suits a field by its type: numbers are counted, days go across, everything else down. */
export const partFor = (type: DataType): CrosstabPart =>
  type === 'number' ? 'cells' : type === 'date' || type === 'datetime' ? 'across' : 'down';

const isPart = (part: string): part is CrosstabPart => (CROSSTAB_PARTS as readonly string[]).includes(part);

/** A part of a crosstab with one more field. */
export const withField = (item: Crosstab, part: CrosstabPart, field: ReachedField): Partial<Crosstab> => {
  if (part === 'cells') return { cells: [...item.cells, totalOf(field)] };
  const taken = new Set([...item.down, ...item.across].map(({ name }) => name));
  return { [part]: [...item[part], groupBy(field, taken)] };
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

export const crosstabFieldParts: FieldParts<'crosstab'> = {
  isEmpty: ({ down, across, cells }) => down.length + across.length + cells.length === 0,
  partFor: (_, type) => partFor(type),
  withField: (item, part, field) => (isPart(part) ? withField(item, part, field) : null),
};
