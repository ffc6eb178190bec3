import { createHash } from 'node:crypto';
import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { PGlite } from '@electric-sql/pglite';
import { generateTables } from './generate.ts';

const here = dirname(fileURLToPath(import.meta.url));

const csvCell = (value: string | number | null): string =>
  value === null ? '' : typeof value === 'number' ? String(value) : `"${value.replace(/"/g, '""')}"`;

/** A new database in memory with all of the demo's rows. Takes some seconds; see {@link openDemoDatabase}. */
export const buildDemoDatabase = async (scale = 1): Promise<PGlite> => {
  const database = await PGlite.create();
  await database.exec(await readFile(join(here, 'schema.sql'), 'utf8'));
  for (const [table, rows] of Object.entries(generateTables(scale))) {
    const csv = rows.map((row) => row.map(csvCell).join(',')).join('\n');
    await database.query(`copy "${table}" from '/dev/blob' with (format csv)`, [], { blob: new Blob([csv]) });
  }
  await database.exec(await readFile(join(here, 'indexes.sql'), 'utf8'));
  return database;
};

/** Changes when anything that the packed data set is made from does. */
const fingerprint = async (): Promise<string> => {
  const hash = createHash('sha256');
  for (const file of ['schema.sql', 'indexes.sql', 'generate.ts', 'outlines.ts', 'photo.ts', 'random.ts'])
    hash.update(await readFile(join(here, file)));
  return hash.digest('hex').slice(0, 12);
};

/** Packs the data set into a file of `folder` unless it is there already; gives the file's path. */
export const packDemoDatabase = async (folder: string, scale = 1): Promise<string> => {
  const file = join(folder, `cumeeira-${scale}-${await fingerprint()}.tar.gz`);
  try {
    await readFile(file);
    return file;
  } catch {
    await mkdir(folder, { recursive: true });
    const database = await buildDemoDatabase(scale);
    const packed = await database.dumpDataDir('gzip');
    await database.close();
    // Written beside and renamed, so that a start that is cut short leaves no half file.
    await writeFile(`${file}.part`, Buffer.from(await packed.arrayBuffer()));
    await rename(`${file}.part`, file);
    return file;
  }
};

/** The demo's database in memory, from the packed file. */
export const openDemoDatabase = async (folder: string, scale = 1): Promise<PGlite> => {
  const packed = await readFile(await packDemoDatabase(folder, scale));
  return PGlite.create({ loadDataDir: new Blob([packed]) });
};
