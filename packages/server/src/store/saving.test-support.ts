import { readDefinition } from '@gaveta/core/internal';
import { openStore } from './store.ts';

/** A process that opens a store, tells which revisions are there, and saves one after the other until it is killed. */
const store = await openStore(process.argv[2]!);
const there = (await store.revisions('kept')).map((r) => r.number);
process.send!({ there });

const read = readDefinition({ gaveta: 2, name: 'Kept' });
if (!read.ok) throw new Error('the definition is wrong');
let revision = Math.max(0, ...there);
if (revision === 0) revision = (await store.create(read.report, 'Inês', 'kept')).revision;
for (;;) {
  process.send!({ saved: revision });
  const saved = await store.save('kept', read.report, revision, 'Inês', '');
  if (!saved.ok) throw new Error(saved.reason);
  revision = saved.stored.revision;
}
