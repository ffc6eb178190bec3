import { create } from 'zustand';
import { useDesigner } from './state.ts';

/** How large the board is shown, as a share of its full size. */
export const useShown = create<{ zoom: number }>(() => ({ zoom: 1 }));

const LEAST = 0.25;
const MOST = 4;

export const zoomBy = (factor: number): void =>
  useDesigner.setState({ zoom: Math.min(MOST, Math.max(LEAST, useShown.getState().zoom * factor)) });

export const zoomToFit = (): void => useDesigner.setState({ zoom: 'fit' });
