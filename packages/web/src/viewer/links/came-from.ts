import { FOLD_BASES, type FoldState, type PlaceInRun } from '@gaveta/core/internal';
import type { Zoom } from '../reading/modes.ts';
import type { Looking } from '../reading/reading-place.ts';

/** How a report was read when one left it. */
export interface Left {
  place: PlaceInRun;
  zoom: Zoom;
  folds: FoldState;
  /** What stood at the top of the window. */
  looking: Looking;
}

/** Where a link was followed: the report by its name and address, how it was read, and where that one was come to from. */
export interface CameFrom {
  name: string;
  address: string;
  left: Left;
  cameFrom?: CameFrom | undefined;
}

/** What an entry of the browser’s history keeps of reading. */
export interface ReadingState {
  cameFrom?: CameFrom | undefined;
  /** How it was read when one left from here. */
  left?: Left | undefined;
}

/** As many as the browser keeps without a murmur: it refuses states of more than some megabytes. */
const MOST_TURNED = 500;
const MOST_BEFORE = 20;

/** A history's state as it is kept; folds of a reader who turned very many are left out. */
export const leftAs = (left: Left): Left =>
  left.folds.turned.length > MOST_TURNED ? { ...left, folds: { ...left.folds, turned: [] } } : left;

/** The way back with one more step; the oldest are forgotten. */
export const withStep = (step: CameFrom): CameFrom => {
  const cut = (from: CameFrom | undefined, depth: number): CameFrom | undefined =>
    from && depth > 0 ? { ...from, cameFrom: cut(from.cameFrom, depth - 1) } : undefined;
  return cut(step, MOST_BEFORE)!;
};

const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null;

const readLeft = (value: unknown): Left | undefined => {
  if (!isRecord(value) || !isRecord(value.place) || !isRecord(value.folds)) return undefined;
  const { place, zoom, folds, looking } = value as unknown as Left;
  const base = FOLD_BASES.find((one) => one === folds.base);
  if (!(place.page >= 1) || !(place.y >= 0) || !base || !Array.isArray(folds.turned)) return undefined;
  if (!isRecord(looking) || !isRecord(looking.at)) return undefined;
  return { place, zoom, folds, looking };
};

/** What the browser gives back of an entry, as far as it is ours. */
export const readState = (state: unknown): ReadingState => {
  if (!isRecord(state)) return {};
  const from = state.cameFrom;
  const left = readLeft(state.left);
  const isKnown = isRecord(from) && typeof from.name === 'string' && typeof from.address === 'string';
  return {
    ...(left ? { left } : {}),
    ...(isKnown && readLeft(from.left) ? { cameFrom: from as unknown as CameFrom } : {}),
  };
};
