import { create } from 'zustand';
import { browserMemory, keep, recall } from '../../ui/memory.ts';

/** One instance of a band on the live page. */
export interface Instance {
  /** Of the page, from 1. */
  page: number;
  band: string;
  rows: string;
}

interface LiveState {
  /** Where the hand was last: there the selection has its handles. */
  active: Instance | null;
  /** What the pointer is over. */
  hovered: Instance | null;
  /** Share of the page's real size, or `fit`. */
  zoom: number | 'fit';
  /** The share that it is shown at. */
  shownZoom: number;
}

const KEPT = 'gaveta.designer.livezoom';
const LEAST = 0.25;
const MOST = 4;

const keptZoom = (): number | 'fit' => {
  const kept = Number(recall(browserMemory(), KEPT));
  return kept >= LEAST && kept <= MOST ? kept : 'fit';
};

/** The live page as its reader has it. Apart from the designer's state, which undo and drafts follow. */
export const useLiveState = create<LiveState>(() => ({
  active: null,
  hovered: null,
  zoom: keptZoom(),
  shownZoom: 1,
}));

export const zoomLiveBy = (factor: number): void => {
  const zoom = Math.min(MOST, Math.max(LEAST, useLiveState.getState().shownZoom * factor));
  keep(browserMemory(), KEPT, String(zoom));
  useLiveState.setState({ zoom });
};

export const fitLive = (): void => {
  keep(browserMemory(), KEPT, null);
  useLiveState.setState({ zoom: 'fit' });
};

export const isSame = (one: Instance | null, { page, band, rows }: Instance): boolean =>
  one !== null && one.page === page && one.band === band && one.rows === rows;
