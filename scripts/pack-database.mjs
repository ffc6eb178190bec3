import { mkdirSync, renameSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { PGlite } from '@electric-sql/pglite';

/** Packs the data directory of an empty database for packages/server/src/embedded. */
const file = join(dirname(fileURLToPath(import.meta.url)), '..', 'packages', 'server', 'dist', 'empty-database.tar.gz');
const database = await PGlite.create();
const packed = await database.dumpDataDir('gzip');
await database.close();
mkdirSync(dirname(file), { recursive: true });
writeFileSync(`${file}.part`, Buffer.from(await packed.arrayBuffer()));
renameSync(`${file}.part`, file);
