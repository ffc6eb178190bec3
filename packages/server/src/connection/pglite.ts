import type { PGlite, Results } from '@electric-sql/pglite';
import type { WireRow } from '@gaveta/core';
import type { Query } from '../sql/level-query.ts';
import { type Connection, ConnectionError, type RowStream, StatementError } from './connection.ts';

const BATCH = 2000;

const asText = (value: string): string => value;

/** Bytes as a `data:` address; pictures are told by their first bytes. */
const asPicture = (hex: string): string => {
  const bytes = Buffer.from(hex.slice(2), 'hex');
  const type = bytes[0] === 0xff ? 'image/jpeg' : 'image/png';
  return `data:${type};base64,${bytes.toString('base64')}`;
};

/** Parsers by PostgreSQL type: text keeps every digit, and JavaScript dates would lose the zone. */
const PARSERS: Record<number, (value: string) => string> = {
  17: asPicture,
  20: asText,
  700: asText,
  701: asText,
  1082: asText,
  1083: asText,
  1114: asText,
  1184: asText,
  1266: asText,
  1700: asText,
  3802: asText,
  114: asText,
};

const OPTIONS = { rowMode: 'array' as const, parsers: PARSERS };

const isDatabaseError = (error: unknown): error is Error & { code: string } =>
  error instanceof Error && 'code' in error && typeof error.code === 'string' && /^[0-9A-Z]{5}$/.test(error.code);

const asError = (error: unknown): Error => {
  const message = error instanceof Error ? error.message : String(error);
  return isDatabaseError(error) ? new StatementError(message) : new ConnectionError(message);
};

let cursors = 0;

/**
 * The embedded PostgreSQL as a connection. Statements become cursors that outlive their transaction, so that a long run
 * reads on while other people's queries take their turn between its batches.
 */
export const pgliteConnection = (database: PGlite | (() => PGlite | Promise<PGlite>)): Connection => ({
  async textOrder() {
    try {
      const found = await (await opened(database)).query("select 1 from pg_collation where collname = 'unicode'");
      return found.rows.length > 0 ? '"unicode"' : null;
    } catch {
      // Without a connection there are no rows to put in order either, which is said then.
      return null;
    }
  },
  async open(queries) {
    try {
      const db = await opened(database);
      try {
        return await declareCursors(db, queries);
      } catch (error) {
        if (!isDatabaseError(error)) throw error;
        // A statement may fail as late as the commit, and takes the others with it: each gets a try of its own.
        const alone = queries.map(async (query) => {
          try {
            return (await declareCursors(db, [query]))[0]!;
          } catch (failure) {
            return new Cursor(null, '', asError(failure));
          }
        });
        return await Promise.all(alone);
      }
    } catch (error) {
      const failure = asError(error);
      return queries.map(() => new Cursor(null, '', failure));
    }
  },
});

const opened = async (database: PGlite | (() => PGlite | Promise<PGlite>)): Promise<PGlite> =>
  typeof database === 'function' ? database() : database;

/** One cursor for each statement, all on the same snapshot. */
const declareCursors = async (db: PGlite, queries: readonly Query[]): Promise<Cursor[]> => {
  const names = queries.map(() => `gaveta_${++cursors}`);
  await db.transaction(async (transaction) => {
    await transaction.exec('set transaction isolation level repeatable read, read only');
    for (const [i, { text, values }] of queries.entries()) {
      await transaction.query(`declare ${names[i]} no scroll cursor with hold for ${text}`, values, OPTIONS);
    }
  });
  return names.map((name) => new Cursor(db, name, null));
};

class Cursor implements RowStream {
  constructor(
    private database: PGlite | null,
    private readonly name: string,
    private readonly failure: Error | null,
  ) {}

  async *[Symbol.asyncIterator](): AsyncIterator<WireRow[]> {
    if (this.failure) throw this.failure;
    try {
      while (this.database) {
        let result: Results<WireRow>;
        try {
          result = await this.database.query<WireRow>(`fetch ${BATCH} from ${this.name}`, [], OPTIONS);
        } catch (error) {
          throw asError(error);
        }
        if (result.rows.length > 0) yield result.rows;
        if (result.rows.length < BATCH) return;
      }
    } finally {
      await this.close();
    }
  }

  async close(): Promise<void> {
    const { database } = this;
    this.database = null;
    if (!database || this.failure || database.closed) return;
    await database.exec(`close ${this.name}`).catch(() => {});
  }
}
