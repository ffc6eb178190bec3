import { useSearchParams } from 'react-router';
import type { Looking, Place, Sort } from '../api/library.ts';

import { browserMemory, keep, recall } from '../ui/memory.ts';

/** Where somebody is in the library. */
export type Spot = Place | 'begun' | 'bin';

const SPOTS: readonly string[] = ['all', 'recent', 'starred', 'mine', 'shared', 'folder', 'begun', 'bin'];
export const SORTS = ['name', 'changed', 'opened'] as const satisfies readonly Sort[];
/** What a place may be held to. */
export const KINDS = [
  'report',
  'sketch',
  'template',
  'recipe',
  'connection',
  'picture',
  'theme',
] as const satisfies readonly Looking['kind'][];
export const LOOKS = ['tiles', 'list'] as const;
export type Look = (typeof LOOKS)[number];

const KEY = { look: 'gaveta.library.look', sort: 'gaveta.library.sort' };

/** Where one is stands in the address, so that the way back leads there; how it looks is remembered. */
export const useSpot = () => {
  const [params, setParams] = useSearchParams();
  const folder = params.get('folder');
  const asked = folder !== null ? 'folder' : (params.get('in') ?? 'all');
  const spot = (SPOTS.includes(asked) ? asked : 'all') as Spot;
  const find = params.get('find') ?? '';
  const selected = params.get('thing');
  const kind = KINDS.find((one) => one === params.get('kind')) ?? null;
  const kept = recall(browserMemory(), KEY.sort);
  const sort = SORTS.find((one) => one === (params.get('sort') ?? kept)) ?? (spot === 'recent' ? 'opened' : 'name');
  const look: Look = LOOKS.find((one) => one === recall(browserMemory(), KEY.look)) ?? 'tiles';
  const put = (next: Record<string, string | null>, replace: boolean): void =>
    setParams(
      (before) => {
        const after = new URLSearchParams(before);
        for (const [name, value] of Object.entries(next)) {
          if (value === null || value === '') after.delete(name);
          else after.set(name, value);
        }
        return after;
      },
      { replace },
    );
  const place: Place = spot === 'begun' || spot === 'bin' ? 'all' : spot;
  const looking: Looking = {
    ...{ place, find, sort: find.trim() === '' ? sort : 'best' },
    descending: sort !== 'name' && find.trim() === '',
    ...(folder === null ? {} : { folder }),
    ...(kind === null ? {} : { kind }),
  };
  return {
    ...{ spot, folder, find, selected, kind, sort, look, looking },
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
