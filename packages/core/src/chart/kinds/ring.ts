import { roundKind } from './round.ts';

/** Slices of a whole around a hole. */
export const ringKind = roundKind(0.58);
