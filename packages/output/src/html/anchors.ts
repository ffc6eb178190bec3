import { wellFormed } from '../values.ts';

/** An id that an anchor’s name has in an HTML file. */
export const anchorId = (name: string): string => `a-${encodeURIComponent(wellFormed(name))}`;
