import { type Arrangement, AS_MADE, type ReaderColumn, type ReaderFilter } from '@gaveta/core/internal';

/** The name under which an arrangement stands in an address: no parameter is called so. */
export const ARRANGEMENT = '~rows';

const isList = (value: unknown): value is unknown[] => Array.isArray(value);

/** An arrangement as an address has it; as the report was made where there is none, or it cannot be read. */
export const readArrangement = (text: string | null): Arrangement => {
  if (text === null) return AS_MADE;
  try {
    const { sorts = [], filters = [], hidden = [] } = JSON.parse(text) as Partial<Arrangement>;
    return isList(sorts) && isList(filters) && isList(hidden) ? { sorts, filters, hidden } : AS_MADE;
  } catch {
    return AS_MADE;
  }
};

export const isAsMade = ({ sorts, filters, hidden }: Arrangement): boolean =>
  sorts.length + filters.length + hidden.length === 0;

/** As an address has it; null for a report as it was made. */
export const writeArrangement = (arrangement: Arrangement): string | null =>
  isAsMade(arrangement) ? null : JSON.stringify(arrangement);

/** Sorted by a column: by it alone among those of its drawer. Null: no longer by any of them. */
export const sortedBy = (
  arrangement: Arrangement,
  columns: readonly ReaderColumn[],
  { id, drawer }: ReaderColumn,
  descending: boolean | null,
): Arrangement => {
  const own = new Set(columns.filter((column) => column.drawer === drawer).map((column) => column.id));
  const others = arrangement.sorts.filter(({ column }) => !own.has(column));
  return { ...arrangement, sorts: descending === null ? others : [...others, { column: id, descending }] };
};

/** What a press on a caption does: sorts by it, a second turns it round, a third takes that back. */
export const nextSort = ({ sorts }: Arrangement, { id }: ReaderColumn): boolean | null => {
  const now = sorts.find(({ column }) => column === id);
  return now === undefined ? false : now.descending ? null : true;
};

export const withFilter = (arrangement: Arrangement, filter: ReaderFilter): Arrangement => ({
  ...arrangement,
  filters: [...arrangement.filters.filter(({ column }) => column !== filter.column), filter],
});

export const withColumn = (arrangement: Arrangement, column: string, isShown: boolean): Arrangement => {
  const others = arrangement.hidden.filter((one) => one !== column);
  return { ...arrangement, hidden: isShown ? others : [...others, column] };
};

/** Without everything that is said of one column. */
export const without = (arrangement: Arrangement, kind: keyof Arrangement, column: string): Arrangement => ({
  sorts: arrangement.sorts.filter((one) => kind !== 'sorts' || one.column !== column),
  filters: arrangement.filters.filter((one) => kind !== 'filters' || one.column !== column),
  hidden: arrangement.hidden.filter((one) => kind !== 'hidden' || one !== column),
});
