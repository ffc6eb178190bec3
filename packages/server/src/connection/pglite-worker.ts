import { readFile } from 'node:fs/promises';
import { parentPort, workerData } from 'node:worker_threads';
import { PGlite } from '@electric-sql/pglite';
import { openEmbedded } from '../embedded/empty-database.ts';
import { type Task, work } from './pglite-work.ts';

/** An embedded database in a thread of its own: it works on one task after the other, and can be ended from outside. */
const { data, prepare } = workerData as { data: { file: string } | { folder: string } | null; prepare: string };

const open = async (): Promise<PGlite> => {
  if (data && 'file' in data) return PGlite.create({ loadDataDir: new Blob([await readFile(data.file)]) });
  return openEmbedded(data?.folder);
};

const port = parentPort!;
const database = open().then(async (opened) => {
  if (prepare) await opened.exec(prepare);
  return opened;
});
database.then(
  () => port.postMessage({ ready: true }),
  (error) => port.postMessage({ ready: false, message: String(error instanceof Error ? error.message : error) }),
);

port.on('message', async (task: Task) => {
  try {
    port.postMessage({ done: await work(await database, task) });
  } catch (error) {
    const { message = String(error), code = null, position = null } = error as Record<string, string | null>;
    port.postMessage({ failed: { message, code, position } });
  }
});
