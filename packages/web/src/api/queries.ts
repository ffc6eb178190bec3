import type { AskedValue, Parameter, Report, Source, Step } from '@gaveta/core/internal';
import { infiniteQueryOptions, queryOptions } from '@tanstack/react-query';
import { api, type Looked, type ParameterValues } from './client.ts';

/** Looking at rows again within so many milliseconds asks nobody; what failed may go well the next time. */
const lookedFresh = ({ state }: { state: { data: { failure: unknown } | undefined } }): number =>
  state.data?.failure ? 0 : 60_000;
/** Places that are fetched together; the server gives no more. */
const PLACES = 50;
const CHOICES_FRESH = 30_000;

/**
 * What the API is asked for, each under its key: the one place that knows which answer is kept under which. What puts several
 * calls together stands where it is used.
 */
export const queries = {
  session: () => queryOptions({ queryKey: ['session'], queryFn: api.session }),
  /** Functions that the host added to formulas. */
  functions: () =>
    queryOptions({ queryKey: ['functions'], queryFn: api.functions, staleTime: Number.POSITIVE_INFINITY }),
  /** The host’s own themes. */
  themes: () => queryOptions({ queryKey: ['themes'], queryFn: api.themes, staleTime: 60_000 }),
  embedding: () => queryOptions({ queryKey: ['embedding'], queryFn: api.embedding, staleTime: 0 }),
  models: () => queryOptions({ queryKey: ['models'], queryFn: api.models }),
  /** Files of a run that are being made, asked for again and again. */
  filesMade: (run: string) =>
    queryOptions({
      queryKey: ['files', run],
      queryFn: ({ signal }) => api.filesMade(run, signal),
      refetchInterval: 300,
      gcTime: 0,
      retry: false,
    }),
  outputs: () => queryOptions({ queryKey: ['outputs'], queryFn: api.outputs, staleTime: Number.POSITIVE_INFINITY }),

  reports: () => queryOptions({ queryKey: ['reports'], queryFn: api.reports }),
  report: (id: string) => queryOptions({ queryKey: ['report', id], queryFn: () => api.report(id) }),
  /** Another report that this one nests or links to; one that is gone is said at once. */
  otherReport: (id: string) =>
    queryOptions({ queryKey: ['report', id, 'nested'], queryFn: () => api.report(id), retry: false }),
  revisions: (id: string) => queryOptions({ queryKey: ['revisions', id], queryFn: () => api.revisions(id) }),
  revision: (id: string, number: number) =>
    queryOptions({
      queryKey: ['revision', id, number],
      queryFn: () => api.revision(id, number),
      enabled: number > 0,
      staleTime: Number.POSITIVE_INFINITY,
    }),
  drafts: () => queryOptions({ queryKey: ['drafts'], queryFn: api.drafts, staleTime: 0 }),

  profile: (run: string) => queryOptions({ queryKey: ['profile', run], queryFn: () => api.profile(run) }),
  /** `count`: entries that are known to be there. */
  outline: (run: string, count: number) =>
    queryOptions({ queryKey: ['outline', run, count], queryFn: () => api.outline(run) }),
  /** Where words stand on the pages that a run has so far. While it goes on they are looked through again each time that they are twice as many. */
  found: (run: { id: string; pages: number; status: string } | null, text: string) =>
    queryOptions({
      queryKey: ['found', run?.id, text, run && Math.floor(Math.log2(run.pages)), run?.status],
      queryFn: () => api.found(run!.id, text),
      placeholderData: (old, before) =>
        before?.queryKey[1] === run?.id && before?.queryKey[2] === text ? old : undefined,
      staleTime: Number.POSITIVE_INFINITY,
      gcTime: 60_000,
    }),
  /** The places where they stand, so many at a time. */
  foundPlaces: (run: { id: string; pages: number; status: string }, text: string) =>
    infiniteQueryOptions({
      queryKey: ['found-places', run.id, text, Math.floor(Math.log2(run.pages)), run.status],
      queryFn: async ({ pageParam }) => (await api.found(run.id, text, pageParam, PLACES)).places,
      initialPageParam: 0,
      getNextPageParam: (last, all) => (last.length < PLACES ? undefined : all.length * PLACES),
      staleTime: Number.POSITIVE_INFINITY,
      gcTime: 60_000,
    }),
  valueSets: (report: string) =>
    queryOptions({ queryKey: ['value-sets', report], queryFn: () => api.valueSets(report), staleTime: 0 }),
  arranging: (run: string) =>
    queryOptions({
      queryKey: ['arranging', run],
      queryFn: () => api.arranging(run),
      staleTime: Number.POSITIVE_INFINITY,
    }),
  /** Where a value of a run comes from. */
  explanation: (run: string, asked: AskedValue) =>
    queryOptions({
      queryKey: ['explanation', run, asked],
      queryFn: ({ signal }) => api.explain(run, asked, signal),
      staleTime: Number.POSITIVE_INFINITY,
      gcTime: 60_000,
      retry: false,
    }),
  choices: (
    source: { report: string } | { definition: Report },
    parameter: Parameter,
    values: ParameterValues,
    search: string,
    among?: readonly string[],
  ) =>
    queryOptions({
      queryKey: ['choices', source, parameter, values, search, among],
      queryFn: ({ signal }) => {
        const asked = { ...source, parameter: parameter.name, values, search };
        return api.choices(among ? { ...asked, among } : asked, signal);
      },
      staleTime: CHOICES_FRESH,
    }),

  /** Reports that nest a report or link to it. */
  reportUsers: (id: string) => queryOptions({ queryKey: ['report-users', id], queryFn: () => api.reportUsers(id) }),

  recipes: () => queryOptions({ queryKey: ['recipes'], queryFn: api.recipes }),
  recipeUsers: (id: string) => queryOptions({ queryKey: ['recipe-users', id], queryFn: () => api.recipeUsers(id) }),
  recipeRows: (looked: Looked) =>
    queryOptions({
      queryKey: ['recipe-rows', looked],
      queryFn: ({ signal }) => api.recipeRows(looked, signal),
      staleTime: lookedFresh,
    }),
  recipeFacts: (looked: Looked) =>
    queryOptions({
      queryKey: ['recipe-facts', looked],
      queryFn: ({ signal }) => api.recipeFacts(looked, signal),
      staleTime: lookedFresh,
    }),
  recipeCount: (looked: Looked) =>
    queryOptions({
      queryKey: ['recipe-count', looked],
      queryFn: ({ signal }) => api.recipeCount(looked, signal),
      staleTime: lookedFresh,
    }),
  /** The values of a column after some steps. */
  recipeValues: (looked: Looked, field: string) =>
    queryOptions({
      queryKey: ['recipe-values', looked, field],
      queryFn: ({ signal }) => api.recipeValues({ ...looked, field }, signal),
      staleTime: lookedFresh,
    }),
  /** How many rows after some steps match those of another source. */
  recipeFit: (looked: Looked, from: Source, on: { here: string; there: string }[]) => {
    const there: Step[] = [{ step: 'take', from }];
    return queryOptions({
      queryKey: ['recipe-fit', looked, there, on],
      queryFn: ({ signal }) => api.recipeFit({ ...looked, there, on }, signal),
      staleTime: lookedFresh,
    });
  },
  fonts: () => queryOptions({ queryKey: ['fonts'], queryFn: api.fonts, staleTime: Number.POSITIVE_INFINITY }),
  /** Every font with the bytes of its file. */
  fontFiles: () =>
    queryOptions({
      queryKey: ['font-files'],
      queryFn: async ({ client }) => {
        const faces = await client.fetchQuery(queries.fonts());
        return Promise.all(faces.map(async (face) => ({ ...face, data: await api.font(face.file) })));
      },
      staleTime: Number.POSITIVE_INFINITY,
    }),
  connections: () => queryOptions({ queryKey: ['connections'], queryFn: api.connections }),
};

/** Keys of everything that another set of connections may change. */
export const KEYS_OF_ROWS = ['connections', 'models', 'recipe-rows', 'recipe-count', 'recipe-facts'] as const;
