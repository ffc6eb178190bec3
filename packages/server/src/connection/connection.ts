import type { WireRow } from '@gaveta/core';
import type { Query } from '../sql/level-query.ts';

/** A running statement whose rows come in batches. `close` may be called at any time, also twice. */
export interface RowStream extends AsyncIterable<WireRow[]> {
  close(): Promise<void>;
}

/** A database that reports read. Values come as JSON holds them: decimals, dates and times as text. */
export interface Connection {
  /** Starts reading statements on one snapshot of the data. A statement that fails does so when its stream is read. */
  open(queries: readonly Query[]): Promise<RowStream[]>;
  /** The collation with the Unicode root order of texts, as SQL names it; null where there is none. */
  textOrder(): Promise<string | null>;
}

/** The database refused a statement. */
export class StatementError extends Error {}

/** The database cannot be reached. */
export class ConnectionError extends Error {}
