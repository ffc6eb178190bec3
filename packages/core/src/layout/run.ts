import type { Level } from '../data/level.ts';
import { readParameters } from '../data/parameters.ts';
import type { TotalPlan } from '../data/reach.ts';
import type { RowProblem, RowSource } from '../data/rows.ts';
import { paperSize } from '../definition/schema.ts';
import type { Compiled, EvaluationContext } from '../formula/context.ts';
import { Accumulator } from '../formula/functions.ts';
import type { Page } from '../page/page.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { Moment } from '../value/date.ts';
import { FormulaError, type Value } from '../value/value.ts';
import { layBand } from './band.ts';
import { type Block, shiftLaid } from './block.ts';
import { ColumnFlow, type Flow, type LateFill, PageFlow } from './flow.ts';
import {
  POINTS,
  type PreparedBand,
  type PreparedDrawer,
  type PreparedReport,
  type PreparedSubreport,
} from './prepare.ts';
import { type HeldRow, type ReadRow, RowReader } from './reader.ts';

export interface LayoutOptions {
  parameters: Record<string, Value>;
  source: RowSource;
  /** Called with each completed page, in order; the layout waits for it, so that pages do not pile up. */
  onPage: (page: Page) => void | Promise<void>;
  runAt?: Moment;
  signal?: AbortSignal;
  maxPages?: number;
  /** Adds region marks, by which a click finds its band and rows. */
  regions?: boolean;
}

export interface LayoutResult {
  pages: number;
  /** Rows laid out, those of nested reports included. */
  rows: number;
  /** Problems met while running; those of the plan are not repeated. */
  problems: Problem[];
  /** What pages lacked because it shows the number of pages. Drawn on top of the pages that were handed over. */
  late: Iterable<LateFill>;
  /** False when a limit ended the run early. */
  complete: boolean;
}

/** The run was cancelled through its signal. */
export class LayoutCancelled extends Error {}

class LimitReached extends Error {}

/** Lays a report out page by page. Memory holds the open page and the rows that a total stands before. */
export const layoutReport = async (prepared: PreparedReport, options: LayoutOptions): Promise<LayoutResult> => {
  const shared: Shared = {
    options,
    runAt: options.runAt ?? new Moment(Date.now()),
    problems: [],
    rows: 0,
    deliver: async () => {},
  };
  const { page } = prepared.report;
  const paper = paperSize(page);
  const { margins } = page;
  const run = new ReportRun(prepared, options.parameters, shared);
  const frame = (name: 'pageHeader' | 'pageFooter') => (place: EvaluationContext['page']) => {
    const band = prepared.bands[name];
    return band ? layBand(band, { ...run.context, page: place }, prepared.book) : null;
  };
  const flow = new PageFlow(
    {
      width: paper.width * POINTS,
      height: paper.height * POINTS,
      top: margins.top * POINTS,
      bottom: margins.bottom * POINTS,
      left: margins.left * POINTS,
    },
    { header: frame('pageHeader'), footer: frame('pageFooter') },
  );
  shared.deliver = async () => {
    if (options.signal?.aborted) throw new LayoutCancelled('The run was cancelled');
    for (let next = flow.finished.shift(); next; next = flow.finished.shift()) {
      await options.onPage(next);
      if (options.maxPages && next.number >= options.maxPages) throw new LimitReached();
    }
  };
  let complete = true;
  try {
    await run.all(flow, 1);
    flow.end();
    await shared.deliver();
  } catch (error) {
    if (!(error instanceof LimitReached)) throw error;
    complete = false;
    flow.end();
    shared.problems.push(problem('too-many-pages', {}, { limit: options.maxPages! }));
  } finally {
    await run.close();
  }
  const pages = complete ? flow.pages : options.maxPages!;
  return { pages, rows: shared.rows, problems: shared.problems, late: flow.lateFills(), complete };
};

interface Shared {
  options: LayoutOptions;
  runAt: Moment;
  problems: Problem[];
  rows: number;
  /** Hands completed pages over, and stops the run when it was cancelled. */
  deliver: () => Promise<void>;
}

/** Room below which a subreport does not start on a page, in points. */
const LEAST_START = 24;

/** One report while it runs. A nested report has one of these for all its instances, since its rows are one stream. */
class ReportRun {
  readonly context: EvaluationContext;
  private readonly reader: RowReader;
  /** Ordinal of the current row, by level. */
  private readonly ordinals: number[] = [];
  private readonly accumulators: Accumulator[];
  /** Totals by the level whose rows they count, and by the level that starts them anew. */
  private readonly countedAt: TotalPlan[][] = [];
  private readonly scoped: Record<TotalPlan['scopeKind'], TotalPlan[][]> = { set: [], row: [] };
  private readonly filters = new Map<Level, Compiled>();
  private readonly nested = new Map<PreparedSubreport, ReportRun>();

  constructor(
    private readonly prepared: PreparedReport,
    parameters: Record<string, Value>,
    private readonly shared: Shared,
  ) {
    const { plan, report } = prepared;
    const { name, timeZone, language } = report;
    this.context = {
      rows: plan.levels.map(() => null),
      parameters,
      totals: plan.totals.map(() => null),
      page: { number: 0, count: null },
      report: { name, timeZone, language, runAt: shared.runAt },
    };
    this.reader = new RowReader(plan.levels, shared.options.source, (level, p) => this.rowsFailed(level, p));
    this.accumulators = plan.totals.map((t) => new Accumulator(t.name));
    for (const level of plan.levels) {
      this.countedAt[level.index] = plan.totals.filter((t) => t.counted === level && !t.ahead);
      for (const kind of ['set', 'row'] as const) {
        this.scoped[kind][level.index] = plan.totals.filter((t) => t.scope === level && t.scopeKind === kind);
      }
    }
    const collect = (drawer: PreparedDrawer): void => {
      if (drawer.localFilter) this.filters.set(drawer.level, drawer.localFilter);
      drawer.drawers.forEach(collect);
    };
    if (prepared.root) collect(prepared.root);
  }

  private rowsFailed(level: Level, p: RowProblem): void {
    const place = { drawer: level.drawer.id, path: `${level.path}/rows` };
    this.shared.problems.push(problem(p.code, place, { drawer: level.drawer.name, ...p.data }));
  }

  async close(): Promise<void> {
    for (const run of this.nested.values()) await run.close();
    await this.reader.close();
  }

  /** The whole report for one parent row (for a report that is not nested: for parent 1). */
  async all(flow: Flow, parent: number): Promise<void> {
    const { root, bands } = this.prepared;
    let held: HeldRow[] | null = null;
    this.startTotals(root?.level ?? null, 'set');
    if (root && this.hasAhead(root.level, 'set')) {
      held = await this.reader.hold(root.level, parent, this.accept);
      this.totalAhead(root.level, 'set', held);
    }
    if (bands.header) await this.band(bands.header, flow);
    if (root) await this.rows(root, parent, held, flow);
    if (bands.footer) {
      this.finishTotals();
      await this.band(bands.footer, flow);
    }
  }

  private async drawer(drawer: PreparedDrawer, parent: number, given: HeldRow[] | null, flow: Flow): Promise<void> {
    const { level } = drawer;
    let held = given;
    this.startTotals(level, 'set');
    if (this.hasAhead(level, 'set')) {
      held ??= await this.reader.hold(level, parent, this.accept);
      this.totalAhead(level, 'set', held);
    }
    await this.rows(drawer, parent, held, flow);
  }

  /** Header, rows with their inner drawers, footer. */
  private async rows(drawer: PreparedDrawer, parent: number, held: HeldRow[] | null, flow: Flow): Promise<void> {
    const { level, bands } = drawer;
    const { context, ordinals, reader, shared } = this;
    const accept = held ? null : this.accept;
    const first = level.drawer.first ?? Number.POSITIVE_INFINITY;
    const aheadRow = this.hasAhead(level, 'row');
    const counted = this.countedAt[level.index]!;
    const hasInner = drawer.drawers.length > 0;
    let count = 0;
    let repeating = false;
    for (let i = 0; ; ) {
      let next: ReadRow | HeldRow | null | undefined;
      if (held) next = held[i++] ?? null;
      else next = reader.next(level, parent);
      if (next === undefined) {
        await reader.wait(level);
        continue;
      }
      if (next === null) break;
      context.rows[level.index] = next.row;
      if (accept && (count >= first || !accept(level, next))) continue;
      ordinals[level.index] = next.ordinal;
      count++;
      shared.rows++;
      if (count === 1 && bands.header) {
        if (bands.header.band.pageBreak === 'before') flow.breakUnlessTop();
        repeating = await this.header(bands.header, flow);
      }
      this.startTotals(level, 'row');
      for (const total of counted) this.accumulators[total.slot]!.add(this.prepared.totals[total.slot]!(context));
      let inner = 'inner' in next ? next.inner : null;
      if (aheadRow) {
        inner ??= await reader.holdInner(level, next.ordinal, this.accept);
        this.totalAhead(level, 'row', [{ ...next, inner }]);
      }
      const { detail, detailFooter } = bands;
      if (detail) {
        const { pageBreak } = detail.band;
        if (pageBreak === 'before' || (pageBreak === 'between' && count > 1)) flow.breakUnlessTop();
        if (detail.subreports.length > 0) await this.band(detail, flow);
        else if (hasInner) flow.hold(this.lay(detail));
        else flow.place(this.lay(detail));
      }
      for (const child of drawer.drawers) {
        await this.drawer(child, next.ordinal, inner ? (inner.get(child.level) ?? []) : null, flow);
        context.rows[level.index] = next.row;
      }
      if (detailFooter) {
        this.finishTotals();
        await this.band(detailFooter, flow);
      }
      if (hasInner) flow.flush();
      if (detail?.band.pageBreak === 'after') flow.breakUnlessTop();
      // Handing pages over waits; only do it when there is something to hand over or the run may have been cancelled.
      if ((count & 63) === 0 || hasInner) await shared.deliver();
    }
    if (repeating) flow.endRepeat();
    if (count === 0) {
      if (bands.empty) await this.band(bands.empty, flow);
      return;
    }
    if (bands.footer) {
      this.finishTotals();
      await this.band(bands.footer, flow);
    }
    await shared.deliver();
  }

  private async header(band: PreparedBand, flow: Flow): Promise<boolean> {
    if (band.subreports.length > 0) {
      await this.band(band, flow);
      return false;
    }
    const block = this.lay(band);
    if (band.band.everyPage) flow.repeat(block);
    flow.hold(block);
    return band.band.everyPage ?? false;
  }

  private lay(band: PreparedBand): Block {
    const block = layBand(band, this.context, this.prepared.book);
    if (this.shared.options.regions) {
      const rows = this.prepared.plan.levels
        .filter((level) => this.ordinals[level.index] !== undefined)
        .map((level) => `${level.drawer.name}:${this.ordinals[level.index]}`)
        .join('/');
      block.marks.push({ kind: 'region', x: 0, y: 0, width: band.width, height: block.height, band: band.key, rows });
    }
    return block;
  }

  private async band(band: PreparedBand, flow: Flow): Promise<void> {
    const { pageBreak } = band.band;
    const isDetail = band.key.endsWith('/detail');
    if (pageBreak === 'before' && !isDetail) flow.breakUnlessTop();
    if (band.subreports.length === 0) flow.place(this.lay(band));
    else await this.bandWithSubreports(band, flow);
    if (pageBreak === 'after' && !isDetail) flow.breakUnlessTop();
  }

  /**
   * What stands above the subreports goes first, then they run side by side, each over as many pages as it needs; what
   * stands below them follows the longest.
   */
  private async bandWithSubreports(band: PreparedBand, flow: Flow): Promise<void> {
    const { subreports } = band;
    const top = Math.min(...subreports.map((s) => s.box.y));
    const bottom = Math.max(...subreports.map((s) => s.box.y + s.box.height));
    const { book } = this.prepared;
    const above = layBand(band, this.context, book, { includes: (i) => i.box.y < top, from: 0, height: top });
    flow.hold(above);
    if (flow.available < LEAST_START) flow.breakUnlessTop();
    const first = flow.available;
    const beside = layBand(band, this.context, book, {
      includes: (i) => i.box.y >= top && i.box.y < bottom,
      from: top,
      height: 0,
    });
    const pages: Block[] = [beside];
    for (const subreport of subreports) {
      const offset = subreport.box.y - top;
      const column = new ColumnFlow(first - offset, flow.full);
      await this.subreport(subreport, column);
      for (const [i, fragment] of column.end().entries()) {
        pages[i] ??= { height: 0, marks: [] };
        const dy = i === 0 ? offset : 0;
        for (const mark of fragment.marks) {
          shiftLaid(mark, subreport.box.x, dy);
          pages[i]!.marks.push(mark);
        }
        pages[i]!.height = Math.max(pages[i]!.height, fragment.height + dy);
      }
    }
    for (const [i, block] of pages.entries()) {
      if (i > 0) flow.breakPage();
      flow.place(block);
    }
    flow.place(
      layBand(band, this.context, book, {
        includes: (i) => i.box.y >= bottom,
        from: bottom,
        height: Math.max(0, band.height - bottom),
      }),
    );
    await this.shared.deliver();
  }

  private async subreport(subreport: PreparedSubreport, flow: Flow): Promise<void> {
    const values: Record<string, Value> = {};
    const { report } = subreport.report;
    for (const { name } of report.parameters) {
      const linked = subreport.links[name]?.(this.context);
      values[name] = linked instanceof FormulaError ? null : (linked ?? this.defaults(subreport)[name] ?? null);
    }
    let run = this.nested.get(subreport);
    if (!run) {
      run = new ReportRun(subreport.report, values, this.shared);
      this.nested.set(subreport, run);
    }
    run.context.parameters = values;
    await run.all(flow, subreport.outer ? (this.ordinals[subreport.outer.index] ?? 0) : 1);
  }

  private defaults(subreport: PreparedSubreport): Record<string, Value> {
    return readParameters(subreport.report.report, {}).values;
  }

  /** The filter that could not run in the database. */
  private readonly accept = (level: Level, { row }: ReadRow): boolean => {
    const filter = this.filters.get(level);
    if (!filter) return true;
    this.context.rows[level.index] = row;
    return filter(this.context) === true;
  };

  private hasAhead(level: Level, kind: TotalPlan['scopeKind']): boolean {
    return this.totalsOf(level, kind).some((t) => t.ahead);
  }

  private totalsOf(level: Level, kind: TotalPlan['scopeKind']): readonly TotalPlan[] {
    return this.scoped[kind][level.index]!;
  }

  private startTotals(level: Level | null, kind: TotalPlan['scopeKind']): void {
    if (level) for (const { slot } of this.totalsOf(level, kind)) this.accumulators[slot]!.reset();
  }

  /** Makes the totals that stand behind their rows readable. */
  private finishTotals(): void {
    for (const { slot, ahead } of this.prepared.plan.totals) {
      if (!ahead) this.context.totals[slot] = this.accumulators[slot]!.result();
    }
  }

  /** Computes the totals that stand before their rows, from rows read ahead. */
  private totalAhead(level: Level, kind: TotalPlan['scopeKind'], held: HeldRow[]): void {
    const totals = this.totalsOf(level, kind).filter((t) => t.ahead);
    const { context } = this;
    const visit = (at: Level, rows: HeldRow[]): void => {
      for (const { row, inner } of rows) {
        context.rows[at.index] = row;
        for (const total of totals) {
          if (total.counted === at) this.accumulators[total.slot]!.add(this.prepared.totals[total.slot]!(context));
        }
        for (const [child, list] of inner) visit(child, list);
      }
    };
    visit(level, held);
    for (const { slot } of totals) context.totals[slot] = this.accumulators[slot]!.result();
  }
}
