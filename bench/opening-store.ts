import { readDefinition } from '@gaveta/core/internal';
import { createGaveta } from '@gaveta/server';

/**
 * Starts Gaveta over the store in a folder and tells how long that took, in milliseconds, and which revisions are there; then saves one
 * revision after the other and tells of each that was acknowledged, until it is killed.
 */
const [, , folder] = process.argv;
const started = performance.now();
const { store } = await createGaveta({ store: folder!, models: [], connections: {}, secret: 'x'.repeat(40) });
const opened = performance.now() - started;
const revisions = (await store.revisions('kept')).map((r) => r.number);
process.send!({ opened, began: performance.timeOrigin, ready: performance.timeOrigin + performance.now(), revisions });

const read = readDefinition({ gaveta: 2, name: 'Kept', description: 'x'.repeat(1000) });
if (!read.ok) throw new Error('the definition is wrong');
let revision = Math.max(0, ...revisions);
if (revision === 0) revision = (await store.create(read.report, 'Inês', 'kept')).revision;
process.send!({ saved: revision });
for (;;) {
  const saved = await store.save('kept', read.report, revision, 'Inês', '');
  if (!saved.ok) throw new Error(saved.reason);
  revision = saved.stored.revision;
  process.send!({ saved: revision });
}
