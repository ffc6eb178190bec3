import type { PGlite } from '@electric-sql/pglite';
import { sql } from 'drizzle-orm';
import { drizzle as drizzleServer } from 'drizzle-orm/node-postgres';
import { migrate as migrateServer } from 'drizzle-orm/node-postgres/migrator';
import type { PgDatabase, PgQueryResultHKT } from 'drizzle-orm/pg-core';
import { drizzle as drizzleEmbedded } from 'drizzle-orm/pglite';
import { migrate as migrateEmbedded } from 'drizzle-orm/pglite/migrator';
import pg from 'pg';
import { packageFile } from '../base/package-files.ts';
import type { OpenPGlite } from '../connection/pglite.ts';
import { openEmbedded } from '../embedded/empty-database.ts';
import { checkFolder, inWords, lockFolder, StoreError } from './folder.ts';

/** The store’s database, whichever PostgreSQL it is. */
export type StoreDatabase = PgDatabase<PgQueryResultHKT>;

export interface OpenedDatabase {
  db: StoreDatabase;
  /** Other processes may write to it as well, so that nothing that was read stays true. */
  isShared: boolean;
  close(): Promise<void>;
}

const migrations = () => ({ migrationsFolder: packageFile('drizzle') });

/** Of all who migrate the same database at once, one does and the others wait. Any number that nobody else uses will do. */
const MIGRATION_LOCK = 5_140_713;

/** Connections that the store of one process has open at most. */
const MOST_CONNECTIONS = 10;

const isAddress = (where: string): boolean => /^postgres(ql)?:\/\//i.test(where);

/**
 * Opens the store’s database, brought up to date. `where`: a folder for the embedded PostgreSQL, the connection string of a
 * server, whose database is the store’s alone, or an open PGlite. Throws StoreError with words for who set it up.
 */
export const openDatabase = async (where: OpenPGlite | string): Promise<OpenedDatabase> => {
  // What is wrong with this package is no fault of the database’s.
  migrations();
  if (typeof where !== 'string') return opened(where as PGlite, async () => {});
  if (isAddress(where)) return openServer(where);
  await checkFolder(where);
  const letGo = await lockFolder(where);
  try {
    return await opened(await openEmbedded(where), letGo);
  } catch (error) {
    await letGo();
    throw inWords(where, error);
  }
};

const opened = async (client: PGlite, letGo: () => Promise<void>): Promise<OpenedDatabase> => {
  const db = drizzleEmbedded(client);
  try {
    await migrateEmbedded(db, migrations());
  } catch (error) {
    await client.close().catch(() => {});
    throw error;
  }
  return {
    db,
    isShared: false,
    close: async () => {
      await client.close();
      await letGo();
    },
  };
};

const openServer = async (connectionString: string): Promise<OpenedDatabase> => {
  const pool = new pg.Pool({ connectionString, max: MOST_CONNECTIONS });
  // A connection that breaks while nobody uses it is made anew by whoever asks next.
  pool.on('error', () => {});
  try {
    const client = await pool.connect();
    try {
      const db = drizzleServer(client);
      await db.execute(sql`select pg_advisory_lock(${MIGRATION_LOCK})`);
      try {
        await migrateServer(db, migrations());
      } finally {
        await db.execute(sql`select pg_advisory_unlock(${MIGRATION_LOCK})`);
      }
    } finally {
      client.release();
    }
  } catch (error) {
    await pool.end().catch(() => {});
    throw serverError(connectionString, error);
  }
  return { db: drizzleServer(pool), isShared: true, close: () => pool.end() };
};

/** Why a server cannot be used, without the password that its address may hold. */
const serverError = (connectionString: string, error: unknown): StoreError => {
  const address = URL.canParse(connectionString) ? new URL(connectionString).host : 'the server';
  const { code = '', message = '' } = (error ?? {}) as { code?: string; message?: string };
  const words: Readonly<Record<string, string>> = {
    ECONNREFUSED: 'nothing answers there. Start the server, or correct the host and port.',
    ENOTFOUND: 'the host is not known. Correct the address.',
    '28P01': 'the password is wrong.',
    '28000': 'the user may not sign in.',
    '3D000': 'there is no such database. Make one for Gaveta alone, empty.',
    '42501': 'the user may not make tables there. Give them the right to, or name another database.',
  };
  return new StoreError(`createGaveta: store: ${address}: ${words[code] ?? (message || 'it cannot be opened.')}`);
};
