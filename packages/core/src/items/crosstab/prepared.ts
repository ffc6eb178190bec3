import type { CrosstabCell, ItemOf } from '../../definition/schema.ts';
import type { Compiled } from '../../formula/functions/context.ts';
import type { PreparedCommon, PreparedHighlight, PreparedLink } from '../../layout/prepared.ts';
import type { Preparing } from '../../layout/preparing.ts';
import type { PreparedFold } from '../../shape/folds.ts';
import type { PreparedSummary } from '../../shape/summary.ts';

export interface PreparedCrosstab {
  item: ItemOf<'crosstab'>;
  common: PreparedCommon;
  preparing: Preparing;
  summary: PreparedSummary;
  orders: { down: (Compiled | null)[]; across: (Compiled | null)[] };
  /** Folds of its groups; null for those that are not foldable. */
  folds: { down: (PreparedFold | null)[]; across: (PreparedFold | null)[] };
  cells: PreparedCells[];
  /** Number formats of the labels of its groups, down then across. */
  formats: string[];
}

/** One of the values in the cells. */
export interface PreparedCells {
  cell: CrosstabCell;
  /** Null when it is wrong: it then shows an error. */
  evaluate: Compiled | null;
  format: string;
  highlights: PreparedHighlight[];
  /** What a click on the cell opens. */
  link: PreparedLink | null;
}
