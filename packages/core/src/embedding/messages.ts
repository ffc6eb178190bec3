/**
 * What a host page and an embedded frame say to each other, by `postMessage`. The frame says `ready` first and gets no
 * rows before a `token` has come; when that runs out it asks again with `need-token`.
 */
export const EMBEDDING_VERSION = 1;

export type ToFrame =
  | { gaveta: typeof EMBEDDING_VERSION; kind: 'token'; token: string }
  | { gaveta: typeof EMBEDDING_VERSION; kind: 'parameters'; values: Record<string, string | number | null> };

export type ToHost =
  | { gaveta: typeof EMBEDDING_VERSION; kind: 'ready' }
  | { gaveta: typeof EMBEDDING_VERSION; kind: 'need-token' }
  | { gaveta: typeof EMBEDDING_VERSION; kind: 'saved'; report: string; revision: number }
  | { gaveta: typeof EMBEDDING_VERSION; kind: 'page-count'; report: string; pages: number }
  | { gaveta: typeof EMBEDDING_VERSION; kind: 'error'; code: string; detail: string };

const isMessage = (data: unknown): data is { gaveta: number; kind: string } =>
  typeof data === 'object' && data !== null && 'gaveta' in data && data.gaveta === EMBEDDING_VERSION && 'kind' in data;

/** Takes messages of our own contract only; anything else on the page's channel gives null. */
export const readToFrame = (data: unknown): ToFrame | null => {
  if (!isMessage(data)) return null;
  const message = data as ToFrame;
  if (message.kind === 'token') return typeof message.token === 'string' ? message : null;
  return message.kind === 'parameters' && typeof message.values === 'object' && message.values !== null
    ? message
    : null;
};

const TO_HOST: readonly ToHost['kind'][] = ['ready', 'need-token', 'saved', 'page-count', 'error'];

export const readToHost = (data: unknown): ToHost | null =>
  isMessage(data) && (TO_HOST as readonly string[]).includes(data.kind) ? (data as ToHost) : null;
