import { register } from 'tsx/esm/api';

// A thread starts without what its process was started with.
register();
await import('./pglite-worker.ts');
