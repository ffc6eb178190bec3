import type { Level } from '../data/level.ts';
import type { Row } from '../data/rows.ts';
import { FormulaError, identityOf } from '../value/value.ts';
import { type FoldSign, foldKeyOf } from './folds.ts';
import { type HeldRow, type HeldSet, NO_ROWS, type ReadRow } from './reader.ts';
import type { ReportRows } from './report-rows.ts';
import { depthOf } from './settle.ts';
import type { DrawerVisitor, ShapeDrawer } from './shape.ts';
import { SilentVisitor } from './silent.ts';

/** A recursive row whose inner rows are not complete yet. */
interface OpenRow {
  depth: number;
  row: Row;
  ordinal: number;
  held: HeldRow | null;
}

/** Goes through the rows of one drawer under one parent row, with its groups and inner drawers, and tells a visitor. */
export class DrawerWalk {
  private readonly level: Level;
  private held: HeldSet | null = null;
  private count = 0;
  private others = 0;
  /** Values of the groups that are open, outermost first. */
  private openValues: string[] = [];
  /** How many groups of each kind have been opened. */
  private readonly opened: number[];
  private readonly starts: ReportRows['groupStarts'][number];
  private readonly openRows: OpenRow[] = [];
  private haveGroupsEnded = false;
  /** Who is told, and who is told while nothing is closed. */
  private visitor!: DrawerVisitor;
  private listener!: DrawerVisitor;
  /** Place of the outermost group that is closed now; `all` when all rows are, null when nothing is. */
  private closed: number | 'all' | null = null;
  /** Names the rows around and the drawer, once that is asked for. */
  private path: string | null = null;

  constructor(
    private readonly rows: ReportRows,
    private readonly drawer: ShapeDrawer,
    /** The sign of all its rows where the row around has it. */
    private readonly sign: FoldSign | null = null,
  ) {
    this.level = drawer.level;
    this.opened = drawer.groups.map(() => 0);
    this.starts = rows.groupStarts[drawer.level.index] ??= [];
  }

  /** Starts the totals of the whole set, and reads ahead where they stand before their rows. */
  async open(parent: number, given: HeldSet | null): Promise<void> {
    const { level, rows } = this;
    const { totals, reader } = rows;
    totals.start(level, 'set');
    totals.start(level, 'others');
    rows.context.before[level.index] = null;
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
    const { reader } = this.rows;
    for (;;) {
      const row = reader.peek(this.level, parent);
      if (row !== undefined) return row;
      await reader.wait(this.level);
    }
  }

  private totalAhead(kind: 'set' | 'group' | 'row', group: number, held: readonly HeldRow[]): void {
    const { totals } = this.rows;
    for (const total of totals.heldTotals(this.level, kind, group)) {
      totals.set(total.slot, totals.ofRows(total, this.level, held));
    }
  }

  /** All rows, and the end: tells `visitor` of them. */
  async run(parent: number, visitor: DrawerVisitor): Promise<void> {
    const { rows, level } = this;
    this.listener = visitor;
    this.visitor = visitor;
    this.path = null;
    visitor.begin();
    if (this.sign?.isClosed) this.close('all');
    await this.all(parent);
    await this.endGroups(0);
    const { count, others } = this;
    await visitor.end({ count, others, failure: rows.reader.failure(level), isClosed: this.closed === 'all' });
    // Outside its drawer a row is no longer current.
    delete rows.ordinals[level.index];
    rows.inner[level.index] = null;
    await rows.host.deliver();
  }

  /** Nobody is told of what comes now, until `place` is open again. */
  private close(place: number | 'all'): void {
    this.closed = place;
    this.visitor = new SilentVisitor(this.drawer, (landing) => this.listener.hidden(landing));
  }

  private async all(parent: number): Promise<void> {
    const { level, rows, held } = this;
    const { reader, host } = rows;
    const { first = Number.POSITIVE_INFINITY, others } = level.drawer;
    const hasInner = this.drawer.drawers.length > 0;
    if (held) {
      for (const [i, row] of held.rows.entries()) {
        if (i > 0 && (i & 63) === 0) await host.deliver();
        await this.row(row, row, i);
      }
      for (const row of held.others) {
        await this.absorbOther(row);
        if ((this.others & 255) === 0) await host.deliver();
      }
    } else {
      let passed = 0;
      for (;;) {
        const next = reader.next(level, parent);
        if (next === undefined) await reader.wait(level);
        else if (next === null) break;
        else if (this.count < first && this.accepts(next)) {
          await this.row(next, null, -1);
          // Handing over waits; only do it when there is something to hand over or the run may have been cancelled.
          if ((this.count & 63) === 0 || hasInner) await host.deliver();
        } else {
          if (this.count >= first && others && this.accepts(next))
            await this.absorbOther({ ...next, inner: await reader.holdInner(level, next.ordinal) });
          if ((++passed & 255) === 0) await host.deliver();
        }
      }
    }
    await this.endRows(0);
  }

  /** The filter that could not run in the database, and needs no totals. */
  private accepts({ row }: ReadRow): boolean {
    const { localFilter } = this.drawer;
    if (!localFilter) return true;
    const { context } = this.rows;
    const was = context.rows[this.level.index] ?? null;
    context.rows[this.level.index] = row;
    const found = localFilter(context);
    if (found instanceof FormulaError) this.rows.host.filterFailed(this.level, found);
    const holds = found === true;
    context.rows[this.level.index] = was;
    return holds;
  }

  /** Counts a row past the first N. It belongs to no group that is shown, so the open ones end before. */
  private async absorbOther(row: HeldRow): Promise<void> {
    if (this.others++ === 0) {
      await this.endGroups(0);
      this.rows.totals.rowsOver(this.level);
    }
    this.absorb(this.level, row);
  }

  /** Counts a row with the rows below it, without a visit. */
  private absorb(level: Level, held: HeldRow): void {
    const { context, totals } = this.rows;
    context.rows[level.index] = held.row;
    totals.take(level, held.row, held);
    totals.count(level, true);
    for (const [child, set] of held.inner) for (const row of [...set.rows, ...set.others]) this.absorb(child, row);
  }

  /** One row. `held`: as read ahead, with `index` its place in the set. */
  private async row(next: ReadRow, held: HeldRow | null, index: number): Promise<void> {
    const { level, drawer, rows } = this;
    const { context, totals, ordinals } = rows;
    const depth = level.tree ? depthOf(level, next) : 0;
    if (level.tree) await this.endRows(depth);
    const changed = this.firstChangedGroup(next, held);
    if (changed < level.groups.length && this.count > 0) await this.endGroups(changed);
    context.before[level.index] = this.count > 0 ? (context.rows[level.index] ?? null) : null;
    this.makeCurrent(next, held);
    this.count++;
    rows.host.rowsVisited(1);
    if (this.count === 1) await this.header();
    if (changed < level.groups.length) await this.beginGroups(changed, index, next);
    totals.start(level, 'row');
    let inner = held?.inner ?? null;
    if (!held && totals.isHeld(level, 'row')) {
      inner = await rows.reader.holdInner(level, next.ordinal);
      this.totalAhead('row', 0, [{ ...next, inner }]);
      this.makeCurrent(next, null, false);
    }
    ordinals[level.index] = next.ordinal;
    totals.count(level);
    rows.inner[level.index] = inner;
    const { visitor } = this;
    visitor.rowBegins(totals.landing(level));
    const sign = await this.signInside(next, inner);
    await visitor.detail(this.count, sign);
    if (drawer.drawers.length > 0)
      await visitor.inner((place, inside) => this.walkInner(drawer.drawers[place]!, next, inner, sign, inside));
    if (level.tree) this.openRows.push({ depth, row: next.row, ordinal: next.ordinal, held });
    else await visitor.rowEnds();
    visitor.rowPassed();
  }

  private key(): string {
    this.path ??= this.rows.foldKey(this.level.drawer.id, this.level);
    return this.path;
  }

  private async header(): Promise<void> {
    const { fold } = this.drawer;
    const sign = fold?.at === 'header' ? this.rows.folds.sign(fold, () => this.key(), this.rows.context) : null;
    await this.visitor.header(sign);
    if (sign?.isClosed) this.close('all');
  }

  /** The sign of an inner drawer that stands at the row around it; null when there is none, or nothing to open. */
  private async signInside(next: ReadRow, inner: HeldRow['inner'] | null): Promise<FoldSign | null> {
    if (this.closed !== null) return null;
    const child = this.drawer.drawers.find(({ fold }) => fold?.at === 'around');
    if (!child?.fold) return null;
    const { rows } = this;
    const hasRows = inner ? (inner.get(child.level)?.rows.length ?? 0) > 0 : await this.hasRows(child, next.ordinal);
    if (!hasRows) return null;
    return rows.folds.sign(child.fold, () => rows.foldKey(child.level.drawer.id), rows.context);
  }

  /** Whether an inner drawer has a row below the current one. */
  private async hasRows(child: ShapeDrawer, parent: number): Promise<boolean> {
    const { reader } = this.rows;
    const { level, localFilter } = child;
    // One that needs totals is known only when all rows are read.
    if (!localFilter || level.settlesLocally) {
      let has = reader.has(level, parent);
      while (has === undefined) {
        await reader.wait(level);
        has = reader.has(level, parent);
      }
      return has;
    }
    const walk = new DrawerWalk(this.rows, child);
    for (;;) {
      const row = await walk.peek(parent);
      if (!row || walk.accepts({ row, ordinal: 0 })) return row !== null;
      reader.next(level, parent);
    }
  }

  private makeCurrent(next: ReadRow, held: HeldRow | null, takes = true): void {
    const { level, rows } = this;
    rows.context.rows[level.index] = next.row;
    if (takes) rows.totals.take(level, next.row, held);
  }

  private async walkInner(
    child: ShapeDrawer,
    next: ReadRow,
    inner: HeldRow['inner'] | null,
    sign: FoldSign | null,
    visitor: DrawerVisitor,
  ): Promise<void> {
    const walk = new DrawerWalk(this.rows, child, child.fold?.at === 'around' ? sign : null);
    await walk.open(next.ordinal, inner ? (inner.get(child.level) ?? NO_ROWS) : null);
    await walk.run(next.ordinal, visitor);
    this.rows.context.rows[this.level.index] = next.row;
  }

  /** Ends recursive rows that lie at `depth` or deeper: what is below them is complete. */
  private async endRows(depth: number): Promise<void> {
    while (this.openRows.length > 0 && this.openRows.at(-1)!.depth >= depth) {
      const { row, ordinal, held } = this.openRows.pop()!;
      const { context, totals, ordinals } = this.rows;
      const was = context.rows[this.level.index] ?? null;
      context.rows[this.level.index] = row;
      ordinals[this.level.index] = ordinal;
      totals.take(this.level, row, held);
      await this.visitor.rowEnds();
      context.rows[this.level.index] = was;
    }
    if (depth === 0) this.visitor.rowsComplete();
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
    const { context, totals } = this.rows;
    const { index } = this.level;
    const was = context.rows[index] ?? null;
    context.rows[index] = row;
    if (held) totals.take(this.level, row, held);
    const values = this.drawer.groups.map((key): string => identityOf(key(context)));
    context.rows[index] = was;
    return values;
  }

  private async beginGroups(from: number, index: number, next: ReadRow): Promise<void> {
    const { drawer, rows, level, held } = this;
    for (let g = from; g < drawer.groups.length; g++) {
      this.starts[g] = { ordinal: next.ordinal, inner: held?.rows[index]?.inner ?? null };
      rows.totals.start(level, 'group', g);
      if (held && index >= 0 && rows.totals.isHeld(level, 'group', g)) {
        this.totalAhead('group', g, this.rowsOfGroup(held.rows, index, g));
        this.makeCurrent(held.rows[index]!, held.rows[index]!);
      }
      const sign = this.signOfGroup(g);
      await this.visitor.groupBegins(g, this.opened[g] === 0, sign);
      if (sign?.isClosed) this.close(g);
      this.opened[g]!++;
      // Groups inside start counting anew.
      for (let inner = g + 1; inner < this.opened.length; inner++) this.opened[inner] = 0;
    }
  }

  private signOfGroup(g: number): FoldSign | null {
    const fold = this.drawer.groupFolds[g];
    if (!fold || this.closed !== null) return null;
    const { folds, context } = this.rows;
    return folds.sign(fold, () => foldKeyOf([this.key(), ...this.openValues.slice(0, g + 1)]), context);
  }

  /** Held rows from `index` on that have the same values for the groups up to `g`. */
  private rowsOfGroup(held: readonly HeldRow[], index: number, g: number): HeldRow[] {
    const same = this.openValues.slice(0, g + 1).join('\u0000');
    let end = index + 1;
    while (
      end < held.length &&
      this.groupValues(held[end]!, held[end]!)
        .slice(0, g + 1)
        .join('\u0000') === same
    )
      end++;
    return held.slice(index, end);
  }

  /** Ends the open groups from the innermost to the one at `from`. */
  private async endGroups(from: number): Promise<void> {
    const { groups } = this.drawer;
    if (this.count === 0 || groups.length === 0 || this.haveGroupsEnded) return;
    await this.endRows(0);
    for (let g = groups.length - 1; g >= from; g--) {
      if (this.closed === g) {
        this.closed = null;
        this.visitor = this.listener;
      }
      await this.visitor.groupEnds(g);
    }
    // Others come after the last row that is shown.
    this.haveGroupsEnded = this.others > 0;
  }
}
