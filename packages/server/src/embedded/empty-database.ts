import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { PGlite } from '@electric-sql/pglite';
import { packageFile } from '../base/package-files.ts';

/** The data directory of a database with nothing in it, packed; `npm run build -w @gaveta/server` makes it. */
const PACKED = 'dist/empty-database.tar.gz';

let packed: Promise<Blob | null> | null = null;

/** Read once; null where it was not made. */
const packedDatabase = (): Promise<Blob | null> => {
  packed ??= readFile(packageFile(PACKED)).then(
    (bytes) => new Blob([bytes]),
    () => null,
  );
  return packed;
};

/**
 * Opens an embedded PostgreSQL: the one that `folder` holds, a new one in it, or, without a folder, a new one in memory.
 * A new one starts from a packed directory, in a fourth of the time that PostgreSQL takes to set one up, where there is
 * one that suits.
 */
export const openEmbedded = async (folder?: string): Promise<PGlite> => {
  const isThere = folder !== undefined && existsSync(join(folder, 'PG_VERSION'));
  const blank = isThere ? null : await packedDatabase();
  const place = folder === undefined ? {} : { dataDir: folder };
  // A directory of another version of PostgreSQL than this one's is of no use in memory; a folder says so by itself.
  if (blank && folder === undefined) return PGlite.create({ loadDataDir: blank }).catch(() => PGlite.create());
  return PGlite.create({ ...place, ...(blank ? { loadDataDir: blank } : {}) });
};
