import { roundKind } from './round.ts';

/** Slices of a whole. */
export const pieKind = roundKind(0);
