import type { PGlite } from '@electric-sql/pglite';
import { defineConfig } from '@gaveta/cli';
import { pgliteConnection } from '@gaveta/server';
import { cumeeiraModel, demoReports, openDemoDatabase } from '@gaveta-examples/cumeeira';

let database: PGlite | null = null;

/** What `npx gaveta` works on in this folder: the demo's model, data and reports, seen by the office. */
export default defineConfig({
  models: [cumeeiraModel],
  connections: async () => {
    database ??= await openDemoDatabase('.data');
    return { cumeeira: pgliteConnection(database) };
  },
  reports: demoReports,
  claims: { role: 'office' },
  close: async () => database?.close(),
});
