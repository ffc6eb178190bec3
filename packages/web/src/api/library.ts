import type { AnswerOf, BodySent } from '@gaveta/core/contract';
import { queryOptions } from '@tanstack/react-query';
import { call } from './client.ts';

export type Thing = AnswerOf<'GET /library/:id'>;
export type Folder = AnswerOf<'GET /folders'>['folders'][number];
export type Access = AnswerOf<'GET /folders/:id/access'>;
export type AccessChange = BodySent<'PUT /folders/:id/access'>;
export type Binned = AnswerOf<'GET /library/bin'>[number];
export type Kind = Thing['kind'];
export type HouseThing = AnswerOf<'GET /library/:id/definition'>['definition'];
export type Themed = AnswerOf<'POST /library/:id/theme'>[number];
export type Publishing = Folder['publishing'];

export type Place = 'folder' | 'all' | 'recent' | 'starred' | 'mine' | 'shared';
export type Sort = 'best' | 'name' | 'changed' | 'opened';

export interface Looking {
  place: Place;
  folder?: string;
  /** Left out: all of them. */
  kind?: Kind | 'template';
  find: string;
  sort: Sort;
  descending: boolean;
}

/** A folder, or a thing in one. */
export type Target = { folder: string } | { thing: string };

/** Things that are asked for at once. */
const MANY = 60;

/** Calls about the library. They stand apart from the others, which every screen fetches. */
export const library = {
  folders: () => call('GET /folders', {}),
  addFolder: (name: string, parent: string) => call('POST /folders', { body: { name, parent } }),
  changeFolder: (id: string, changed: BodySent<'PUT /folders/:id'>) =>
    call('PUT /folders/:id', { params: { id }, body: changed }),
  removeFolder: (id: string) => call('DELETE /folders/:id', { params: { id } }),
  restoreFolder: (id: string) => call('POST /folders/:id/restore', { params: { id } }),
  things: ({ place, folder, kind, find, sort, descending }: Looking, from: number) =>
    call('GET /library', {
      query: {
        place,
        find,
        sort,
        descending: String(descending),
        from,
        count: MANY,
        ...(folder ? { folder } : {}),
        ...(kind ? { kind } : {}),
      },
    }),
  /** Keeps a picture or theme. */
  keep: (definition: HouseThing, where: { folder?: string; note?: string } = {}) =>
    call('POST /library', { body: { definition: { ...definition }, ...where } }),
  definition: (id: string) => call('GET /library/:id/definition', { params: { id } }),
  keepAnew: (id: string, definition: HouseThing, base: number) =>
    call('PUT /library/:id/definition', { params: { id }, body: { definition: { ...definition }, base } }),
  users: (id: string) => call('GET /library/:id/users', { params: { id } }),
  putOn: (id: string, on: { reports: string[]; apply: boolean; note?: string }) =>
    call('POST /library/:id/theme', { params: { id }, body: on }),
  thing: (id: string) => call('GET /library/:id', { params: { id } }),
  picture: (id: string) => call('GET /library/:id/picture', { params: { id } }),
  change: (id: string, changed: BodySent<'PUT /library/:id'>) =>
    call('PUT /library/:id', { params: { id }, body: changed }),
  copy: (id: string, where: BodySent<'POST /library/:id/copy'>) =>
    call('POST /library/:id/copy', { params: { id }, body: where }),
  star: (id: string, starred: boolean) => call('PUT /library/:id/star', { params: { id }, body: { starred } }),
  bin: () => call('GET /library/bin', {}),
  access: (target: Target) =>
    'folder' in target
      ? call('GET /folders/:id/access', { params: { id: target.folder } })
      : call('GET /library/:id/access', { params: { id: target.thing } }),
  grant: (target: Target, change: AccessChange) =>
    'folder' in target
      ? call('PUT /folders/:id/access', { params: { id: target.folder }, body: change })
      : call('PUT /library/:id/access', { params: { id: target.thing }, body: change }),
  activity: (asked: { find: string; act: string; thing?: string }, before?: number) =>
    call('GET /activity', {
      query: {
        find: asked.find,
        ...(asked.act === '' ? {} : { act: asked.act }),
        ...(asked.thing === undefined ? {} : { thing: asked.thing }),
        ...(before === undefined ? {} : { before }),
        count: MANY,
      },
    }),
  people: (search: string) => call('GET /people', { query: { search } }),
  publications: (id: string) => call('GET /reports/:id/publications', { params: { id } }),
  publish: (id: string, revision: number | null, note: string) =>
    call('POST /reports/:id/publish', { params: { id }, body: { revision, note } }),
  ask: (id: string, revision: number | null, note: string) =>
    call('POST /reports/:id/ask', { params: { id }, body: { revision, note } }),
};

/** The same, each answer under its key; all of them change with what is stored, as the list of reports does. */
export const libraryQueries = {
  folders: () => queryOptions({ queryKey: ['reports', 'folders'], queryFn: library.folders }),
  things: (looking: Looking) => ({
    queryKey: ['reports', 'things', looking],
    queryFn: ({ pageParam }: { pageParam: number }) => library.things(looking, pageParam),
    initialPageParam: 0,
    getNextPageParam: (last: { more: boolean }, all: readonly unknown[]) => (last.more ? all.length * MANY : undefined),
  }),
  definition: (id: string) =>
    queryOptions({ queryKey: ['reports', 'definition', id], queryFn: () => library.definition(id) }),
  users: (id: string) => queryOptions({ queryKey: ['reports', 'users', id], queryFn: () => library.users(id) }),
  /** Whether results were kept that the caller may see. */
  hasKept: () =>
    queryOptions({
      queryKey: ['kept', 'any'],
      queryFn: async () => (await call('GET /kept', { query: { count: 1 } })).length > 0,
    }),
  /** All of a kind, by name. */
  ofKind: (kind: Kind | 'template', find = '') =>
    queryOptions({
      queryKey: ['reports', 'kind', kind, find],
      queryFn: () => library.things({ place: 'all', kind, find, sort: 'name', descending: false }, 0),
    }),
  thing: (id: string) => queryOptions({ queryKey: ['reports', 'thing', id], queryFn: () => library.thing(id) }),
  /** The small picture of a first page; asked for again while it is being made. */
  picture: (thing: Thing) =>
    queryOptions({
      queryKey: ['first-page', thing.id, thing.revision, thing.published],
      queryFn: () => library.picture(thing.id),
      staleTime: 300_000,
      refetchInterval: ({ state }) =>
        state.data?.state === 'making' ? Math.min(8000, 1500 * state.dataUpdateCount) : false,
    }),
  bin: () => queryOptions({ queryKey: ['reports', 'bin'], queryFn: library.bin }),
  access: (target: Target) =>
    queryOptions({ queryKey: ['reports', 'access', target], queryFn: () => library.access(target) }),
  activity: (asked: { find: string; act: string; thing?: string }) => ({
    queryKey: ['activity', asked],
    queryFn: ({ pageParam }: { pageParam: number | undefined }) => library.activity(asked, pageParam),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last: readonly { id: number }[]) => (last.length < MANY ? undefined : last.at(-1)?.id),
    staleTime: 0,
  }),
  people: (search: string) =>
    queryOptions({ queryKey: ['people', search], queryFn: () => library.people(search), staleTime: 30_000 }),
  publications: (id: string) =>
    queryOptions({ queryKey: ['reports', 'publications', id], queryFn: () => library.publications(id) }),
};
