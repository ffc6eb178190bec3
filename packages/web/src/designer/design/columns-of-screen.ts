import { create } from 'zustand';
import { browserMemory, keep, recall } from '../../ui/memory.ts';

/** What has the whole width of the designer; null while its columns stand beside one another. */
export type Wide = 'board' | 'live' | null;

interface Screen {
  wide: Wide;
  /** Width of the lists, which they keep meanwhile, in CSS pixels. */
  lists: number;
}

export const useScreen = create<Screen>(() => ({ wide: null, lists: 256 }));

/** Gives one part the whole width beside the lists, and takes it back. */
export const toggleWide = (part: 'board' | 'live'): void => {
  const lists = document.getElementById('column-lists')?.offsetWidth;
  useScreen.setState(({ wide }) => ({ wide: wide === part ? null : part, ...(lists ? { lists } : {}) }));
};

/** Shares of the width by column, as they were left, in percent. */
export type Shares = Record<string, number>;

const nameOf = (hasLive: boolean): string => `gaveta.designer.columns${hasLive ? '' : '.alone'}`;

/** The columns as they were left last time; undefined when they never were changed. */
export const keptShares = (hasLive: boolean): Shares | undefined => {
  try {
    const kept: unknown = JSON.parse(recall(browserMemory(), nameOf(hasLive)) ?? 'null');
    if (typeof kept !== 'object' || kept === null) return undefined;
    const shares = Object.entries(kept).filter((entry): entry is [string, number] => typeof entry[1] === 'number');
    const sum = shares.reduce((total, [, share]) => total + share, 0);
    return shares.length === (hasLive ? 3 : 2) && Math.abs(sum - 100) < 1 ? Object.fromEntries(shares) : undefined;
  } catch {
    return undefined;
  }
};

export const keepShares = (hasLive: boolean, shares: Shares): void =>
  keep(browserMemory(), nameOf(hasLive), JSON.stringify(shares));
