import type { Level } from '../data/level.ts';
import type { Row } from '../data/rows.ts';
import { FormulaError, identityOf } from '../value/value.ts';
import { sideBySide } from './beside.ts';
import { type Block, mergeBlock } from './block.ts';
import { ColumnFlow, ColumnsFlow, type Flow } from './flow.ts';
import { POINTS, type PreparedBand, type PreparedDrawer } from './prepared.ts';
import { type HeldRow, type HeldSet, NO_ROWS, type ReadRow } from './reader.ts';
import type { ReportRun } from './report-run.ts';
import { depthOf } from './settle.ts';

/** A recursive row whose inner rows are not complete yet. */
interface OpenRow {
  depth: number;
  row: Row;
  ordinal: number;
  held: HeldRow | null;
}

/** The rows of one drawer under one parent row: its bands, groups and inner drawers, in order. */
export class DrawerRun {
  private readonly level: Level;
  private held: HeldSet | null = null;
  private count = 0;
  /** Values of the groups that are open, outermost first. */
  private openValues: string[] = [];
  /** How many groups of each kind have been opened. */
  private readonly opened: number[];
  private readonly repeating: boolean[];
  private isHeaderRepeating = false;
  /** Rows that the keep around the header still waits for; 0 when there is none. */
  private keptRows = 0;
  private readonly openRows: OpenRow[] = [];
  private cells: Block[][] = [];
  private rowsFlow: Flow | null = null;

  constructor(
    private readonly report: ReportRun,
    private readonly drawer: PreparedDrawer,
  ) {
    this.level = drawer.level;
    this.opened = drawer.groups.map(() => 0);
    this.repeating = drawer.groups.map(() => false);
  }

  /** Starts the totals of the whole set, and reads ahead where they stand before their rows. */
  async open(parent: number, given: HeldSet | null): Promise<void> {
    const { level, report } = this;
    const { totals, reader } = report;
    totals.start(level, 'set');
    totals.start(level, 'others');
    report.context.before[level.index] = null;
    this.held = given;
    const groups = level.groups.some((_, g) => totals.isHeld(level, 'group', g));
    const ahead = level.settlesLocally || groups || totals.isHeld(level, 'set') || totals.heldRanks(level).length > 0;
    if (ahead && !level.sharedWith) this.held ??= await reader.hold(level, parent);
    if (this.held) {
      const all = [...this.held.rows, ...this.held.others];
      this.totalAhead('set', 0, all);
      if (all[0]) totals.take(level, all[0].row, all[0]);
      return;
    }
    // The first row brings the totals that the database has worked out for all of them.
    if (level.sharedWith || level.columns.every((c) => c.kind !== 'total')) return;
    const first = await this.peek(parent);
    if (first) totals.take(level, first, null);
  }

  private async peek(parent: number): Promise<Row | null> {
    const { reader } = this.report;
    for (;;) {
      const row = reader.peek(this.level, parent);
      if (row !== undefined) return row;
      await reader.wait(this.level);
    }
  }

  private totalAhead(kind: 'set' | 'group' | 'row', group: number, rows: readonly HeldRow[]): void {
    const { totals } = this.report;
    for (const total of totals.heldTotals(this.level, kind, group)) {
      totals.set(total.slot, totals.ofRows(total, this.level, rows));
    }
  }

  /** Header, rows with their inner drawers, footer. */
  async run(parent: number, flow: Flow): Promise<void> {
    const { drawer, report, level } = this;
    const { bands } = drawer;
    if (drawer.drawer.keepWhole) flow.beginKeep();
    await this.rows(parent, flow);
    await this.closeGroups(0, flow);
    this.endHeaderKeep(flow);
    if (this.isHeaderRepeating) flow.endRepeat();
    report.noteFailure(drawer, flow);
    if (this.count === 0) {
      if (bands.empty && !report.reader.failure(level)) await report.band(bands.empty, flow);
    } else {
      if (bands.others && this.othersCount > 0) await report.band(bands.others, flow);
      if (bands.footer) await report.band(bands.footer, flow);
    }
    if (drawer.drawer.keepWhole) flow.endKeep();
    // Outside its drawer a row is no longer current.
    delete report.ordinals[level.index];
    await report.shared.deliver();
  }

  private othersCount = 0;

  private async rows(parent: number, flow: Flow): Promise<void> {
    const { level, report, held } = this;
    const { reader, shared } = report;
    const { first = Number.POSITIVE_INFINITY, others } = level.drawer;
    const hasInner = this.drawer.drawers.length > 0;
    if (held) {
      for (const [i, row] of held.rows.entries()) {
        if (i > 0 && (i & 63) === 0) await shared.deliver();
        await this.row(row, row, flow, i);
      }
      for (const row of held.others) {
        this.absorb(level, row);
        if ((++this.othersCount & 255) === 0) await shared.deliver();
      }
    } else {
      let passed = 0;
      for (;;) {
        const next = reader.next(level, parent);
        if (next === undefined) await reader.wait(level);
        else if (next === null) break;
        else if (this.count < first && this.accepts(next)) {
          await this.row(next, null, flow, -1);
          // Handing pages over waits; only do it when there is something to hand over or the run may have been cancelled.
          if ((this.count & 63) === 0 || hasInner) await shared.deliver();
        } else {
          if (this.count >= first && others && this.accepts(next)) {
            this.othersCount++;
            this.absorb(level, { ...next, inner: await reader.holdInner(level, next.ordinal) });
          }
          if ((++passed & 255) === 0) await shared.deliver();
        }
      }
    }
    await this.closeRows(0, flow);
  }

  /** The filter that could not run in the database, and needs no totals. */
  private accepts({ row }: ReadRow): boolean {
    const { localFilter } = this.drawer;
    if (!localFilter) return true;
    const { context } = this.report;
    const was = context.rows[this.level.index] ?? null;
    context.rows[this.level.index] = row;
    const found = localFilter(context);
    if (found instanceof FormulaError) this.report.filterFailed(this.level, found);
    const holds = found === true;
    context.rows[this.level.index] = was;
    return holds;
  }

  /** Counts a row past the first N, with the rows below it, without showing it. */
  private absorb(level: Level, held: HeldRow): void {
    const { context, totals } = this.report;
    context.rows[level.index] = held.row;
    totals.take(level, held.row, held);
    totals.count(level, true);
    for (const [child, set] of held.inner) for (const row of [...set.rows, ...set.others]) this.absorb(child, row);
  }

  /** One row. `held`: as read ahead, with `index` its place in the set. */
  private async row(next: ReadRow, held: HeldRow | null, flow: Flow, index: number): Promise<void> {
    const { level, drawer, report } = this;
    const { context, totals, ordinals, shared } = report;
    const depth = level.tree ? depthOf(level, next) : 0;
    if (level.tree) await this.closeRows(depth, flow);
    const changed = this.firstChangedGroup(next, held);
    if (changed < level.groups.length && this.count > 0) await this.closeGroups(changed, flow);
    context.before[level.index] = this.count > 0 ? (context.rows[level.index] ?? null) : null;
    this.makeCurrent(next, held);
    this.count++;
    shared.rows++;
    if (this.count === 1 && drawer.bands.header) await this.header(drawer.bands.header, flow);
    if (changed < level.groups.length) await this.openGroups(changed, flow, index);
    totals.start(level, 'row');
    let inner = held?.inner ?? null;
    if (!held && totals.isHeld(level, 'row')) {
      inner = await report.reader.holdInner(level, next.ordinal);
      this.totalAhead('row', 0, [{ ...next, inner }]);
      this.makeCurrent(next, null, false);
    }
    totals.count(level);
    report.willLand(totals.landing(level));
    ordinals[level.index] = next.ordinal;
    const keeps = drawer.drawer.keepRow ?? false;
    const target = this.flowForRow(flow);
    if (keeps) target.beginKeep();
    await this.detail(target);
    await this.innerDrawers(next, inner, target);
    if (level.tree) this.openRows.push({ depth, row: next.row, ordinal: next.ordinal, held });
    else await this.afterRow(target);
    if (keeps) target.endKeep();
    if (drawer.columns?.order === 'across') this.cells.push((target as ColumnFlow).end());
    if (drawer.columns?.order === 'across' && this.cells.length === drawer.columns.count) this.placeCells(flow);
    this.countKeptRow(flow);
  }

  private makeCurrent(next: ReadRow, held: HeldRow | null, takes = true): void {
    const { level, report } = this;
    report.context.rows[level.index] = next.row;
    if (takes) report.totals.take(level, next.row, held);
  }

  private async detail(flow: Flow): Promise<void> {
    const { drawer, report } = this;
    const { detail } = drawer.bands;
    if (!detail) return;
    report.breakBefore(detail, flow, this.count === 1);
    const isSecond = this.count % 2 === 0;
    const alternate = isSecond ? (drawer.drawer.alternate ?? null) : null;
    if (detail.subreports.length > 0 || drawer.drawers.length === 0 || detail.band.atBottom)
      await report.bandHere(detail, flow, alternate);
    else {
      const block = report.lay(detail, flow, alternate);
      if (block) flow.hold(block);
    }
  }

  /** Inner drawers one after the other; those that stand beside others run side by side. */
  private async innerDrawers(next: ReadRow, inner: HeldRow['inner'] | null, flow: Flow): Promise<void> {
    const { drawer } = this;
    for (let i = 0; i < drawer.drawers.length; ) {
      const beside: PreparedDrawer[] = [];
      while (drawer.drawers[i]?.drawer.beside) beside.push(drawer.drawers[i++]!);
      if (beside.length === 0) {
        await this.fill(drawer.drawers[i++]!, next, inner, flow);
        continue;
      }
      const columns = beside.map((child) => ({
        x: child.drawer.beside!.x * POINTS,
        y: 0,
        fill: (column: Flow) => this.fill(child, next, inner, column),
      }));
      await sideBySide(flow, columns, { height: 0, marks: [] });
    }
  }

  private async fill(child: PreparedDrawer, next: ReadRow, inner: HeldRow['inner'] | null, flow: Flow): Promise<void> {
    const rows = new DrawerRun(this.report, child);
    await rows.open(next.ordinal, inner ? (inner.get(child.level) ?? NO_ROWS) : null);
    await rows.run(next.ordinal, flow);
    this.report.context.rows[this.level.index] = next.row;
  }

  /** What follows a row's inner drawers. */
  private async afterRow(flow: Flow): Promise<void> {
    const { report, drawer } = this;
    const { detail, detailFooter } = drawer.bands;
    if (detailFooter) await report.band(detailFooter, flow);
    if (drawer.drawers.length > 0) flow.flush();
    if (detail) report.breakAfter(detail, flow);
  }

  /** Ends recursive rows that lie at `depth` or deeper: what is below them is complete. */
  private async closeRows(depth: number, flow: Flow): Promise<void> {
    while (this.openRows.length > 0 && this.openRows.at(-1)!.depth >= depth) {
      const { row, ordinal, held } = this.openRows.pop()!;
      const { context, totals, ordinals } = this.report;
      const was = context.rows[this.level.index] ?? null;
      context.rows[this.level.index] = row;
      ordinals[this.level.index] = ordinal;
      totals.take(this.level, row, held);
      await this.afterRow(flow);
      context.rows[this.level.index] = was;
    }
    if (depth === 0 && this.cells.length > 0) this.placeCells(flow);
    if (depth === 0 && this.rowsFlow instanceof ColumnsFlow) {
      this.rowsFlow.end();
      this.rowsFlow = null;
    }
  }

  /** Where the next row goes: into the flow itself, or into a column. */
  private flowForRow(flow: Flow): Flow {
    const { columns } = this.drawer;
    if (!columns) return flow;
    if (columns.order === 'across') return new ColumnFlow(flow.full, flow.full, flow.pageNumber);
    if (!this.rowsFlow) {
      flow.flush();
      this.rowsFlow = new ColumnsFlow(flow, columns.count, columns.step);
    }
    return this.rowsFlow;
  }

  /** Puts a line of cells down, as one block that is as high as the highest. */
  private placeCells(flow: Flow): void {
    const { step } = this.drawer.columns!;
    const pages: Block[] = [];
    for (const [i, fragments] of this.cells.entries()) {
      for (const [page, fragment] of fragments.entries()) {
        pages[page] ??= { height: 0, marks: [] };
        mergeBlock(pages[page]!, fragment, i * step, 0);
      }
    }
    this.cells = [];
    for (const [i, block] of pages.entries()) {
      if (i > 0) flow.breakPage();
      flow.place(block);
    }
  }

  private async header(band: PreparedBand, flow: Flow): Promise<void> {
    this.report.breakBefore(band, flow, true);
    const { keepWith = 1 } = band.band;
    if (keepWith > 1) {
      flow.beginKeep();
      this.keptRows = keepWith;
    }
    this.isHeaderRepeating = await this.holdHeader(band, flow, keepWith);
  }

  /** Lays a header out and keeps it with what follows; gives whether it stands on every page from now on. */
  private async holdHeader(band: PreparedBand, flow: Flow, keepWith: number): Promise<boolean> {
    if (band.subreports.length > 0) {
      await this.report.bandHere(band, flow);
      return false;
    }
    const block = this.report.lay(band, flow);
    if (!block) return false;
    if (band.band.everyPage) block.repeats = true;
    if (keepWith > 0) flow.hold(block);
    else flow.place(block);
    return band.band.everyPage ?? false;
  }

  private countKeptRow(flow: Flow): void {
    if (this.keptRows > 0 && --this.keptRows === 0) flow.endKeep();
  }

  private endHeaderKeep(flow: Flow): void {
    if (this.keptRows === 0) return;
    this.keptRows = 0;
    flow.endKeep();
  }

  /** 0-based place of the outermost group that the row starts anew; the number of groups when it starts none. */
  private firstChangedGroup(next: ReadRow, held: HeldRow | null): number {
    const { groups } = this.drawer;
    if (groups.length === 0) return 0;
    const values = this.groupValues(next, held);
    const changed = this.count === 0 ? 0 : values.findIndex((value, g) => value !== this.openValues[g]);
    this.openValues = values;
    return changed < 0 ? groups.length : changed;
  }

  private groupValues({ row }: ReadRow, held: HeldRow | null): string[] {
    const { context, totals } = this.report;
    const { index } = this.level;
    const was = context.rows[index] ?? null;
    context.rows[index] = row;
    if (held) totals.take(this.level, row, held);
    const values = this.drawer.groups.map(({ key }): string => identityOf(key(context)));
    context.rows[index] = was;
    return values;
  }

  private async openGroups(from: number, flow: Flow, index: number): Promise<void> {
    const { drawer, report, level, held } = this;
    for (let g = from; g < drawer.groups.length; g++) {
      report.totals.start(level, 'group', g);
      if (held && index >= 0 && report.totals.isHeld(level, 'group', g)) {
        this.totalAhead('group', g, this.rowsOfGroup(held.rows, index, g));
        this.makeCurrent(held.rows[index]!, held.rows[index]!);
      }
      const { header } = drawer.groups[g]!;
      if (header) report.breakBefore(header, flow, this.opened[g] === 0);
      if (level.groups[g]!.group.keepWhole) flow.beginKeep();
      this.opened[g]!++;
      if (header) this.repeating[g] = await this.holdHeader(header, flow, header.band.keepWith ?? 1);
      // Groups inside start counting anew.
      for (let inner = g + 1; inner < this.opened.length; inner++) this.opened[inner] = 0;
    }
  }

  /** Held rows from `index` on that have the same values for the groups up to `g`. */
  private rowsOfGroup(rows: readonly HeldRow[], index: number, g: number): HeldRow[] {
    const same = this.openValues.slice(0, g + 1).join('\u0000');
    let end = index + 1;
    while (
      end < rows.length &&
      this.groupValues(rows[end]!, rows[end]!)
        .slice(0, g + 1)
        .join('\u0000') === same
    )
      end++;
    return rows.slice(index, end);
  }

  /** Ends the open groups from the innermost to the one at `from`. */
  private async closeGroups(from: number, flow: Flow): Promise<void> {
    const { drawer, report, level } = this;
    if (this.count === 0) return;
    if (drawer.groups.length > 0) await this.closeRows(0, flow);
    for (let g = drawer.groups.length - 1; g >= from; g--) {
      const { footer, header } = drawer.groups[g]!;
      if (footer) await report.band(footer, flow);
      if (this.repeating[g]) flow.endRepeat();
      this.repeating[g] = false;
      flow.flush();
      if (level.groups[g]!.group.keepWhole) flow.endKeep();
      if (header) report.breakAfter(header, flow);
    }
  }
}
