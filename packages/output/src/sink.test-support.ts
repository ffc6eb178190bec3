/** Where a file goes in a test. */
export { inMemory as collecting } from './in-memory.ts';
