import type { Level, TotalScope } from '../data/level.ts';
import type { ReportPlan } from '../data/planned.ts';
import { type Row, RowProblem, type RowSource } from '../data/rows.ts';
import type { PlannedSummary, SummaryPart } from '../data/summary.ts';
import type { EvaluationContext } from '../formula/functions/context.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { type TextOrder, textOrderOf } from '../text/text-order.ts';
import { FormulaError, List, valueText } from '../value/value.ts';
import { Folds, foldKeyOf } from './folds.ts';
import { type HeldRow, type HeldSet, NO_ROWS, RowReader } from './reader.ts';
import { Settler } from './settle.ts';
import type { ReportShape } from './shape.ts';
import { addGroup, addValues, CellTable, type PreparedPart, type PreparedSummary } from './summary.ts';
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
  /** Rows were visited, or counted in groups. */
  rowsVisited: (count: number) => void;
  rowsFailed: (level: Level, problem: RowProblem) => void;
  /** A filter gave an error for a row, which is left out. */
  filterFailed: (level: Level, error: FormulaError) => void;
  /** What is closed; nothing but what starts so when it is left out. */
  folds?: Folds;
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

  /** The first row of each group that is open, by level and place. */
  readonly groupStarts: { ordinal: number; inner: HeldRow['inner'] | null }[][] = [];
  /** Which instance of a nested report this is, by the row around it; 1 for a report that is not nested. */
  instance = 1;
  /** Names the rows around this instance of a nested report. */
  outerPath = '';
  readonly folds: Folds;
  private readonly texts: TextOrder;
  private readonly plan: ReportPlan;
  private readonly itemRows = new Map<Level, { ordinal: number; rows: HeldSet }>();
  private readonly tables = new Map<PlannedSummary, { ordinals: (number | null)[]; table: CellTable }>();

  constructor(
    shape: ReportShape,
    context: Pick<EvaluationContext, 'parameters' | 'page' | 'report'>,
    readonly host: RowsHost,
  ) {
    const { plan } = shape;
    this.plan = plan;
    this.folds = host.folds ?? new Folds();
    this.totals = new Totals(plan.totals, shape.totals, plan.levels, {
      ...context,
      functions: plan.functions,
      rows: plan.levels.map(() => null),
      before: plan.levels.map(() => null),
    });
    this.context = this.totals.context;
    this.texts = textOrderOf(context.report.language);
    const settler = new Settler(this.totals, this.texts, host.filterFailed);
    const failed = (level: Level, problem: RowProblem): void => {
      this.totals.fail(level);
      host.rowsFailed(level, problem);
    };
    const { source, pause, signal, maxAhead } = host;
    this.reader = new RowReader(plan.levels, source, failed, settler.settle, pause, signal, maxAhead);
  }

  /** Names the rows that are current, outer ones first, but for those of a level; see RegionMark. */
  rowPath(without: Level | null = null): string {
    let path = this.outerPath;
    for (const level of this.plan.levels) {
      if (level === without) continue;
      const ordinal = this.ordinals[level.index];
      if (ordinal !== undefined) path += `${path && '/'}${level.drawer.name}:${this.rowName(level, ordinal)}`;
    }
    return path;
  }

  /** Names what is folded: the rows around it, and its drawer or item. `without`: the level of the rows that are folded. */
  foldKey(id: string, without: Level | null = null): string {
    return foldKeyOf([this.rowPath(without), ...(this.plan.link ? [this.plan.link.item] : []), id]);
  }

  private rowName(level: Level, ordinal: number): string {
    const key = level.keyColumn > 0 ? this.context.rows[level.index]?.[level.keyColumn] : null;
    return key == null ? `#${ordinal}` : encodeURIComponent(valueText(key));
  }

  /** The rows of an item's own level for the row that is current around it. */
  async ofItem(level: Level): Promise<HeldSet> {
    const { parent } = level;
    const inner = parent && this.inner[parent.index];
    if (inner) return inner.get(level) ?? NO_ROWS;
    const ordinal = parent ? (this.ordinals[parent.index] ?? 0) : this.instance;
    const read = this.itemRows.get(level);
    // Rows that hang on no row are the same each time their item is shown; a feed gives them once.
    if (read?.ordinal === ordinal) return read.rows;
    const rows = await this.reader.hold(level, ordinal);
    this.itemRows.set(level, { ordinal, rows });
    return rows;
  }

  /** The current row of the report around a nested one as its only row. */
  async sharedRow(row: Row, ordinal: number): Promise<HeldSet> {
    const [level] = this.plan.roots;
    if (!level) return NO_ROWS;
    return { rows: [{ row, ordinal, inner: await this.reader.holdInner(level.level, ordinal) }], others: [] };
  }

  /** The cells of an item that groups rows, for the row or group that is current around it, or why there are none. */
  async cellsOf(prepared: PreparedSummary): Promise<CellTable | FormulaError | Problem> {
    const { summary, parts, totals, downKeys } = prepared;
    const read = this.tables.get(summary);
    const ordinals = parts.map(({ part }) => this.instanceOf(part, summary.scope));
    if (read && !ordinals.includes(null) && String(read.ordinals) === String(ordinals)) return read.table;
    const table = new CellTable(downKeys, summary.keys.length, totals, this.host.maxAhead, this.texts);
    for (const [i, one] of parts.entries()) {
      const failure = await this.fill(table, one, prepared, ordinals[i] ?? null);
      if (failure) return failure;
    }
    this.host.rowsVisited(table.count);
    this.tables.set(summary, { ordinals, table });
    return table;
  }

  /** Which instance of a part's rows belongs to what is current; null where rows are not numbered by instances. */
  private instanceOf({ level, listed, counted }: SummaryPart, scope: TotalScope): number | null {
    if (listed) return null;
    const parent = (level ?? counted).parent;
    if (!parent) return this.instance;
    if (level && scope.kind === 'group') return this.groupStarts[parent.index]?.[scope.group]?.ordinal ?? 0;
    return this.ordinals[parent.index] ?? 0;
  }

  private async fill(
    table: CellTable,
    one: PreparedPart,
    { summary }: PreparedSummary,
    ordinal: number | null,
  ): Promise<FormulaError | Problem | null> {
    const { part } = one;
    const { level, listed, counted } = part;
    const keys = summary.keys.length;
    const { reader, totals, context } = this;
    if (listed) {
      const found = totals.value(listed.slot);
      if (found instanceof FormulaError) return found;
      for (const row of found instanceof List ? found.values : [])
        if (row instanceof List) addValues(table, one, keys, row.values);
      return null;
    }
    const source = level ?? counted;
    try {
      if (level) {
        const inner = this.heldAt(level, summary.scope);
        if (inner) for (const { row } of (inner.get(level) ?? NO_ROWS).rows) addGroup(table, one, keys, row);
        else await reader.each(level, ordinal!, (row) => addGroup(table, one, keys, row));
      } else {
        const formulas = [...one.keys, ...one.arguments];
        for (const { row } of (await this.ofItem(counted)).rows) {
          context.rows[counted.index] = row;
          addValues(
            table,
            one,
            keys,
            formulas.map((formula) => formula(context)),
          );
        }
        context.rows[counted.index] = null;
      }
    } catch (error) {
      if (!(error instanceof RowProblem)) throw error;
      reader.refuse(source, error);
    }
    const failure = reader.failure(source);
    return failure && problem(failure.code, source.place('rows'), { drawer: source.drawer.name, ...failure.data });
  }

  /** The rows of a level of groups that were read ahead with the row that they hang on; null when they were not. */
  private heldAt({ parent }: Level, scope: TotalScope): HeldRow['inner'] | null {
    if (!parent) return null;
    if (scope.kind === 'group') return this.groupStarts[parent.index]?.[scope.group]?.inner ?? null;
    return this.inner[parent.index] ?? null;
  }

  close(): void {
    this.reader.close();
  }
}
