import type { Level } from '../data/level.ts';
import { type Row, RowCursor, RowProblem, type RowSource, rowBytes, type WireRow } from '../data/rows.ts';
import { problemText } from '../problems/problem.ts';
import type { Value } from '../value/value.ts';

export interface ReadRow {
  row: Row;
  /** 1-based place in the level's whole set of rows; inner rows name it as their parent. */
  ordinal: number;
}

/** Rows of one level for one parent row, in their order; `others` are those past the first N. */
export interface HeldSet {
  rows: HeldRow[];
  others: HeldRow[];
}

/** A row read ahead, with the rows of its inner drawers. */
export interface HeldRow extends ReadRow {
  inner: ReadonlyMap<Level, HeldSet>;
  /** Totals that were worked out for this row, by slot. */
  totals?: Map<number, Value>;
}

export const NO_ROWS: HeldSet = { rows: [], others: [] };

const MEGABYTE = 1024 * 1024;

/** Shared by all rows without inner drawers, of which there are most. */
const NO_INNER: HeldRow['inner'] = new Map();

/** Filters, sorts and cuts the rows of a level for one parent row, as its drawer says. */
export type Settle = (level: Level, rows: HeldRow[]) => HeldSet;

/** Gives no rows but the reason why. */
async function* refusedFeed(detail: string): AsyncGenerator<WireRow[]> {
  yield [];
  throw new RowProblem('rows-refused', { detail });
}

/** Merges the rows of a report's levels: each level is one sorted feed, taken forward only. */
export class RowReader {
  private readonly cursors = new Map<Level, RowCursor>();
  private readonly failures = new Map<Level, RowProblem>();
  /** Milliseconds spent waiting for rows. */
  waited = 0;
  /** Sets that are being read ahead, one inside another, and their bytes. */
  private holding = 0;
  private ahead = 0;

  constructor(
    levels: readonly Level[],
    source: RowSource,
    private readonly onProblem: (level: Level, problem: RowProblem) => void,
    private readonly settle: Settle,
    /** Throws when the run is over, and lets others have their turn. */
    private readonly pause: () => Promise<void>,
    private readonly signal: AbortSignal | undefined,
    /** Most bytes of rows read ahead at once. */
    private readonly maxAhead: number,
  ) {
    for (const level of levels) {
      if (level.sharedWith || !level.isFetched) continue;
      const feed = level.refused ? refusedFeed(problemText(level.refused)) : source(level);
      this.cursors.set(level, new RowCursor(level, feed));
    }
  }

  /** Why a level's rows could not be read, or not all of them; null as long as they could. */
  failure(level: Level): RowProblem | null {
    return this.failures.get(level) ?? null;
  }

  async wait(level: Level): Promise<void> {
    const started = performance.now();
    try {
      await this.unlessAborted(this.cursors.get(level)!.fill());
    } catch (error) {
      if (!(error instanceof RowProblem)) throw error;
      this.fail(level, error);
    } finally {
      this.waited += performance.now() - started;
    }
  }

  private fail(level: Level, problem: RowProblem): void {
    if (!this.failures.has(level)) {
      this.failures.set(level, problem);
      this.onProblem(level, problem);
    }
    this.cursors.get(level)!.close();
  }

  /** A database that takes its time must not hold up someone who cancels. */
  private async unlessAborted(work: Promise<void>): Promise<void> {
    const { signal } = this;
    if (!signal) return work;
    let stop: (() => void) | null = null;
    const aborted = new Promise<void>((resolve) => {
      stop = resolve;
      signal.addEventListener('abort', stop, { once: true });
    });
    try {
      await Promise.race([work, aborted]);
    } finally {
      signal.removeEventListener('abort', stop!);
    }
    if (signal.aborted) await this.pause();
  }

  /**
   * The next row of the level that belongs to the parent row `parent`; null when there is none left, undefined when rows
   * must be waited for first. Rows of earlier parents, which were left out, are passed over.
   */
  next(level: Level, parent: number): ReadRow | null | undefined {
    const cursor = this.cursors.get(level)!;
    while (cursor.ready) {
      const owner = cursor.peek();
      if (owner === null || owner > parent) return null;
      const row = cursor.take();
      if (owner === parent) return { row, ordinal: cursor.taken };
    }
    return undefined;
  }

  /** Whether the level has a row left for the parent row; undefined when rows must be waited for first. */
  has(level: Level, parent: number): boolean | undefined {
    const cursor = this.cursors.get(level)!;
    while (cursor.ready) {
      const owner = cursor.peek();
      if (owner === null || owner >= parent) return owner === parent;
      cursor.take();
    }
    return undefined;
  }

  /** The row that {@link next} would give, without taking it. */
  peek(level: Level, parent: number): Row | null | undefined {
    const cursor = this.cursors.get(level)!;
    while (cursor.ready) {
      const owner = cursor.peek();
      if (owner === null || owner > parent) return null;
      if (owner === parent) return cursor.look();
      cursor.take();
    }
    return undefined;
  }

  /** All rows of the level for one parent row, with their inner rows, settled. */
  async hold(level: Level, parent: number): Promise<HeldSet> {
    const held: HeldRow[] = [];
    this.holding++;
    try {
      for (;;) {
        const next = this.next(level, parent);
        if (next === null) return this.settle(level, held);
        if (next === undefined) {
          await this.wait(level);
          continue;
        }
        held.push({ ...next, inner: await this.holdInner(level, next.ordinal) });
        this.ahead += rowBytes(next.row);
        if (this.ahead > this.maxAhead) {
          this.fail(level, new RowProblem('too-much-ahead', { limit: Math.ceil(this.maxAhead / MEGABYTE) }));
          // Some of the rows would be sorted, filtered and cut as if they were all.
          return NO_ROWS;
        }
        if ((held.length & 255) === 0) await this.pause();
      }
    } finally {
      if (--this.holding === 0) this.ahead = 0;
    }
  }

  /** Reads the rows of the level for one parent row, and holds none of them. */
  async each(level: Level, parent: number, take: (row: Row) => void): Promise<void> {
    for (let count = 1; ; count++) {
      const next = this.next(level, parent);
      if (next === null) return;
      if (next === undefined) await this.wait(level);
      else take(next.row);
      if ((count & 1023) === 0) await this.pause();
    }
  }

  /** What was read of a level cannot be used as a whole. */
  refuse(level: Level, problem: RowProblem): void {
    this.fail(level, problem);
  }

  async holdInner(level: Level, ordinal: number): Promise<HeldRow['inner']> {
    if (level.children.length === 0) return NO_INNER;
    const inner = new Map<Level, HeldSet>();
    this.holding++;
    try {
      for (const child of level.children) if (child.isFetched) inner.set(child, await this.hold(child, ordinal));
    } finally {
      if (--this.holding === 0) this.ahead = 0;
    }
    return inner;
  }

  close(): void {
    for (const cursor of this.cursors.values()) cursor.close();
  }
}
