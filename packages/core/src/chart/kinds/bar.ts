import { barsKind } from './bars.ts';

/** Bars from left to right, one below the other. */
export const barKind = barsKind(true);
