import {
  EMBEDDING_VERSION,
  type FrameCalls,
  type FrameMethod,
  type HostValues,
  readToFrame,
  type ToFrame,
  type ToHost,
} from '@gaveta/core/internal';
import i18next from 'i18next';
import { ApiFailure, tokens } from '../api/client.ts';
import { takeSettings } from './settings.ts';

type DistributiveOmit<T, K extends keyof never> = T extends unknown ? Omit<T, K> : never;

/** Where this page stands inside an embedding host, and how to talk to it. */
export interface HostPage {
  /** Resolves once the host has sent a token. */
  signedIn: Promise<void>;
  tell: (message: DistributiveOmit<ToHost, 'gaveta'>) => void;
  onParameters: (listener: (values: HostValues) => void) => () => void;
}

/** What a screen does when its host asks for it. */
export type FrameMethods = { [M in FrameMethod]?: (given: FrameCalls[M]['given']) => Promise<FrameCalls[M]['gives']> };

/** Time for the host to answer with a token, in milliseconds. */
const PATIENCE = 15_000;

/** Milliseconds before its end at which a token is renewed. */
const AHEAD = 30_000;

let joined: HostPage | null = null;

/** The page around this one, or the one that opened its window as a place for an element; null when there is none. */
const hostWindow = (): Window | null => {
  if (window.parent !== window) return window.parent;
  const embedded = `${new URL(document.baseURI).pathname}embed/`;
  return location.pathname.startsWith(embedded) ? (window.opener as Window | null) : null;
};

/** Starts the conversation with the host page; null when this page does not stand in one. */
export const joinHost = (): HostPage | null => {
  if (joined) return joined;
  const host = hostWindow();
  joined = host && join(host);
  return joined;
};

let methods: FrameMethods = {};
let asked: Extract<ToFrame, { kind: 'call' }>[] = [];

/** Says what the screen that is shown does for its host; gives what takes it back. Calls that came before are made now. */
export const offerMethods = (offered: FrameMethods): (() => void) => {
  methods = offered;
  const waiting = asked;
  asked = [];
  for (const call of waiting) answer(call);
  return () => {
    if (methods === offered) methods = {};
  };
};

const answer = (message: Extract<ToFrame, { kind: 'call' }>): void => {
  const { call, method, given } = message;
  const run = methods[method] as ((given: object) => Promise<unknown>) | undefined;
  // The screen is not there yet.
  if (!run) {
    asked.push(message);
    return;
  }
  run(given).then(
    (value) => joined?.tell({ kind: 'answer', call, value }),
    (error: unknown) => {
      const code = error instanceof ApiFailure ? error.code : 'unexpected';
      joined?.tell({ kind: 'refusal', call, code, detail: error instanceof Error ? error.message : String(error) });
    },
  );
};

const join = (host: Window): HostPage => {
  let origin = '*';
  let waiting: ((token: string) => void)[] = [];
  let renewal: ReturnType<typeof setTimeout> | undefined;
  const listeners = new Set<(values: HostValues) => void>();
  /** Values that came before there was a screen to take them. */
  let early: HostValues = {};
  const tell: HostPage['tell'] = (message) => host.postMessage({ gaveta: EMBEDDING_VERSION, ...message }, origin);
  const take = (token: string): void => {
    tokens.current = token;
    for (const resolve of waiting) resolve(token);
    waiting = [];
    clearTimeout(renewal);
    const left = endOf(token) - Date.now() - AHEAD;
    if (left > 0) renewal = setTimeout(() => tell({ kind: 'need-token' }), Math.min(left, 2 ** 31 - 1));
  };
  window.addEventListener('message', (event) => {
    if (event.source !== host || (origin !== '*' && origin !== targetOf(event.origin))) return;
    const message = readToFrame(event.data);
    if (!message) return;
    origin = targetOf(event.origin);
    switch (message.kind) {
      case 'token':
        take(message.token);
        return;
      case 'parameters':
        if (listeners.size === 0) early = { ...early, ...message.values };
        for (const listener of listeners) listener(message.values);
        return;
      case 'settings':
        takeSettings(message);
        return;
      case 'call':
        answer(message);
        return;
      default:
        message satisfies never;
    }
  });
  const nextToken = (): Promise<string> =>
    new Promise((resolve, reject) => {
      waiting.push(resolve);
      setTimeout(
        () => reject(new ApiFailure(401, 'no-token', i18next.t('embed.signedOut'), i18next.t('embed.notRenewed'), {})),
        PATIENCE,
      );
    });
  tokens.renew = () => {
    tell({ kind: 'need-token' });
    return nextToken();
  };
  const signedIn = nextToken().then(() => {});
  tell({ kind: 'ready' });
  return {
    signedIn,
    tell,
    onParameters: (listener) => {
      listeners.add(listener);
      const values = early;
      early = {};
      if (Object.keys(values).length > 0) listener(values);
      return () => listeners.delete(listener);
    },
  };
};

/** Where messages to a page go: pages of files, or of a shell’s own scheme, have no origin that could be named. */
const targetOf = (origin: string): string => (/^https?:/.test(origin) ? origin : '*');

/** When a token ends, in milliseconds since 1970; long ago where it does not say. */
const endOf = (token: string): number => {
  try {
    const [, payload = ''] = token.split('.');
    const { exp } = JSON.parse(atob(payload.replace(/-/g, '+').replace(/_/g, '/'))) as { exp?: number };
    return (exp ?? 0) * 1000;
  } catch {
    return 0;
  }
};

/** Tells the host, when there is one. */
export const tellHost: HostPage['tell'] = (message) => joined?.tell(message);
