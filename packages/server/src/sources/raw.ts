import { SaidError } from '@gaveta/core/internal';
import type { RawCell } from './reading/cell.ts';

/** Rows of a file or service as they came. `columns`: what they are called there. */
export interface RawTable {
  name: string;
  columns: string[];
  rows: RawCell[][];
  /** Rows that had fewer cells than there are columns, and the line of the first; left out where none had. */
  short?: { rows: number; line: number };
}

/** A source that does not hold what it should. The words say what is wrong and where. */
export class SourceError extends SaidError {}

/** Which of the columns of the same name each one is, from 0. */
export const occurrences = (columns: readonly string[]): number[] => {
  const counts = new Map<string, number>();
  return columns.map((column) => {
    const count = counts.get(column) ?? 0;
    counts.set(column, count + 1);
    return count;
  });
};
