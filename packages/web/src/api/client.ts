import type {
  ConnectionSettings,
  RunState as CoreRunState,
  DataType,
  Field,
  GivenValue,
  Heading,
  Model,
  Page,
  Parameter,
  PlaceInRun,
  Problem,
  Query,
  Report,
  RunProfile,
  SourceChange,
  Step,
  StoredRecipe,
  WireRow,
} from '@gaveta/core';

export type { ConnectionSettings, SourceChange, StoredRecipe };

/** A problem document (RFC 9457) that the server answered with. */
export class ApiFailure extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    readonly title: string,
    readonly detail: string,
    readonly document: Record<string, unknown>,
  ) {
    super(detail);
  }
}

export interface Session {
  user: string;
  rights: ('view' | 'design' | 'data' | 'sql')[];
}

export interface StoredReport {
  id: string;
  name: string;
  revision: number;
  changedAt: string;
  changedBy: string;
}

/** Work that is not saved. */
export interface DraftHead {
  key: string;
  report: string | null;
  name: string;
  base: number;
  savedAt: string;
}

export interface Revision {
  number: number;
  author: string;
  note: string;
  savedAt: string;
}

/** Who else has a report open, and its newest revision. */
export interface Presence {
  others: { user: string; since: number }[];
  stored: StoredReport | null;
}

/** A file that a report can become. */
export interface OutputFacts {
  name: string;
  label: string;
  mime: string;
  extension: string;
}

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
export type ModelWithOrigin = Model & {
  origin: { connection: string; kind: 'database' | 'rows' | 'missing'; made: 'code' | 'hand' };
};

export type RecipeDraft = Pick<StoredRecipe, 'name' | 'steps' | 'parameters'>;

/** Steps to look at, with the values of their parameters. */
export interface Looked {
  steps: readonly Step[];
  parameters: readonly Parameter[];
  values?: Record<string, GivenValue>;
  queries?: readonly Query[];
}

/** Why there is nothing to see: in the server's words, and as what they are made of. */
export interface LookFailure {
  detail: string;
  problem: Problem;
}

/** What looking at rows gave; `failure` says why it gave nothing. */
export interface Look<T> {
  found: T | null;
  failure: LookFailure | null;
}

export interface RecipeRows {
  rows: WireRow[];
  fields: Field[];
  milliseconds: number;
  sql: string;
  values: (string | number | boolean | null)[];
}

export interface ColumnFacts {
  field: string;
  distinct: number;
  blanks: number;
  least: string | null;
  most: string | null;
}

export interface Choices {
  choices: { value: string; label: string }[];
  more: boolean;
  failure: LookFailure | null;
}

export interface ConnectionList {
  made: MadeConnection[];
  fixed: { name: string; kind: 'database' | 'rows' }[];
  allowedAddresses: string[];
  keepsSecrets: boolean;
}

export interface MadeConnection {
  name: string;
  label: string;
  settings: ConnectionSettings;
  hasSecret: boolean;
  isLocked: boolean;
  hasFile: boolean;
  tables: number;
  changedAt: string;
  changedBy: string;
}

export interface ConnectionDraft {
  name: string;
  label: string;
  settings: ConnectionSettings;
  secret?: { password?: string; connectionString?: string; headers?: Record<string, string> };
  /** A file that becomes part of the connection; uploaded when the draft is tried or saved. */
  file?: Blob;
}

export interface FoundSourceField {
  name: string;
  label: string;
  type: DataType;
  /** Of a file or service: what it calls the column, which of those of the same name, and how its cells are written. */
  column?: string;
  which?: number;
  decimal?: '.' | ',';
  dates?: 'ymd' | 'dmy' | 'mdy';
  /** Cells that do not fit the type; they become blank. */
  misfits?: number;
  doubt?: 'day-month' | 'decimal' | null;
}

export interface FoundSourceTable {
  name: string;
  label: string;
  fields: FoundSourceField[];
  /** Of a file or service: the first rows as they are written. */
  rows?: { text: string; fits: boolean }[][];
}

export interface FieldUser {
  kind: 'report' | 'recipe';
  id: string;
  name: string;
  field: string;
  /** Ids of a report's items and drawers that name it. */
  places: string[];
}

/** Where the token comes from in an embedded frame; standing alone, the host's own session is used. */
interface TokenSource {
  current: string | null;
  renew: (() => Promise<string>) | null;
}

export const tokens: TokenSource = { current: null, renew: null };

const address = (path: string): string => new URL(`api${path}`, document.baseURI).href;

const send = async (path: string, init: RequestInit, again = true): Promise<Response> => {
  const headers = new Headers(init.headers);
  if (tokens.current) headers.set('Authorization', `Bearer ${tokens.current}`);
  let response: Response;
  try {
    response = await fetch(address(path), { ...init, headers });
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw new ApiFailure(0, 'network', '', '', {});
  }
  if (response.ok) return response;
  const body = (await response.json().catch(() => ({}))) as Record<string, unknown>;
  const code = String(body.code ?? 'unexpected');
  if (code === 'token-expired' && tokens.renew && again) {
    tokens.current = await tokens.renew();
    return send(path, init, false);
  }
  throw new ApiFailure(
    response.status,
    code,
    String(body.title ?? response.statusText),
    String(body.detail ?? ''),
    body,
  );
};

const json = async <T>(path: string, init: RequestInit = {}): Promise<T> =>
  (await send(path, init)).json() as Promise<T>;

const withBody = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { 'Content-Type': 'application/json' },
  body: JSON.stringify(body),
});

const part = encodeURIComponent;

/** A draft as the server takes it: its file goes ahead. */
const uploaded = async ({ file, ...draft }: ConnectionDraft, signal?: AbortSignal): Promise<object> => {
  if (!file) return draft;
  let upload = uploads.get(file);
  if (!upload) {
    const headers = { 'Content-Type': 'application/octet-stream' };
    upload = json<{ id: string }>('/uploads', { method: 'POST', headers, body: file }).then(({ id }) => id);
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
  call: (body: object) => Promise<T>,
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

export const api = {
  session: () => json<Session>('/session'),
  models: () => json<ModelWithOrigin[]>('/models'),
  reports: () => json<StoredReport[]>('/reports'),
  report: (id: string) => json<StoredReport & { definition: Report }>(`/reports/${part(id)}`),
  create: (definition: Report) => json<StoredReport>('/reports', withBody('POST', { definition })),
  save: (id: string, definition: Report, base: number, note = '') =>
    json<StoredReport>(`/reports/${part(id)}`, withBody('PUT', { definition, base, note })),
  revisions: (id: string) => json<Revision[]>(`/reports/${part(id)}/revisions`),
  revision: (id: string, number: number) => json<Report>(`/reports/${part(id)}/revisions/${number}`),
  drafts: () => json<DraftHead[]>('/drafts'),
  /** Null when nothing is kept under the key. */
  draft: async (key: string): Promise<(DraftHead & { definition: Report }) | null> => {
    try {
      return await json<DraftHead & { definition: Report }>(`/drafts/${part(key)}`);
    } catch (error) {
      if (error instanceof ApiFailure && error.code === 'unknown-draft') return null;
      throw error;
    }
  },
  putDraft: (key: string, draft: { definition: Report; report: string | null; base: number }) =>
    json<DraftHead>(`/drafts/${part(key)}`, withBody('PUT', draft)),
  /** With `savedAt` only as long as nothing newer was put by there. */
  removeDraft: async (key: string, savedAt?: string): Promise<void> => {
    const only = savedAt === undefined ? '' : `?savedAt=${part(savedAt)}`;
    await send(`/drafts/${part(key)}${only}`, { method: 'DELETE' });
  },
  presence: (id: string, window: string, leaving = false) =>
    json<Presence>(`/reports/${part(id)}/presence`, { ...withBody('POST', { window, leaving }), keepalive: leaving }),
  designRows: (definition: Report, signal: AbortSignal) =>
    json<DesignRows>('/design-rows', { ...withBody('POST', { definition, parameters: {} }), signal }),
  run: (
    what: { report: string } | { definition: Report },
    parameters: ParameterValues,
    credentials: Record<string, { user: string; password: string }> = {},
  ) => json<RunState>('/runs', withBody('POST', { ...what, parameters, credentials })),
  cancel: (run: string) => json<RunState>(`/runs/${part(run)}`, { method: 'DELETE' }),
  pages: (run: string, from: number, count: number) =>
    json<Page[]>(`/runs/${part(run)}/pages?from=${from}&count=${count}`),
  /** A picture that pages show, by its hash. The browser keeps it. */
  picture: async (hash: string) => (await send(`/pictures/${part(hash)}`, {})).blob(),
  outline: (run: string) => json<Heading[]>(`/runs/${part(run)}/outline`),
  anchor: (run: string, name: string) => json<PlaceInRun | null>(`/runs/${part(run)}/anchor?name=${part(name)}`),
  profile: (run: string) => json<RunProfile | null>(`/runs/${part(run)}/profile`),
  outputs: () => json<OutputFacts[]>('/outputs'),
  /** As it is: what is wrong with it is shown beside the pages already. */
  file: async (run: string, output: string) =>
    (await send(`/runs/${part(run)}/files/${part(output)}?problems=allow`, {})).blob(),

  recipes: () => json<StoredRecipe[]>('/recipes'),
  createRecipe: (draft: RecipeDraft) => json<StoredRecipe>('/recipes', withBody('POST', draft)),
  saveRecipe: (id: string, draft: RecipeDraft, base: number) =>
    json<StoredRecipe>(`/recipes/${part(id)}`, withBody('PUT', { ...draft, base })),
  removeRecipe: async (id: string): Promise<void> => void (await send(`/recipes/${part(id)}`, { method: 'DELETE' })),
  recipeUsers: (id: string) =>
    json<{ kind: 'report' | 'recipe'; id: string; name: string }[]>(`/recipes/${part(id)}/users`),
  recipeRows: (asked: Looked & { rows?: number }, signal: AbortSignal) =>
    json<Look<RecipeRows>>('/recipe/rows', { ...withBody('POST', asked), signal }),
  recipeCount: (asked: Looked, signal: AbortSignal) =>
    json<Look<{ count: number; milliseconds: number }>>('/recipe/count', { ...withBody('POST', asked), signal }),
  recipeFacts: (asked: Looked, signal: AbortSignal) =>
    json<Look<ColumnFacts[]>>('/recipe/facts', { ...withBody('POST', asked), signal }),
  recipeValues: (asked: Looked & { field: string; search?: string }, signal: AbortSignal) =>
    json<Look<{ value: string; count: number }[]>>('/recipe/values', { ...withBody('POST', asked), signal }),
  recipeFit: (asked: Looked & { there: readonly Step[]; on: { here: string; there: string }[] }, signal: AbortSignal) =>
    json<Look<{ here: number; there: number; hereAlone: number; thereAlone: number }>>('/recipe/fit', {
      ...withBody('POST', asked),
      signal,
    }),
  describeSql: (asked: { model: string; text: string; parameters: readonly Parameter[] }, signal: AbortSignal) =>
    json<{
      columns: { name: string; type: DataType }[] | null;
      failure: { detail: string; position: number | null } | null;
    }>('/sql/describe', { ...withBody('POST', asked), signal }),
  choices: (
    asked: { report?: string; definition?: Report; parameter: string; values: ParameterValues; search: string },
    signal: AbortSignal,
  ) => json<Choices>('/choices', { ...withBody('POST', asked), signal }),
  connections: () => json<ConnectionList>('/connections'),
  testConnection: (draft: ConnectionDraft, signal: AbortSignal) =>
    withUpload(
      draft,
      (body) => json<{ tables: FoundSourceTable[] }>('/connections/test', { ...withBody('POST', body), signal }),
      signal,
    ),
  putConnection: (draft: ConnectionDraft) =>
    withUpload(draft, (body) =>
      json<{ tables: FoundSourceTable[]; changes: SourceChange[] }>('/connections', withBody('PUT', body)),
    ),
  refreshConnection: (name: string) =>
    json<{ changes: SourceChange[]; users: FieldUser[] }>(`/connections/${part(name)}/refresh`, withBody('POST', {})),
  removeConnection: async (name: string): Promise<void> =>
    void (await send(`/connections/${part(name)}`, { method: 'DELETE' })),

  /** Follows a run until it ends. */
  async follow(run: string, onState: (state: RunState) => void, signal: AbortSignal): Promise<void> {
    const response = await send(`/runs/${part(run)}/events`, { signal });
    const reader = response.body!.pipeThrough(new TextDecoderStream()).getReader();
    let text = '';
    for (;;) {
      const { done, value } = await reader.read();
      if (done) return;
      text += value;
      const events = text.split('\n\n');
      text = events.pop()!;
      const last = events.at(-1);
      if (last?.startsWith('data: ')) onState(JSON.parse(last.slice('data: '.length)) as RunState);
    }
  },
};
