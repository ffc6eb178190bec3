import { ApiFailure, fileNameOf, GavetaClient } from '@gaveta/client';
import type { AnswerOf, BodySent } from '@gaveta/core/contract';
import type {
  Arrangement,
  AskedValue,
  ConnectionSettings,
  RunState as CoreRunState,
  FoldState,
  GivenValue,
  PageForm,
  Parameter,
  Problem,
  Query,
  Report,
  SourceChange,
  Step,
  StoredRecipe,
  WireRow,
} from '@gaveta/core/internal';
import { connection } from './connection.ts';

export type { ConnectionSettings, SourceChange, StoredRecipe };

export { ApiFailure };

export type Session = AnswerOf<'GET /session'>;
export type StoredReport = AnswerOf<'POST /reports'>;
/** Work that is not saved. */
export type DraftHead = AnswerOf<'PUT /drafts/:key'>;
export type Revision = AnswerOf<'GET /reports/:id/revisions'>[number];
/** Who else has a report open, and its newest revision. */
export type Presence = AnswerOf<'POST /reports/:id/presence'>;
/** A file that a report can become. */
export type OutputFacts = AnswerOf<'GET /outputs'>[number];
export type RunState = CoreRunState<Problem>;

export interface DesignRows {
  /** Of how rows travel; a server of another version must not be understood. */
  version: number;
  levels: {
    /** Tells which level’s rows these are, and in which columns. */
    key: string;
    rows: WireRow[];
    complete: boolean;
    problem: { code: string; data: Record<string, string | number> } | null;
  }[];
  nested: Record<string, Report>;
  problems: Problem[];
}

/** Values of parameters by name, as they stand in an address. */
export type ParameterValues = Record<string, GivenValue>;

export type GivenValues = Record<string, GivenValue>;

/** A data model with where its rows come from. */
export type ModelWithOrigin = AnswerOf<'GET /models'>[number];

export type RecipeDraft = Pick<StoredRecipe, 'name' | 'steps' | 'parameters'>;

/** Steps to look at, with the values of their parameters. */
export interface Looked {
  steps: readonly Step[];
  parameters: readonly Parameter[];
  values?: Record<string, GivenValue>;
  queries?: readonly Query[];
}

/** What looking at rows gave; `failure` says why it gave nothing. */
export type Look<T> = Pick<AnswerOf<'POST /recipe/rows'>, 'failure'> & { found: T | null };
/** Why there is nothing to see: in the server's words, and as what they are made of. */
export type LookFailure = NonNullable<AnswerOf<'POST /recipe/rows'>['failure']>;
export type RecipeRows = NonNullable<AnswerOf<'POST /recipe/rows'>['found']>;
export type ColumnFacts = NonNullable<AnswerOf<'POST /recipe/facts'>['found']>[number];
export type Choices = AnswerOf<'POST /choices'>;
export type ConnectionList = AnswerOf<'GET /connections'>;
export type MadeConnection = ConnectionList['made'][number];
export type FoundSourceTable = AnswerOf<'POST /connections/test'>['tables'][number];
export type FoundSourceField = FoundSourceTable['fields'][number];
export type FieldUser = AnswerOf<'POST /connections/:name/refresh'>['users'][number];

export interface ConnectionDraft extends Pick<BodySent<'PUT /connections'>, 'name' | 'label' | 'secret' | 'folder'> {
  settings: ConnectionSettings;
  /** A file that becomes part of the connection; uploaded when the draft is tried or saved. */
  file?: Blob;
}

/** Where the token comes from in an embedded frame; standing alone, the host's own session is used. */
interface TokenSource {
  current: string | null;
  renew: (() => Promise<string>) | null;
}

export const tokens: TokenSource = { current: null, renew: null };

const client = new GavetaClient({
  // Asked for when a call is made, so that this can be read where there is no page.
  get server() {
    return document.baseURI;
  },
  token: async (isExpired) => {
    if (isExpired && tokens.renew) tokens.current = await tokens.renew();
    return tokens.current;
  },
  reached: (isReached) => (isReached ? connection.back() : connection.lost()),
});

/** Makes a call of the API; what it takes and gives is the contract’s. Rejects with ApiFailure. */
export const call: typeof client.call = (name, given) => client.call(name, given);
export const request: typeof client.request = (name, given) => client.request(name, given);

/** A draft as the server takes it: its file goes ahead. */
const uploaded = async (
  { file, ...draft }: ConnectionDraft,
  signal?: AbortSignal,
): Promise<BodySent<'PUT /connections'>> => {
  if (!file) return draft;
  let upload = uploads.get(file);
  if (!upload) {
    upload = client.upload(file);
    uploads.set(file, upload);
    upload.catch(() => uploads.delete(file));
  }
  const id = await upload;
  signal?.throwIfAborted();
  return { ...draft, upload: id };
};

/** Files that are on the server: looking at one again, or saving it, sends it no second time. */
const uploads = new WeakMap<Blob, Promise<string>>();

/** Sends a draft; when the server has let go of its file, with the file again. */
const withUpload = async <T>(
  draft: ConnectionDraft,
  call: (body: BodySent<'PUT /connections'>) => Promise<T>,
  signal?: AbortSignal,
): Promise<T> => {
  try {
    return await call(await uploaded(draft, signal));
  } catch (error) {
    if (!draft.file || !(error instanceof ApiFailure) || error.code !== 'unknown-upload') throw error;
    uploads.delete(draft.file);
    return call(await uploaded(draft, signal));
  }
};

/** Steps that are looked at, as they are sent: lists that nobody changes. */
const sent = <T extends Looked>(asked: T) =>
  asked as unknown as Omit<T, keyof Looked> & Pick<BodySent<'POST /recipe/count'>, keyof Looked>;

/** A definition is sent as it is, and checked by the server. */
const json = (definition: Report): Record<string, unknown> => definition as unknown as Record<string, unknown>;

export const api = {
  session: () => call('GET /session', {}),
  models: () => call('GET /models', {}),
  embedding: () => call('GET /embedding', {}),
  checkEmbedding: () => call('POST /embedding/check', {}),
  embeddingToken: (rights: BodySent<'POST /embedding/token'>['rights']) =>
    call('POST /embedding/token', { body: { rights } }),
  fonts: () => call('GET /fonts', {}),
  /** With the whole addresses of their modules. */
  functions: async () =>
    (await call('GET /functions', {})).map(({ module, ...facts }) => ({
      ...facts,
      module: module === null ? null : new URL(`api/${module}`, document.baseURI).href,
    })),
  themes: () => call('GET /themes', {}),
  reports: () => call('GET /reports', {}),
  /** `languages`: those of its reader, the preferred one first; without them it is as it was written. */
  report: (id: string, which: 'published' | 'newest' = 'newest', languages: readonly string[] = []) =>
    call('GET /reports/:id', {
      params: { id },
      query: { which, ...(languages.length > 0 ? { language: languages.join(',') } : {}) },
    }),
  create: (definition: Report, where: { folder?: string; note?: string } = {}) =>
    call('POST /reports', { body: { definition: json(definition), ...where } }),
  save: (id: string, definition: Report, base: number, note = '') =>
    call('PUT /reports/:id', { params: { id }, body: { definition: json(definition), base, note } }),
  revisions: (id: string) => call('GET /reports/:id/revisions', { params: { id } }),
  revision: (id: string, number: number) =>
    call('GET /reports/:id/revisions/:number', { params: { id, number: String(number) } }),
  valueSets: (report: string) => call('GET /reports/:id/value-sets', { params: { id: report } }),
  keepValues: (report: string, set: { name: string; values: ParameterValues; shared: boolean }) =>
    call('POST /reports/:id/value-sets', {
      params: { id: report },
      body: set as unknown as BodySent<'POST /reports/:id/value-sets'>,
    }),
  removeValues: (report: string, set: string) =>
    call('DELETE /reports/:id/value-sets/:set', { params: { id: report, set } }),
  removeReport: (id: string) => call('DELETE /reports/:id', { params: { id } }),
  restoreReport: (id: string) => call('POST /reports/:id/restore', { params: { id } }),
  reportUsers: (id: string) => call('GET /reports/:id/users', { params: { id } }),
  drafts: () => call('GET /drafts', {}),
  /** Null when nothing is kept under the key. */
  draft: (key: string) => call('GET /drafts/:key', { params: { key } }),
  putDraft: (key: string, draft: { definition: Report; report: string | null; base: number }) =>
    call('PUT /drafts/:key', { params: { key }, body: { ...draft, definition: json(draft.definition) } }),
  /** With `savedAt` only as long as nothing newer was put by there. */
  removeDraft: (key: string, savedAt?: string) =>
    call('DELETE /drafts/:key', { params: { key }, ...(savedAt === undefined ? {} : { query: { savedAt } }) }),
  presence: (id: string, window: string, leaving = false) =>
    call('POST /reports/:id/presence', { params: { id }, body: { window, leaving }, keepalive: leaving }),
  /** `language`: the one that it is shown in; null for its own. */
  designRows: (definition: Report, language: string | null, signal: AbortSignal) =>
    call('POST /design-rows', {
      body: { definition: json(definition), parameters: {}, ...(language === null ? {} : { language }) },
      signal,
    }) as Promise<DesignRows>,
  run: (
    what: { report: string; revision?: 'published' | 'newest' } | { definition: Report },
    parameters: ParameterValues,
    how: {
      credentials?: Record<string, { user: string; password: string }>;
      form?: PageForm;
      language?: string[];
      arrangement?: Arrangement;
    } = {},
  ) => call('POST /runs', { body: { ...what, parameters, ...how } as unknown as BodySent<'POST /runs'> }),
  /** Lays a run out anew with other parts of it closed, or in another form; `at`: what its reader looks at. */
  layAnew: (
    run: string,
    { folds: { base, turned }, form }: { folds: FoldState; form: PageForm },
    at: BodySent<'POST /runs/:id/folds'>['at'] = {},
  ) => call('POST /runs/:id/folds', { params: { id: run }, body: { folds: { base, turned: [...turned] }, form, at } }),
  cancel: (run: string) => call('DELETE /runs/:id', { params: { id: run } }),
  pages: (run: string, from: number, count: number) =>
    call('GET /runs/:id/pages', { params: { id: run }, query: { from, count } }),
  /** A picture that pages show, by its hash. The browser keeps it. */
  picture: async (hash: string) => (await request('GET /pictures/:hash', { params: { hash } })).blob(),
  outline: (run: string) => call('GET /runs/:id/outline', { params: { id: run } }),
  /** Where words stand on its pages; places `from` one on, counted from 0. */
  found: (run: string, text: string, from = 0, count = 0) =>
    call('GET /runs/:id/found', { params: { id: run }, query: { text, from, count } }),
  anchor: (run: string, name: string) => call('GET /runs/:id/anchor', { params: { id: run }, query: { name } }),
  /** How whoever reads a run may arrange its rows. */
  arranging: (run: string) => call('GET /runs/:id/arranging', { params: { id: run } }),
  /** Where the first band of a row stands, by the name that its region has; null where no page has one. */
  itemOn: (run: string, id: string) => call('GET /runs/:id/items', { params: { id: run }, query: { id } }),
  rowsOn: (run: string, name: string) => call('GET /runs/:id/rows', { params: { id: run }, query: { name } }),
  explain: (run: string, asked: AskedValue, signal: AbortSignal) =>
    call('POST /runs/:id/explain', { params: { id: run }, body: asked, signal }),
  profile: (run: string) => call('GET /runs/:id/profile', { params: { id: run } }),
  font: async (file: string) => (await request('GET /fonts/:file', { params: { file } })).arrayBuffer(),
  outputs: () => call('GET /outputs', {}),
  /** As it is: what is wrong with it is shown beside the pages already. */
  file: async (
    run: string,
    files: readonly { output: string; options: Readonly<Record<string, string>> }[],
    filename: string,
    signal: AbortSignal,
  ) => {
    const [{ output, options }] = files as [(typeof files)[number]];
    // In the body: addresses are kept in logs, and a password is one of the options.
    const shared = { problems: 'allow', ...(filename === '' ? {} : { filename }) };
    const response =
      files.length > 1
        ? await request('POST /runs/:id/files', { params: { id: run }, body: { ...shared, files: [...files] }, signal })
        : await request('POST /runs/:id/files/:output', {
            params: { id: run, output },
            body: { ...shared, options },
            signal,
          });
    return { blob: await response.blob(), name: fileNameOf(response) ?? output };
  },
  /** Files of a run that are being made. */
  filesMade: (run: string, signal: AbortSignal) => call('GET /runs/:id/files', { params: { id: run }, signal }),

  recipes: () => call('GET /recipes', {}),
  createRecipe: (draft: RecipeDraft, folder: string | null = null) =>
    call('POST /recipes', { body: { ...draft, ...(folder === null ? {} : { folder }) } }),
  saveRecipe: (id: string, draft: RecipeDraft, base: number) =>
    call('PUT /recipes/:id', { params: { id }, body: { ...draft, base } }),
  removeRecipe: (id: string) => call('DELETE /recipes/:id', { params: { id } }),
  recipeUsers: (id: string) => call('GET /recipes/:id/users', { params: { id } }),
  recipeRows: (asked: Looked & { rows?: number }, signal: AbortSignal) =>
    call('POST /recipe/rows', { body: sent(asked), signal }),
  recipeCount: (asked: Looked, signal: AbortSignal) => call('POST /recipe/count', { body: sent(asked), signal }),
  recipeFacts: (asked: Looked, signal: AbortSignal) => call('POST /recipe/facts', { body: sent(asked), signal }),
  recipeValues: (asked: Looked & { field: string; search?: string }, signal: AbortSignal) =>
    call('POST /recipe/values', { body: sent(asked), signal }),
  recipeFit: (asked: Looked & { there: readonly Step[]; on: { here: string; there: string }[] }, signal: AbortSignal) =>
    call('POST /recipe/fit', { body: sent({ ...asked, there: [...asked.there] }), signal }),
  describeSql: (asked: { model: string; text: string; parameters: readonly Parameter[] }, signal: AbortSignal) =>
    call('POST /sql/describe', { body: { ...asked, parameters: [...asked.parameters] }, signal }),
  choices: (
    asked: {
      report?: string;
      definition?: Report;
      parameter: string;
      values: ParameterValues;
      search: string;
      /** Only those with these values. */
      among?: readonly string[];
    },
    signal: AbortSignal,
  ) => call('POST /choices', { body: asked as unknown as BodySent<'POST /choices'>, signal }),
  connections: () => call('GET /connections', {}),
  testConnection: (draft: ConnectionDraft, signal: AbortSignal) =>
    withUpload(draft, (body) => call('POST /connections/test', { body, signal }), signal),
  putConnection: (draft: ConnectionDraft) => withUpload(draft, (body) => call('PUT /connections', { body })),
  refreshConnection: (name: string) => call('POST /connections/:name/refresh', { params: { name } }),
  renameColumns: (name: string, renamed: { table: string; field: string; column: string }[]) =>
    call('POST /connections/:name/rename', { params: { name }, body: { renamed } }),
  connectionUsers: (name: string) => call('GET /connections/:name/users', { params: { name } }),
  removeConnection: (name: string) => call('DELETE /connections/:name', { params: { name } }),

  /** Follows a run until it ends. */
  follow: (run: string, onState: (state: RunState) => void, signal: AbortSignal) =>
    client.follow(run, onState as (state: CoreRunState) => void, signal),
};
