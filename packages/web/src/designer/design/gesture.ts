import type { BoardArea, Guide } from '@gaveta/core/internal';
import { create } from 'zustand';
import type { PartOfItem } from './drop.ts';

/** A change under way, in millimetres. */
export interface Nudge {
  dx: number;
  dy: number;
  dw: number;
  dh: number;
}

interface GestureState {
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
}

const STILL: GestureState = {
  ids: new Set(),
  nudge: null,
  mates: new Set(),
  mateNudge: null,
  guides: [],
  marquee: null,
  pull: null,
  over: null,
};

/** What the hand is doing on the board. Apart from the designer's state, so that only what moves is drawn anew. */
export const useGesture = create<GestureState>(() => STILL);

export const endGesture = (): void => useGesture.setState(STILL);
