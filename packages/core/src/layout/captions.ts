import type { PlannedBand, PlannedDrawer } from '../data/planned.ts';
import type { Item } from '../definition/schema.ts';

/** Edges that are taken for the same, in millimetres. */
export const NEAR = 1.2;

const columnOf = ({ column }: Item): string | null => (column ? `${column.set}\0${column.name}` : null);

/** Words that are the same in every row. */
const isConstant = (item: Item): boolean =>
  item.kind === 'text' && item.content.length > 0 && item.content.every((piece) => typeof piece === 'string');

const isValue = (item: Item): boolean => item.kind === 'field' || (item.kind === 'text' && !isConstant(item));

/** Whether words stand over a value: their left or right edges are the same. */
export const linesUp = (caption: Item, value: Item): boolean => {
  const [left, right] = [caption.x - value.x, caption.x + caption.width - value.x - value.width];
  return Math.abs(left) <= NEAR || Math.abs(right) <= NEAR;
};

const valuesIn = ({ bands, drawers }: PlannedDrawer): Item[] => [
  ...(bands.detail?.items.flatMap(({ item }) => (isValue(item) ? [item] : [])) ?? []),
  ...drawers.flatMap(valuesIn),
];

/** Ids of the words of a header that name columns of the rows below it: those of its column sets, or two or more that line up with values. */
export const captionsOf = ({ items }: PlannedBand, drawer: PlannedDrawer): ReadonlySet<string> => {
  const constant = items.flatMap(({ item }) => (isConstant(item) ? [item] : []));
  if (constant.length < 2) return NONE;
  const values = valuesIn(drawer);
  const columns = new Set(values.map(columnOf));
  const found = constant.filter((item) => {
    const column = columnOf(item);
    return (column !== null && columns.has(column)) || values.some((value) => linesUp(item, value));
  });
  return found.length < 2 ? NONE : new Set(found.map(({ id }) => id));
};

export const NONE: ReadonlySet<string> = new Set();
