import { dotsKind } from './dots.ts';

/** Circles by two measures, as large as a third. */
export const bubbleKind = dotsKind(true);
