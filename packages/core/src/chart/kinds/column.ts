import { barsKind } from './bars.ts';

/** Upright bars. */
export const columnKind = barsKind(false);
