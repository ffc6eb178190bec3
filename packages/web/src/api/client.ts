import type {
  RunState as CoreRunState,
  Heading,
  Model,
  Page,
  PlaceInRun,
  Problem,
  Report,
  RunProfile,
  WireRow,
} from '@gaveta/core';

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
  rights: ('view' | 'design')[];
}

export interface StoredReport {
  id: string;
  name: string;
  revision: number;
  changedAt: string;
  changedBy: string;
}

export type SaidProblem = Problem & { text: string };

export type RunState = CoreRunState<SaidProblem>;

export interface DesignRows {
  levels: {
    rows: WireRow[];
    complete: boolean;
    problem: { code: string; data: Record<string, string | number> } | null;
  }[];
  nested: Record<string, Report>;
  problems: SaidProblem[];
}

export type ParameterValues = Record<string, string | number | null>;

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

export const api = {
  session: () => json<Session>('/session'),
  models: () => json<Model[]>('/models'),
  reports: () => json<StoredReport[]>('/reports'),
  report: (id: string) => json<StoredReport & { definition: Report }>(`/reports/${part(id)}`),
  create: (definition: Report) => json<StoredReport>('/reports', withBody('POST', { definition })),
  save: (id: string, definition: Report, base: number) =>
    json<StoredReport>(`/reports/${part(id)}`, withBody('PUT', { definition, base })),
  designRows: (definition: Report, signal: AbortSignal) =>
    json<DesignRows>('/design-rows', { ...withBody('POST', { definition, parameters: {} }), signal }),
  run: (report: string, parameters: ParameterValues) =>
    json<RunState>('/runs', withBody('POST', { report, parameters })),
  cancel: (run: string) => json<RunState>(`/runs/${part(run)}`, { method: 'DELETE' }),
  pages: (run: string, from: number, count: number) =>
    json<Page[]>(`/runs/${part(run)}/pages?from=${from}&count=${count}`),
  outline: (run: string) => json<Heading[]>(`/runs/${part(run)}/outline`),
  anchor: (run: string, name: string) => json<PlaceInRun | null>(`/runs/${part(run)}/anchor?name=${part(name)}`),
  profile: (run: string) => json<RunProfile | null>(`/runs/${part(run)}/profile`),
  pdf: async (run: string) => (await send(`/runs/${part(run)}/pdf`, {})).blob(),

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
