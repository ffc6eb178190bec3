import { defineConfig } from '@gaveta/cli';
import { type DemoSources, demoRecipes, demoReports, openDemoSources } from '@gaveta-examples/cumeeira';

let sources: Promise<DemoSources> | null = null;
const opened = (): Promise<DemoSources> => {
  sources ??= openDemoSources('.data');
  return sources;
};

/** What `npx gaveta` works on in this folder: the demo's models, data and reports, seen by the office. */
export default defineConfig({
  models: async () => (await opened()).models,
  connections: async () => (await opened()).connections,
  reports: demoReports,
  recipes: async () => demoRecipes,
  claims: { role: 'office' },
  close: async () => {
    const open = sources;
    sources = null;
    await (await open)?.close();
  },
});
