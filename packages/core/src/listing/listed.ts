import type { DataType } from '../value/value.ts';

/** A column of the rows that a drawer shows. */
export interface ListedColumn {
  /** By which programs know it; each once in its set: letters, digits and `_`. */
  name: string;
  /** The caption above it, or the label of its field. */
  label: string;
  type: Exclude<DataType, 'picture'>;
  /** Number-format code; empty when it has none. */
  format: string;
}

/** The rows of a drawer as a report shows them, with those inside each of them. */
export interface ListedSet {
  /** Each once among the sets beside it. */
  name: string;
  label: string;
  columns: ListedColumn[];
  inner: ListedSet[];
}
