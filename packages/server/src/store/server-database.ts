import { sql } from 'drizzle-orm';
import type { MigrationConfig } from 'drizzle-orm/migrator';
import { drizzle } from 'drizzle-orm/node-postgres';
import { migrate } from 'drizzle-orm/node-postgres/migrator';
import pg from 'pg';
import { StoreError } from './folder.ts';
import type { OpenedDatabase } from './opened-database.ts';

/** Of all who migrate the same database at once, one does and the others wait. Any number that nobody else uses will do. */
const MIGRATION_LOCK = 5_140_713;

/** Connections that the store of one process has open at most. */
const MOST_CONNECTIONS = 10;

/**
 * Opens the database of a server as the store, brought up to date. Throws StoreError with words for who set it up.
 */
export const openServer = async (connectionString: string, migrations: MigrationConfig): Promise<OpenedDatabase> => {
  const pool = new pg.Pool({ connectionString, max: MOST_CONNECTIONS });
  // A connection that breaks while nobody uses it is made anew by whoever asks next.
  pool.on('error', () => {});
  try {
    const client = await pool.connect();
    try {
      const db = drizzle(client);
      await db.execute(sql`select pg_advisory_lock(${MIGRATION_LOCK})`);
      try {
        await migrate(db, migrations);
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
  return {
    db: drizzle(pool),
    isShared: true,
    ask: (text, values) => pool.query(text, values),
    close: () => pool.end(),
  };
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
