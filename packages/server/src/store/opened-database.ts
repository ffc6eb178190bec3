import type { PgDatabase, PgQueryResultHKT } from 'drizzle-orm/pg-core';

/** The store’s database, whichever PostgreSQL it is. */
export type StoreDatabase = PgDatabase<PgQueryResultHKT>;

export interface OpenedDatabase {
  db: StoreDatabase;
  /** Other processes may write to it as well, so that nothing that was read stays true. */
  isShared: boolean;
  close(): Promise<void>;
}
