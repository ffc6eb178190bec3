import { totalFromState } from '../formula/functions/index.ts';
import type { ProblemData } from '../problems/phrases.ts';
import { decodeValue, Picture, type Value, type WireValue } from '../value/value.ts';
import { type Column, columnType, type Level } from './level.ts';

/** A row as the layout reads it: column 0 is the 1-based ordinal of its parent row, the rest are the level's columns. */
export type Row = readonly Value[];

/** Rows of one level as they travel: parent ordinal, then the columns. Sorted by parent ordinal, then in their own order. */
export type WireRow = WireValue[];

/** Where a level's rows come from, in batches of any size. */
export type RowFeed = AsyncIterable<WireRow[]>;

/** Gives a level's rows: a feed, or all of them decoded already. Levels of nested reports are asked for with their own plan's levels. */
export type RowSource = (level: Level) => RowFeed | readonly Row[];

const decoderOfColumn = (column: Column): ((wire: WireValue) => Value) => {
  const type = columnType(column);
  if (column.kind === 'total' && column.total.name !== 'RANK') {
    const { name } = column.total;
    return (wire) => totalFromState(name, wire, type);
  }
  return (wire) => decodeValue(wire, type);
};

const decoderOf = (level: Level): ((wire: WireRow) => Row) => {
  const decoders = level.columns.map(decoderOfColumn);
  return (wire) => {
    const row: Value[] = [wire[0] as number];
    for (let i = 0; i < decoders.length; i++) row.push(decoders[i]!(wire[i + 1] ?? null));
    return row;
  };
};

/** Decodes rows once that are laid out many times, as for the live page. */
export const decodeRows = (level: Level, rows: readonly WireRow[]): Row[] => rows.map(decoderOf(level));

/** Bytes that a row takes in memory, roughly: a value about as much as a number, texts and pictures by their length. */
export const rowBytes = (row: Row): number => {
  let bytes = 120 + 32 * row.length;
  for (const value of row) {
    if (typeof value === 'string') bytes += value.length;
    else if (value instanceof Picture) bytes += value.base64.length;
  }
  return bytes;
};

/** A problem that a feed meets while it runs; the layout shows it and goes on without the rows. */
export class RowProblem extends Error {
  constructor(
    readonly code:
      | 'query-failed'
      | 'connection-failed'
      | 'unknown-connection'
      | 'too-many-rows'
      | 'too-much-ahead'
      | 'sketch-too-wide'
      | 'rows-refused',
    readonly data: ProblemData,
  ) {
    super(`${code} ${JSON.stringify(data)}`);
  }
}

/** Reads a feed row by row. `next` is synchronous while rows are buffered, which keeps awaiting off the fast path. */
export class RowCursor {
  private readonly decode: (wire: WireRow) => Row;
  private batch: readonly (WireRow | Row)[] = [];
  private at = 0;
  private done = false;
  /** Null when all rows were given, decoded. */
  private readonly iterator: AsyncIterator<WireRow[]> | null;
  /** How many rows have been taken: the ordinal of the row taken last. */
  taken = 0;

  constructor(level: Level, feed: RowFeed | readonly Row[]) {
    this.decode = decoderOf(level);
    this.iterator = Symbol.asyncIterator in feed ? feed[Symbol.asyncIterator]() : null;
    if (!(Symbol.asyncIterator in feed)) {
      this.batch = feed;
      this.done = true;
    }
  }

  /** True when a row, or the end, is known without waiting. */
  get ready(): boolean {
    return this.at < this.batch.length || this.done;
  }

  async fill(): Promise<void> {
    while (!this.ready) {
      const next = await this.iterator?.next();
      if (!next || next.done) this.done = true;
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

  /** The row that comes next, without taking it. Call only when {@link peek} is not null. */
  look(): Row {
    const next = this.batch[this.at]!;
    return this.iterator ? this.decode(next as WireRow) : (next as Row);
  }

  /** Call only when {@link peek} is not null. */
  take(): Row {
    const next = this.batch[this.at++]!;
    this.taken++;
    return this.iterator ? this.decode(next as WireRow) : next;
  }

  /** Lets the feed go. Does not wait for it: it may be waiting itself, for a database that takes its time. */
  close(): void {
    this.done = true;
    this.batch = [];
    this.iterator?.return?.()?.catch(() => {});
  }
}
