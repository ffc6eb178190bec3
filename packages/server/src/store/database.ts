import type { PGlite } from '@electric-sql/pglite';
import { drizzle as drizzleEmbedded } from 'drizzle-orm/pglite';
import { migrate as migrateEmbedded } from 'drizzle-orm/pglite/migrator';
import { packageFile } from '../base/package-files.ts';
import type { OpenPGlite } from '../connection/pglite.ts';
import { openEmbedded } from '../embedded/empty-database.ts';
import { checkFolder, inWords, lockFolder } from './folder.ts';
import type { OpenedDatabase } from './opened-database.ts';

const migrations = () => ({ migrationsFolder: packageFile('drizzle') });

const isAddress = (where: string): boolean => /^postgres(ql)?:\/\//i.test(where);

/**
 * Opens the store’s database, brought up to date. `where`: a folder for the embedded PostgreSQL, the connection string of a
 * server, whose database is the store’s alone, or an open PGlite. Throws StoreError with words for who set it up.
 */
export const openDatabase = async (where: OpenPGlite | string): Promise<OpenedDatabase> => {
  // What is wrong with this package is no fault of the database’s.
  migrations();
  if (typeof where !== 'string') return opened(where as PGlite, async () => {});
  if (isAddress(where)) return (await import('./server-database.ts')).openServer(where, migrations());
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
    ask: null,
    close: async () => {
      await client.close();
      await letGo();
    },
  };
};
