import type { BoardArea, Guide } from '@gaveta/core/internal';
import { create } from 'zustand';
import type { PartOfItem } from './surfaces.ts';

/** A change under way, in millimetres. */
export interface Nudge {
  dx: number;
  dy: number;
  dw: number;
  dh: number;
}

export interface GestureState {
  /** What it is done on, in whose millimetres guides and the marquee are; null while nothing is done. */
  surface: string | null;
  /** Items that follow the pointer. */
  ids: ReadonlySet<string>;
  nudge: Nudge | null;
  /** Other items of the same columns, which follow sideways alone. */
  mates: ReadonlySet<string>;
  mateNudge: Nudge | null;
  guides: readonly Guide[];
  marquee: BoardArea | null;
  /** Height of a band that is being tried. */
  pull: { key: string; height: number } | null;
  /** The part of an item that a field hangs over. */
  over: PartOfItem | null;
  /** Items that were let go on a laid-out page and stay where they are until it was laid out anew. */
  landed: Pick<GestureState, 'surface' | 'ids' | 'nudge' | 'mates' | 'mateNudge'> | null;
}

const STILL: GestureState = {
  surface: null,
  ids: new Set(),
  nudge: null,
  mates: new Set(),
  mateNudge: null,
  guides: [],
  marquee: null,
  pull: null,
  over: null,
  landed: null,
};

/** What the hand is doing on the board. Apart from the designer's state, so that only what moves is drawn anew. */
export const useGesture = create<GestureState>(() => STILL);

export const endGesture = (): void => useGesture.setState(STILL);

/** Ends it, with what was moved left where it is until the page follows. */
export const landGesture = (): void => {
  const { surface, ids, nudge, mates, mateNudge } = useGesture.getState();
  useGesture.setState({ ...STILL, landed: { surface, ids, nudge, mates, mateNudge } });
};
