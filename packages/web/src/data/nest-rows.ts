import type { WireRow } from '@gaveta/core/internal';

/** An outer row with its inner ones. */
export interface NestedRow {
  row: WireRow;
  inner: WireRow[];
}

/**
 * Joined rows put into one another again: the first `outer` values of each are those of the outer row. An outer row
 * without a partner comes with inner values that are all blank, and has no inner rows. First seen, first shown.
 */
export const nestRows = (rows: readonly WireRow[], outer: number): NestedRow[] => {
  const groups = new Map<string, NestedRow>();
  for (const joined of rows) {
    const row = joined.slice(0, outer);
    const key = JSON.stringify(row);
    const group = groups.get(key) ?? { row, inner: [] };
    groups.set(key, group);
    const inner = joined.slice(outer);
    if (inner.some((value) => value !== null)) group.inner.push(inner);
  }
  return [...groups.values()];
};
