import { threadModule } from '../base/built.mjs';

await threadModule('pglite-worker', () => import('./pglite-worker.ts'));
