import { useSearchParams } from 'react-router';
import { browserMemory, keep, recall } from '../ui/memory.ts';
import { type KINDS, readSpot, type SORTS, type Spot, withSpot } from './spot.ts';

export const LOOKS = ['tiles', 'list'] as const;
export type Look = (typeof LOOKS)[number];

const KEY = { look: 'gaveta.library.look', sort: 'gaveta.library.sort' };

/** Where one is stands in the address, so that the way back leads there; how it looks is remembered. */
export const useSpot = () => {
  const [params, setParams] = useSearchParams();
  const { find, ...read } = readSpot(params, recall(browserMemory(), KEY.sort));
  const look: Look = LOOKS.find((one) => one === recall(browserMemory(), KEY.look)) ?? 'tiles';
  const put = (next: Record<string, string | null>, replace: boolean): void =>
    setParams((before) => withSpot(before, next), { replace });
  return {
    ...{ ...read, find, look },
    go: (to: Exclude<Spot, 'folder'> | { folder: string }): void =>
      put(
        {
          ...(typeof to === 'string'
            ? { in: to === 'all' ? null : to, folder: null }
            : { in: null, folder: to.folder }),
          ...{ thing: null, find: null },
        },
        false,
      ),
    search: (text: string): void => {
      if (text !== find) put({ find: text, thing: null }, true);
    },
    hold: (to: (typeof KINDS)[number] | null): void => put({ kind: to, thing: null }, true),
    select: (thing: string | null): void => put({ thing }, true),
    sortBy: (next: (typeof SORTS)[number]): void => {
      keep(browserMemory(), KEY.sort, next);
      put({ sort: next }, true);
    },
    showAs: (next: Look): void => {
      keep(browserMemory(), KEY.look, next);
      // The address tells the screen that something has changed.
      put({ look: next }, true);
    },
  };
};

export type SpotState = ReturnType<typeof useSpot>;
