import type { Checked } from '../formula/checked.ts';
import type { DataType } from '../value/value.ts';
import type { Level, TotalPlan, TotalScope } from './level.ts';

export interface PlannedKey {
  name: string;
  /** What rows of one group have in common, over the counted rows. */
  formula: Checked;
  type: DataType;
  /** Number format of its labels. */
  format: string;
}

/** Rows of one level that the cells of an item count. An item that counts rows of several levels has a part for each. */
export interface SummaryPart {
  counted: Level;
  totals: TotalPlan[];
  /** Brings the groups from the database; null when the rows are grouped here. */
  level: Level | null;
  /** The total that lists the rows that are grouped here; null when they are the item’s own, or the database groups them. */
  listed: TotalPlan | null;
}

/** Which rows an item shows in groups, by which values, and what it counts of each group. */
export interface PlannedSummary {
  /** Its row has the values of a cell’s groups while the formulas of the cell are worked out: columns 1 to n. */
  cell: Level;
  keys: PlannedKey[];
  parts: SummaryPart[];
  /** The rows that one instance of the item groups; `level` is the item’s own when it has rows of its own. */
  scope: TotalScope;
}
