import type { AnswerOf, BodySent, CallName, ParamsOf } from '@gaveta/core/contract';
import type { RunState } from '@gaveta/core/internal';
import { ApiFailure } from './failure.ts';

export interface ClientOptions {
  /** Gaveta’s address, as `https://reports.example/`. */
  server: string;
  /** Gives the token that calls carry; asked anew, with `true`, once one has run out. Left out: a session of the host’s own. */
  token?: (isExpired: boolean) => string | null | Promise<string | null>;
  /** Instead of the one that there is. */
  fetch?: typeof fetch;
  /** Told after each call whether the server was reached. */
  reached?: (isReached: boolean) => void;
}

/** What a call is given: its names in the address, its query and its body, by the contract. */
export type Given<C extends CallName> = {
  signal?: AbortSignal;
  query?: Record<string, string | number>;
  /** The call goes on when its page is left. */
  keepalive?: boolean;
} & (unknown extends ParamsOf<C> ? object : { params: ParamsOf<C> }) &
  (BodySent<C> extends undefined ? object : { body: BodySent<C> });

type Loose = {
  signal?: AbortSignal;
  query?: Record<string, string | number>;
  keepalive?: boolean;
  params?: Record<string, string>;
  body?: unknown;
};

/** A file that a report became. */
export interface ReportFile {
  name: string;
  blob: Blob;
  /** Problems of the run that are errors, where it was taken as it is. */
  problems: number;
}

type GivenParameters = BodySent<'POST /runs'>['parameters'];

/** Parameters of reports that are not known: any. */
export type AnyReports = Readonly<Record<string, GivenParameters>>;

export interface FileOptions<P = GivenParameters> {
  /** An output, as `pdf`. */
  format: string;
  options?: Record<string, string | number | boolean>;
  parameters?: P;
  /** Languages of the reader, as `pt-PT`, the preferred one first. */
  language?: string | readonly string[];
  /** Pattern of the file’s name, as `{report} {date}`. */
  fileName?: string;
  /** Also where the run is not whole; it is refused otherwise, with `run-incomplete`. */
  incomplete?: boolean;
  signal?: AbortSignal;
  onProgress?: (state: RunState) => void;
}

/**
 * Calls of the API, typed by the contract that the server reads them with. All reject with ApiFailure, or the signal’s reason. With
 * the `Reports` that `gaveta types` writes, the compiler checks the ids and parameters of reports.
 */
export class GavetaClient<R = AnyReports> {
  constructor(private readonly options: ClientOptions) {}

  /** Makes a call and reads its answer; undefined where it gives none. */
  async call<C extends CallName>(name: C, given: Given<C>): Promise<AnswerOf<C>> {
    const response = await this.request(name, given);
    return (response.status === 204 ? undefined : await response.json()) as AnswerOf<C>;
  }

  /** Makes a call and gives its answer unread, as for files. */
  request<C extends CallName>(name: C, given: Given<C>): Promise<Response> {
    const { signal, query = {}, keepalive, params = {}, body } = given as Loose;
    const [method = '', path = ''] = name.split(' ');
    const filled = path.replace(/:(\w+)/g, (_, key: string) => encodeURIComponent(params[key] ?? ''));
    const search = new URLSearchParams(Object.entries(query).map(([key, value]) => [key, String(value)])).toString();
    const init: RequestInit = { method };
    if (signal) init.signal = signal;
    if (keepalive) init.keepalive = true;
    if (body !== undefined) {
      init.headers = { 'Content-Type': 'application/json' };
      init.body = JSON.stringify(body);
    }
    return this.send(search === '' ? filled : `${filled}?${search}`, init);
  }

  /** Takes a file to the server, for a connection; gives its id. */
  async upload(file: Blob, signal?: AbortSignal): Promise<string> {
    const headers = { 'Content-Type': 'application/octet-stream' };
    const init: RequestInit = { method: 'POST', headers, body: file };
    const response = await this.send('/uploads', signal ? { ...init, signal } : init);
    const { id } = (await response.json()) as AnswerOf<'POST /uploads'>;
    return id;
  }

  /** Follows a run until it ends. */
  async follow(run: string, onState: (state: RunState) => void, signal: AbortSignal): Promise<void> {
    const response = await this.request('GET /runs/:id/events', { params: { id: run }, signal });
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
  }

  /** Runs a report, by its id, or a definition, and fetches a file of it. */
  async file<K extends keyof R & string>(report: K | object, asked: FileOptions<R[K]>): Promise<ReportFile> {
    const { format, options = {}, parameters = {}, language, fileName, incomplete = false, onProgress } = asked;
    const signal = asked.signal ?? new AbortController().signal;
    const what = typeof report === 'string' ? { report } : { definition: report };
    const body = { ...what, parameters, ...(language === undefined ? {} : { language }) } as BodySent<'POST /runs'>;
    const { id } = await this.call('POST /runs', { body, signal });
    await this.follow(id, onProgress ?? (() => {}), signal);
    const response = await this.request('POST /runs/:id/files/:output', {
      params: { id, output: format },
      body: {
        options,
        ...(incomplete ? { problems: 'allow' as const } : {}),
        ...(fileName === undefined ? {} : { filename: fileName }),
      },
      signal,
    });
    const blob = await response.blob();
    return {
      name: fileNameOf(response) ?? format,
      blob,
      problems: Number(response.headers.get('Gaveta-Problems') ?? 0),
    };
  }

  private async send(path: string, init: RequestInit, isAgain = false): Promise<Response> {
    const { server, token, reached, fetch: own = fetch } = this.options;
    const base = server.endsWith('/') ? server : `${server}/`;
    const headers = new Headers(init.headers);
    const carried = await token?.(isAgain);
    if (carried) headers.set('Authorization', `Bearer ${carried}`);
    let response: Response;
    try {
      response = await own(new URL(`api${path}`, base), { ...init, headers });
    } catch (error) {
      if (init.signal?.aborted) throw error;
      reached?.(false);
      throw new ApiFailure(0, 'network', '', '', {});
    }
    reached?.(true);
    if (response.ok) return response;
    const body = (await response.json().catch(() => ({}))) as Record<string, unknown>;
    // What is no problem document of Gaveta’s comes from something in front of it: the host’s parser of bodies, or a proxy.
    if (body.code === undefined)
      throw new ApiFailure(response.status, response.status === 413 ? 'refused-size' : 'refused', '', '', {});
    const code = String(body.code);
    if (code === 'token-expired' && token && !isAgain) return this.send(path, init, true);
    throw new ApiFailure(response.status, code, String(body.title ?? ''), String(body.detail ?? ''), body);
  }
}

/** The name that an answer gives its file (RFC 6266). */
export const fileNameOf = (response: Response): string | null => {
  const [, name] = /filename\*=UTF-8''([^;]+)/.exec(response.headers.get('Content-Disposition') ?? '') ?? [];
  return name === undefined ? null : decodeURIComponent(name);
};
