import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { PGlite, types } from '@electric-sql/pglite';
import { packageFile } from '../base/package-files.ts';

/** The data directory of a database with nothing in it, packed; `npm run build -w @gaveta/server` makes it. */
const PACKED = 'dist/empty-database.tar.gz';

/** Bytes go in and out as hexadecimal digits; PGlite turns them one by one, which takes ten times as long. */
const QUICK = {
  parsers: { [types.BYTEA]: (text: string) => new Uint8Array(Buffer.from(text.slice(2), 'hex')) },
  serializers: {
    [types.BYTEA]: (bytes: Uint8Array) =>
      `\\x${Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength).toString('hex')}`,
  },
};

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
  if (blank && folder === undefined)
    return PGlite.create({ ...QUICK, loadDataDir: blank }).catch(() => PGlite.create(QUICK));
  return PGlite.create({ ...QUICK, ...place, ...(blank ? { loadDataDir: blank } : {}) });
};
