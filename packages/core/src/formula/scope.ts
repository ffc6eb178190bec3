import type { Problem } from '../problems/problem.ts';
import type { Checked } from './checked.ts';
import type { FunctionTable } from './functions/context.ts';
import type { TotalName } from './functions/index.ts';
import type { Stretch } from './tree.ts';

/** What a formula asks of rows: a total, or a value that depends on the rows before or around. */
export interface RowsRequest {
  kind: TotalName | 'RUNNING' | 'ROWNUMBER' | 'RANK';
  /** Name of the drawer or group, or `report`, whose rows count; null for the scope that the formula stands in. */
  scope: string | null;
  /** Where that name stands. */
  scopeAt?: Stretch | undefined;
}

/** What names mean where a formula stands. Implemented over the drawers of a report by data/reach.ts. */
export interface FormulaScope {
  /** The meaning of a name, or the problem with it (its place is filled in by the caller). */
  name(parts: string[], at: Stretch): Checked | Problem;
  /** Something over rows. `check` checks the inner formula in the scope it is given; null when that fails. */
  rows(request: RowsRequest, check: (inner: FormulaScope) => Checked | null): Checked | Problem | null;
  /** The formula's value on the row before, of the drawer whose row is current. */
  previous(check: (inner: FormulaScope) => Checked | null): Checked | Problem | null;
  /** The depth of a recursive drawer's current row. */
  depth(): Checked | Problem;
  /** Whether a name stands for a drawer or group around, or the report. */
  isRowScope(name: string): boolean;
  /** A field of the row of a table whose key is a field here; left out where there are no rows. */
  lookUp?(parts: readonly string[], key: Checked): Checked | Problem;
  /** Names to suggest for a misspelt one. */
  suggestions(): string[];
  /** Whether CLAIM() may be used: only in row scopes that the integrator writes. */
  claims?: boolean;
  /** Functions besides Gaveta’s own. */
  functions?: FunctionTable | undefined;
}
