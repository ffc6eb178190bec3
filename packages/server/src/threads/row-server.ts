import type { WireRow } from '@gaveta/core/internal';
import type { Claims } from '../access/claims.ts';
import type { ReportConnection, ReportDatabase } from '../connection/connection.ts';
import type { RegisteredModel, RowScope } from '../model/define.ts';
import type { Bench } from '../staging/workbench.ts';
import { type PlainConnection, type PlainScope, type RowCalls, WORKBENCH } from './job.ts';

/** Where a report's rows come from. */
export interface ReportRows {
  models: ReadonlyMap<string, RegisteredModel>;
  /** Changes when the models do. */
  modelsKey: string;
  connections: ReadonlyMap<string, ReportConnection>;
  /** Where rows of several sources come together; asked for only when it is needed. */
  workbench: () => Bench;
}

export const plainConnections = (connections: ReportRows['connections']): PlainConnection[] =>
  [...connections].map(([name, connection]) => ({
    name,
    kind: connection.kind,
    reader: (connection.kind === 'database' && connection.reader) || null,
  }));

/**
 * Gives a report's thread rows of the connections, which stay where they are. Whatever was opened for it and is still
 * there in the end, as because the thread was ended, is closed by `close`.
 */
export class RowServer {
  private readonly streams = new Map<number, { rows: AsyncIterator<WireRow[]>; close: () => Promise<unknown> }>();
  private readonly tables = new Set<string>();
  private readonly ended = new AbortController();
  private made = 0;

  constructor(
    private readonly rows: ReportRows,
    private readonly claims: Claims,
    /** Seconds that a statement may take. */
    private readonly seconds: number,
  ) {}

  readonly calls: RowCalls = {
    models: async () =>
      [...this.rows.models.values()].map(({ model, connection, tables }) => ({
        model,
        connection,
        tables: new Map([...tables].map(([name, { scope: _, ...table }]) => [name, table])),
      })),
    scopes: async (models) =>
      new Map(
        models.map((name) => {
          const tables = this.rows.models.get(name)?.tables ?? new Map();
          return [name, new Map([...tables].map(([entity, { scope }]) => [entity, this.scopeOf(scope)]))];
        }),
      ),
    unfitClaim: async (model, entity, claim, wanted) => {
      this.rows.models.get(model)?.unfitClaim?.(entity, claim, wanted);
    },
    textOrder: (connection) => this.database(connection).textOrder(),
    open: async (connection, queries, byHand) => {
      const { signal } = this.ended;
      const streams = await this.database(connection).open(queries, { signal, seconds: this.seconds, byHand });
      return streams.map((stream) => this.keep(stream[Symbol.asyncIterator](), () => stream.close()));
    },
    read: async (name, entity, asked) => {
      const connection = this.rows.connections.get(name);
      if (connection?.kind !== 'rows') throw new Error(`“${name}” gives no rows by itself`);
      const request = { ...asked, claims: this.claims, signal: this.ended.signal };
      const rows = connection.read(entity, request)[Symbol.asyncIterator]();
      // The host's code may hear no signal: whoever closes its rows does not wait for it.
      return this.keep(rows, async () => void rows.return?.().catch(() => {}));
    },
    next: async (stream) => {
      const found = this.streams.get(stream);
      if (!found) throw new Error('these rows were closed');
      const { done, value } = await found.rows.next();
      return done ? null : value;
    },
    end: (stream) => this.end(stream),
    make: async (columns, apart) => {
      const table = await this.rows.workbench().make(columns, this.ended.signal, apart);
      this.tables.add(table);
      return table;
    },
    copy: (table, csv) => this.rows.workbench().copy(table, csv, this.ended.signal),
    ready: (table) => this.rows.workbench().ready(table, this.ended.signal),
    drop: async (tables) => {
      const own = tables.filter((table) => this.tables.delete(table));
      if (own.length > 0) await this.rows.workbench().drop(own);
    },
  };

  private scopeOf(scope: (claims: Claims) => RowScope): PlainScope {
    try {
      return scope(this.claims);
    } catch (error) {
      return { failed: error instanceof Error ? error.message : String(error) };
    }
  }

  private database(name: string): ReportDatabase {
    if (name === WORKBENCH) return this.rows.workbench().connection;
    const connection = this.rows.connections.get(name);
    if (connection?.kind !== 'database') throw new Error(`“${name}” is no database`);
    return connection;
  }

  private keep(rows: AsyncIterator<WireRow[]>, close: () => Promise<unknown>): number {
    const stream = ++this.made;
    this.streams.set(stream, { rows, close });
    return stream;
  }

  private async end(stream: number): Promise<void> {
    const found = this.streams.get(stream);
    this.streams.delete(stream);
    await found?.close();
  }

  /** Ends statements and reading; what the thread still waits for fails. */
  cancel(): void {
    this.ended.abort();
  }

  async close(): Promise<void> {
    this.ended.abort();
    await Promise.allSettled([...this.streams.keys()].map((stream) => this.end(stream)));
    const left = [...this.tables];
    this.tables.clear();
    if (left.length > 0) await this.rows.workbench().drop(left);
  }
}
