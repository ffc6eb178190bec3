import { register } from 'tsx/esm/api';

// A thread starts without what its process was started with.
register();
export default (await import('./file-thread.ts')).default;
