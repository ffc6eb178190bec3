export { buildDemoDatabase, openDemoDatabase, packDemoDatabase } from './database.ts';
export { DEMO_TODAY, generateTables } from './generate.ts';
export { cumeeiraModel } from './model.ts';
export { demoRecipes, demoReports } from './reports.ts';
export { type Demo, type DemoOptions, listen, startDemo } from './serve.ts';
export { bulletinService } from './service.ts';
export { type DemoSources, openDemoSources } from './sources.ts';
