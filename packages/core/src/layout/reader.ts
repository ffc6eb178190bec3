import type { Level } from '../data/level.ts';
import { type Row, RowCursor, RowProblem, type RowSource } from '../data/rows.ts';

export interface ReadRow {
  row: Row;
  /** 1-based place in the level's whole set of rows; inner rows name it as their parent. */
  ordinal: number;
}

/** A row read ahead, with the rows of its inner drawers. */
export interface HeldRow extends ReadRow {
  inner: ReadonlyMap<Level, HeldRow[]>;
}

/** Shared by all rows without inner drawers, of which there are most. */
const NO_INNER: HeldRow['inner'] = new Map();

/** Whether a row is kept; called with the row already current. */
export type Accept = (level: Level, row: ReadRow) => boolean;

/** Merges the rows of a report's levels: each level is one sorted feed, taken forward only. */
export class RowReader {
  private readonly cursors = new Map<Level, RowCursor>();
  private readonly failures = new Map<Level, RowProblem>();

  constructor(
    levels: readonly Level[],
    source: RowSource,
    private readonly onProblem: (level: Level, problem: RowProblem) => void,
  ) {
    for (const level of levels) this.cursors.set(level, new RowCursor(level, source(level)));
  }

  /** Whether {@link next} can answer without waiting. */
  isReady(level: Level): boolean {
    return this.cursors.get(level)!.ready;
  }

  async wait(level: Level): Promise<void> {
    try {
      await this.cursors.get(level)!.fill();
    } catch (error) {
      if (!(error instanceof RowProblem)) throw error;
      if (!this.failures.has(level)) {
        this.failures.set(level, error);
        this.onProblem(level, error);
      }
      await this.cursors.get(level)!.close();
    }
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

  /** All rows of the level for one parent row, with their inner rows. */
  async hold(level: Level, parent: number, accept: Accept): Promise<HeldRow[]> {
    const held: HeldRow[] = [];
    for (;;) {
      const next = this.next(level, parent);
      if (next === null) return held;
      if (next === undefined) {
        await this.wait(level);
        continue;
      }
      if (level.drawer.first !== undefined && held.length >= level.drawer.first) continue;
      if (accept(level, next)) held.push({ ...next, inner: await this.holdInner(level, next.ordinal, accept) });
    }
  }

  async holdInner(level: Level, ordinal: number, accept: Accept): Promise<ReadonlyMap<Level, HeldRow[]>> {
    if (level.children.length === 0) return NO_INNER;
    const inner = new Map<Level, HeldRow[]>();
    for (const child of level.children) inner.set(child, await this.hold(child, ordinal, accept));
    return inner;
  }

  async close(): Promise<void> {
    for (const cursor of this.cursors.values()) await cursor.close();
  }
}
