import type { Checked, Field, Operation, PlannedSource } from '@gaveta/core/internal';
import type { Term } from './expression.ts';

export type OperationKind = Operation['kind'];
export type OperationOf<K extends OperationKind> = Extract<Operation, { kind: K }>;

/** The rows of the step before, as every step reads them. */
export const ROWS = 'r';

/** What one step of a recipe is written with. */
export interface StepWriting {
  /** `from …`: the rows so far, under the name of {@link ROWS}. */
  from: string;
  /** Columns before the step, and after it. */
  fields: readonly Field[];
  after: readonly Field[];
  /** By which the rows so far are in order, with what tells them apart; empty for no order. */
  order: readonly string[];
  orderBy: string;
  /** Order of texts; null: the database's own. */
  collation: string | null;
  /** Whether a step that sorts does; left to whoever asks otherwise. */
  isSorted: boolean;
  /** `total`: SQL of a total that the formula reads, by its slot. */
  sql: (formula: Checked, total?: (slot: number) => string) => Term;
  bind: (text: string) => string;
  /** Whether nothing can need a column that the step gives. */
  isUnused: (column: string) => boolean;
  /** The report's time zone, bound. */
  zone: () => string;
  /** A statement that a person wrote, made ready to stand in brackets. */
  written: (operation: OperationOf<'sql'>) => string;
  /** Rows of a source as a select. */
  source: (source: PlannedSource) => string;
  joined: (source: PlannedSource) => { from: string; column: (field: string) => string };
}
