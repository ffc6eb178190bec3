import { type DataType, type ProblemValue, SaidError, type WireRow, type WireValue } from '@gaveta/core/internal';
import type { Claims } from '../access/claims.ts';
import type { Statement } from './statement.ts';
import type { ColumnCast } from './types.ts';

/** A running statement whose rows come in batches. `close` may be called at any time, also twice. */
export interface RowStream extends AsyncIterable<WireRow[]> {
  close(): Promise<void>;
}

export interface OpenOptions {
  /** Ends statements that have not given their rows by then. */
  seconds?: number;
  signal?: AbortSignal;
  /** Statements that people wrote by hand run apart from those that Gaveta made, so that they hold up nobody. */
  byHand?: boolean;
  /** All rows come at once: they are few, and several workers of a server look for them, which they do for no cursor. */
  whole?: boolean;
}

/** Column of a statement that was looked at without reading its rows. */
export interface DescribedColumn {
  name: string;
  type: DataType;
}

/** A table, view or function that a database has. */
export interface FoundColumn {
  name: string;
  type: DataType;
  /** How it is read; null: as it is. */
  cast: ColumnCast | null;
  /** The database itself rounds its values. */
  inexact: boolean;
  nullable: boolean;
  isKey: boolean;
  comment: string | null;
}

export interface FoundTable {
  schema: string;
  name: string;
  kind: 'table' | 'view' | 'function';
  /** Null where it is not known, as for functions without a row type. */
  columns: FoundColumn[];
  /** Of a function; `written`: its type as the database writes it. */
  arguments: { name: string; type: DataType; written: string }[];
  /** Foreign keys, to tables by name. */
  references: { to: string; on: Record<string, string> }[];
}

/** What a run needs of a database. Values come as JSON holds them: decimals, dates and times as text. */
export interface ReportDatabase {
  kind: 'database';
  /** Statements before one that was written by hand: they take every right away but that of reading. */
  reader?: string[];
  /** Starts reading statements on one snapshot of the data. A statement that fails does so when its stream is read. */
  open(queries: readonly Statement[], options?: OpenOptions): Promise<RowStream[]>;
  /** The collation with the Unicode root order of texts, as SQL names it; null where there is none. */
  textOrder(): Promise<string | null>;
}

/** A database that reports read, and whose tables and statements people look at. */
export interface DatabaseConnection extends ReportDatabase {
  /** What a statement would give. Throws StatementError when it is wrong. */
  describe(query: Statement, options?: OpenOptions): Promise<DescribedColumn[]>;
  /** Tables, views and functions that the connection can see. */
  tables(): Promise<FoundTable[]>;
  close?(): Promise<void>;
}

/** What rows are asked for. */
export interface WantedField {
  name: string;
  type: DataType;
  /** Nothing needs it: where the source no longer has it, it is blank. Any other that is gone is an error. */
  mayBeGone?: true;
}

/** What travels to another thread of a field. */
export const plainWanted = ({ name, type, mayBeGone }: WantedField): WantedField => ({
  name,
  type,
  ...(mayBeGone ? { mayBeGone } : {}),
});

export interface ReadRequest {
  /** Fields to give, in this order. */
  fields: readonly WantedField[];
  claims: Claims;
  /** Values of the report's parameters, as they travel in JSON. */
  parameters: Readonly<Record<string, WireValue>>;
  signal: AbortSignal;
}

/** Rows that do not come out of a database: files, an HTTP service, the host's own code. */
export interface RowsConnection {
  kind: 'rows';
  /** Names its rows where they are the same as long as the connection is, as those of a file that was uploaded. */
  version?: string;
  /** Rows of an entity of the connection's models, in batches; each row holds the values of the fields asked for. */
  read(entity: string, request: ReadRequest): AsyncIterable<WireRow[]>;
}

export type Connection = DatabaseConnection | RowsConnection;

/** Where the rows of a run come from. */
export type ReportConnection = ReportDatabase | RowsConnection;

/** The database refused a statement. `position`: 0-based character in the statement, where it said so. */
export class StatementError extends SaidError {
  constructor(
    said: ProblemValue,
    readonly position: number | null = null,
  ) {
    super(said);
  }
}

/** The statement was ended: it took longer than it may, or nobody waits for it any more. */
export class StatementEnded extends StatementError {}

/** The database, file or service cannot be reached. */
export class ConnectionError extends SaidError {}
