/** A cell as a file or service gives it, before its column has a type. */
export type RawCell = string | number | boolean | Date | null;

/** Rows of a file or service as they came. `columns`: what they are called there. */
export interface RawTable {
  name: string;
  columns: string[];
  rows: RawCell[][];
}

/** A source that does not hold what it should. The words say what is wrong and where. */
export class SourceError extends Error {}

/** Names of fields for what columns are called: letters, digits and _, each different. */
export const fieldNames = (columns: readonly string[]): string[] => {
  const taken = new Set<string>();
  /** The number that the next name of a base ends with. */
  const next = new Map<string, number>();
  return columns.map((column, i) => {
    const plain = column
      .trim()
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, '_')
      .replace(/^_+|_+$/g, '')
      .slice(0, 60);
    const base = /^[\p{L}_]/u.test(plain) ? plain : `column_${plain || i + 1}`;
    let name = base;
    let n = next.get(base) ?? 2;
    while (taken.has(name)) name = `${base}_${n++}`;
    next.set(base, n);
    taken.add(name);
    return name;
  });
};

/** Which of the columns of the same name each one is, from 0. */
export const occurrences = (columns: readonly string[]): number[] => {
  const counts = new Map<string, number>();
  return columns.map((column) => {
    const count = counts.get(column) ?? 0;
    counts.set(column, count + 1);
    return count;
  });
};
