import type { Level } from '../data/level.ts';
import type { RowProblem, RowSource } from '../data/rows.ts';
import type { EvaluationContext } from '../formula/functions/context.ts';
import type { FormulaError } from '../value/value.ts';
import { type HeldRow, type HeldSet, NO_ROWS, RowReader } from './reader.ts';
import { Settler } from './settle.ts';
import type { ReportShape } from './shape.ts';
import { Totals } from './totals.ts';

/** What a walk asks of whoever runs the report. */
export interface RowsHost {
  source: RowSource;
  signal: AbortSignal | undefined;
  /** Most bytes of rows read ahead at once. */
  maxAhead: number;
  /** Throws when the run is over, and lets others have their turn. */
  pause: () => Promise<void>;
  /** As {@link pause}, where what was made so far can be handed over. */
  deliver: () => Promise<void>;
  /** A row was visited. */
  rowVisited: () => void;
  rowsFailed: (level: Level, problem: RowProblem) => void;
  /** A filter gave an error for a row, which is left out. */
  filterFailed: (level: Level, error: FormulaError) => void;
}

/** The rows of one report while it runs: where each level stands, its totals, and what formulas see. */
export class ReportRows {
  readonly totals: Totals;
  readonly context: EvaluationContext;
  readonly reader: RowReader;
  /** Ordinal of the current row, by level. */
  readonly ordinals: number[] = [];
  /** Rows below the current one that were read ahead with it, by level; null when they were not. */
  readonly inner: (HeldRow['inner'] | null)[] = [];

  constructor(
    shape: ReportShape,
    context: Pick<EvaluationContext, 'parameters' | 'page' | 'report'>,
    readonly host: RowsHost,
  ) {
    const { plan } = shape;
    this.totals = new Totals(plan.totals, shape.totals, plan.levels, {
      ...context,
      functions: plan.functions,
      rows: plan.levels.map(() => null),
      before: plan.levels.map(() => null),
    });
    this.context = this.totals.context;
    const settler = new Settler(this.totals, new Intl.Collator(context.report.language), host.filterFailed);
    const failed = (level: Level, problem: RowProblem): void => {
      this.totals.fail(level);
      host.rowsFailed(level, problem);
    };
    const { source, pause, signal, maxAhead } = host;
    this.reader = new RowReader(plan.levels, source, failed, settler.settle, pause, signal, maxAhead);
  }

  /** The rows of an item's own level for the row that is current around it. */
  async ofItem(level: Level): Promise<HeldSet> {
    const { parent } = level;
    const inner = parent && this.inner[parent.index];
    if (inner) return inner.get(level) ?? NO_ROWS;
    return this.reader.hold(level, parent ? (this.ordinals[parent.index] ?? 0) : 1);
  }

  close(): void {
    this.reader.close();
  }
}
