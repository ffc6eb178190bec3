import { extentOf, type Made, type MarkRole, type MarkRoom, never, uncut } from './mark.ts';

/**
 * Keeps the place of words among the others of its page: they come at the end of the page’s marks, once what they say is known. Not
 * seen.
 */
export interface SlotMark extends Made {
  kind: 'slot';
  x: number;
  y: number;
  width: number;
  height: number;
  as?: MarkRole;
}

export const slotRoom: MarkRoom<SlotMark> = { extent: extentOf, mayBeCut: never, cut: uncut, svg: () => '' };
