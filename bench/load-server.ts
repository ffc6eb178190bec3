import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { listen, startDemo } from '@gaveta-examples/cumeeira';

/** The demo's server in a process of its own; tells its address to the one that started it, and ends with it. */
const store = mkdtempSync(join(tmpdir(), 'gaveta-load-'));
const demo = await startDemo({ data: resolve('.data'), secret: process.argv[2]!, hosts: [], store });
// Whoever measures is busy for seconds between two calls.
demo.server.keepAliveTimeout = 60_000;
process.send!({ address: await listen(demo.server, 0) });
process.once('disconnect', async () => {
  await demo.close();
  rmSync(store, { recursive: true, force: true });
  process.exit(0);
});
