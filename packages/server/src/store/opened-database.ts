import type { PgDatabase, PgQueryResultHKT } from 'drizzle-orm/pg-core';
import type { AskServer } from './ask-server.ts';

/** The store’s database, whichever PostgreSQL it is. */
export type StoreDatabase = PgDatabase<PgQueryResultHKT>;

export interface OpenedDatabase {
  db: StoreDatabase;
  /** Other processes may write to it as well, so that nothing that was read stays true. */
  isShared: boolean;
  /** Asks a server with a statement of its own, for a queue that keeps its jobs beside; null where the database is embedded. */
  ask: AskServer | null;
  close(): Promise<void>;
}
