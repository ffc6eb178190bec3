import type { Level } from '../data/level.ts';
import type { RowProblem } from '../data/rows.ts';
import { type Problem, problem } from '../problems/problem.ts';
import type { FormulaError } from '../value/value.ts';
import { DrawerWalk } from './drawer-walk.ts';
import type { HeldSet } from './reader.ts';
import type { ReportRows } from './report-rows.ts';
import type { DrawerVisitor, ReportShape } from './shape.ts';

/** The walks through the outermost drawers of one instance of a report, each opened as early as what reads its totals. */
export class RootWalks {
  private readonly walks: DrawerWalk[];
  private readonly isOpen: boolean[];

  constructor(
    private readonly rows: ReportRows,
    private readonly shape: ReportShape,
    private readonly parent: number,
  ) {
    this.walks = shape.roots.map((root) => new DrawerWalk(rows, root));
    this.isOpen = shape.roots.map(() => false);
  }

  /** Opens the first one, and those whose totals stand before their rows. `given`: all rows of the first, where they are at hand. */
  async begin(given: HeldSet | null): Promise<void> {
    const { plan, roots } = this.shape;
    this.rows.instance = this.parent;
    const isAhead = (level: Level): boolean =>
      plan.totals.some(({ when, scope }) => when === 'ahead' && scope.kind === 'set' && scope.level === level);
    for (const [i, { level }] of roots.entries())
      if (i === 0 || isAhead(level)) await this.open(i, i === 0 ? given : null);
  }

  private async open(place: number, given: HeldSet | null): Promise<void> {
    this.isOpen[place] = true;
    await this.walks[place]!.open(this.parent, given);
  }

  /** Goes through the rows of one; those of the sets before it are no longer current. */
  async run(place: number, visitor: DrawerVisitor): Promise<void> {
    const { roots } = this.shape;
    if (!this.isOpen[place]) await this.open(place, null);
    for (const [i, { level }] of roots.entries()) if (i !== place) this.rows.context.rows[level.index] = null;
    await this.walks[place]!.run(this.parent, visitor);
  }
}

/** Rows of a level could not be read, or not all of them. */
export const rowsProblem = (level: Level, { code, data }: Pick<RowProblem, 'code' | 'data'>): Problem =>
  problem(code, level.place('rows'), { drawer: level.drawer.name, ...data });

/** A filter gave an error for a row, which is left out. */
export const filterProblem = (level: Level, { code: error, detail }: FormulaError): Problem =>
  problem('filter-error', level.place('filter'), { drawer: level.drawer.name, error, detail });
