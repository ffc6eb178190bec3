import { dotsKind } from './dots.ts';

/** Points by two measures. */
export const scatterKind = dotsKind(false);
