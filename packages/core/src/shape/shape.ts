import type { Level } from '../data/level.ts';
import type { PlannedDrawer, ReportPlan } from '../data/planned.ts';
import type { RowProblem } from '../data/rows.ts';
import { compileFormula } from '../formula/compile.ts';
import type { Compiled } from '../formula/functions/context.ts';
import { type FoldSign, prepareFold, type ShapeFold } from './folds.ts';

/** What the walk over rows needs of a drawer. */
export interface ShapeDrawer {
  level: Level;
  /** What rows of one group have in common, outermost group first. */
  groups: Compiled[];
  /** Folds of the groups; null for one that stays open. */
  groupFolds: (ShapeFold | null)[];
  /** The fold of all its rows; `at`: the band that has its sign. */
  fold: (ShapeFold & { at: 'header' | 'around' }) | null;
  /** The part of its filter that could not run in the database and needs no totals. */
  localFilter: Compiled | null;
  drawers: ShapeDrawer[];
}

/** A plan's rows as closures: how they are grouped, filtered and counted, and nothing of how they look. */
export interface ReportShape {
  plan: ReportPlan;
  /** The outermost drawers, in the order of the page. */
  roots: ShapeDrawer[];
  /** Argument of each total, by slot. */
  totals: Compiled[];
}

const shapeOfDrawer = ({ level, groups, fold, drawers }: PlannedDrawer): ShapeDrawer => ({
  level,
  groups: level.groups.map(({ key }) => compileFormula(key)),
  groupFolds: groups.map((group) => group.fold && prepareFold(group.fold)),
  fold: fold && { ...prepareFold(fold), at: fold.at },
  localFilter: level.localFilter && compileFormula(level.localFilter),
  drawers: drawers.map(shapeOfDrawer),
});

export const shapeOf = (plan: ReportPlan): ReportShape => ({
  plan,
  roots: plan.roots.map(shapeOfDrawer),
  totals: plan.totals.map((total) => compileFormula(total.formula)),
});

/** How the rows of a drawer under one parent row came to their end. */
export interface RowsEnd {
  /** Rows that were visited. */
  count: number;
  /** Rows past the first N: counted in totals, visited one by one never. */
  others: number;
  /** Why not all rows could be read; null when they could. */
  failure: RowProblem | null;
  /** They are closed, so that none of them was told of. */
  isClosed: boolean;
}

/**
 * Is told what is due in the rows of one drawer under one parent row, in order. While it is told of a row or of the group
 * that begins with it, that row is current: formulas read it and its totals. What is told of an end sees the last row.
 * Of what is closed it is told its heading and its footer, and nothing between. Callbacks, not an iterable: a row costs about 20 µs altogether.
 */
export interface DrawerVisitor {
  /** Before anything else. */
  begin(): void;
  /** The first row is current; nothing of it has been told yet. `fold`: the sign of the rows, when it stands here. */
  header(fold: FoldSign | null): Promise<void>;
  /** `group`: 0-based place, outermost first; `isFirst`: the first of its kind inside the group around it. */
  groupBegins(group: number, isFirst: boolean, fold: FoldSign | null): Promise<void>;
  /** What the row adds to whatever it lands on, once it does; null when nothing counts that. */
  rowBegins(landing: (() => void) | null): void;
  /** A row that is closed is counted: what it adds to whatever its heading lands on; null when nothing counts that. */
  hidden(landing: (() => void) | null): void;
  /** The row itself. `number`: its 1-based place. `fold`: the sign of what is inside it, when it stands here. */
  detail(number: number, fold: FoldSign | null): Promise<void>;
  /** Its inner drawers, in any order and way: `walk` goes through the rows of the one at a place, and tells a visitor of it. */
  inner(walk: (place: number, visitor: DrawerVisitor) => Promise<void>): Promise<void>;
  /** What is below the row has been told. Of recursive rows this comes after those below them, outside of their turn. */
  rowEnds(): Promise<void>;
  /** The row's turn is over. */
  rowPassed(): void;
  /** All rows so far have ended: a group is about to end, or the drawer. */
  rowsComplete(): void;
  groupEnds(group: number): Promise<void>;
  end(rows: RowsEnd): Promise<void>;
}
