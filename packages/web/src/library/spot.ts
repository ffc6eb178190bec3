import type { Looking, Place, Sort } from '../api/library.ts';

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

/** What the address of the library says. */
export interface SpotRead {
  spot: Spot;
  folder: string | null;
  find: string;
  selected: string | null;
  kind: (typeof KINDS)[number] | null;
  sort: (typeof SORTS)[number];
  looking: Looking;
}

/** Reads the address; what it does not know is left out. `keptSort`: the order that somebody chose last. */
export const readSpot = (params: URLSearchParams, keptSort: string | null): SpotRead => {
  const folder = params.get('folder');
  const asked = folder !== null ? 'folder' : (params.get('in') ?? 'all');
  const spot = (SPOTS.includes(asked) && (asked !== 'folder' || folder !== null) ? asked : 'all') as Spot;
  const find = params.get('find') ?? '';
  const kind = KINDS.find((one) => one === params.get('kind')) ?? null;
  const sort = SORTS.find((one) => one === (params.get('sort') ?? keptSort)) ?? (spot === 'recent' ? 'opened' : 'name');
  const isFinding = find.trim() !== '';
  return {
    ...{ spot, folder, find, kind, sort, selected: params.get('thing') },
    looking: {
      ...{ place: spot === 'begun' || spot === 'bin' ? 'all' : spot, find, sort: isFinding ? 'best' : sort },
      descending: sort !== 'name' && !isFinding,
      ...(folder === null ? {} : { folder }),
      ...(kind === null ? {} : { kind }),
    },
  };
};

/** The address with some of it put anew; null and nothing take away. */
export const withSpot = (before: URLSearchParams, next: Record<string, string | null>): URLSearchParams => {
  const after = new URLSearchParams(before);
  for (const [name, value] of Object.entries(next)) {
    if (value === null || value === '') after.delete(name);
    else after.set(name, value);
  }
  return after;
};

/** What a key of a thing selects: how many places on, or an end; null for other keys. */
export const stepOf = (key: string, look: 'tiles' | 'list', across: number): number | 'first' | 'last' | null => {
  const down = look === 'tiles' ? across : 1;
  switch (key) {
    case 'ArrowDown':
      return down;
    case 'ArrowUp':
      return -down;
    case 'ArrowRight':
      return 1;
    case 'ArrowLeft':
      return -1;
    case 'Home':
      return 'first';
    case 'End':
      return 'last';
    default:
      return null;
  }
};
