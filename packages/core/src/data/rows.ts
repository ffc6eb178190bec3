import { decodeValue, type DataType, type Value, type WireValue } from '../value/value.ts';
import type { Level } from './level.ts';

/** A row as the layout reads it: column 0 is the 1-based ordinal of its parent row, the rest are the level's columns. */
export type Row = readonly Value[];

/** Rows of one level as they travel: parent ordinal, then the columns. Sorted by parent ordinal, then in their own order. */
export type WireRow = WireValue[];

/** Where a level's rows come from, in batches of any size. */
export type RowFeed = AsyncIterable<WireRow[]>;

/** Gives the feed of a level. Levels of nested reports are asked for with their own plan's levels. */
export type RowSource = (level: Level) => RowFeed;

/** A problem that a feed meets while it runs; the layout shows it and goes on without the rows. */
export class RowProblem extends Error {
  constructor(
    readonly code: 'query-failed' | 'connection-failed' | 'unknown-connection' | 'too-many-rows',
    readonly data: Record<string, string | number>,
  ) {
    super(code);
  }
}

/** Reads a feed row by row. `next` is synchronous while rows are buffered, which keeps awaiting off the fast path. */
export class RowCursor {
  private readonly types: DataType[];
  private batch: WireRow[] = [];
  private at = 0;
  private done = false;
  private readonly iterator: AsyncIterator<WireRow[]>;
  /** How many rows have been taken: the ordinal of the row taken last. */
  taken = 0;

  constructor(level: Level, feed: RowFeed) {
    this.types = level.columns.map((c) => c.field.type);
    this.iterator = feed[Symbol.asyncIterator]();
  }

  /** True when a row, or the end, is known without waiting. */
  get ready(): boolean {
    return this.at < this.batch.length || this.done;
  }

  async fill(): Promise<void> {
    while (!this.ready) {
      const next = await this.iterator.next();
      if (next.done) this.done = true;
      else {
        this.batch = next.value;
        this.at = 0;
      }
    }
  }

  /** Parent ordinal of the row that comes next; null at the end. Call only when {@link ready}. */
  peek(): number | null {
    return this.at < this.batch.length ? Number(this.batch[this.at]![0]) : null;
  }

  /** Call only when {@link peek} is not null. */
  take(): Row {
    const wire = this.batch[this.at++]!;
    this.taken++;
    const row: Value[] = [wire[0] as number];
    for (let i = 0; i < this.types.length; i++) row.push(decodeValue(wire[i + 1] ?? null, this.types[i]!));
    return row;
  }

  async close(): Promise<void> {
    this.done = true;
    this.batch = [];
    await this.iterator.return?.();
  }
}
