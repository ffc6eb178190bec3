import { type Encoding, SaidError } from '@gaveta/core/internal';
import type { Limits } from '../base/limits.ts';
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

/** What a file may not go past; see Limits. */
export type FileLimits = Pick<
  Limits,
  'maxUpload' | 'fileRows' | 'fileColumns' | 'fileCells' | 'fileDepth' | 'fileUnpacked' | 'fileSeconds' | 'fileMemory'
>;

export const inMegabytes = (bytes: number): string => `${Math.round(bytes / 1024 / 1024)} MB`;

/** What a column without a heading is called, by its place from 0. */
export const numberedColumn = (at: number): string => `Column ${at + 1}`;

/** How a file is read. */
export interface FileSettings {
  /** Of text; found out when left out. */
  encoding?: Encoding | undefined;
  /** Of CSV and sheets: the line that has the headings, 1 for the first; 0 for none. Left out: the first one that is not empty. */
  headings?: number | undefined;
  /** Of spreadsheets: the one sheet that is read, and the cells of it, as `B3:F40`; all when left out. */
  sheet?: string | undefined;
  range?: string | undefined;
  /** Of CSV; found out when left out. */
  delimiter?: string | undefined;
  /** Of JSON and XML: where the rows lie, as `result.items`; found out when left out. */
  rowsAt?: string | undefined;
}
