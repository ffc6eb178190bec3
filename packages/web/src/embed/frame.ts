import { EMBEDDING_VERSION, readToFrame, type ToHost } from '@gaveta/core/internal';
import i18next from 'i18next';
import { ApiFailure, type ParameterValues, tokens } from '../api/client.ts';

/** Where this page stands inside an embedding host, and how to talk to it. */
export interface HostPage {
  /** Resolves once the host has sent a token. */
  signedIn: Promise<void>;
  tell: (message: DistributiveOmit<ToHost, 'gaveta'>) => void;
  onParameters: (listener: (values: ParameterValues) => void) => () => void;
}

type DistributiveOmit<T, K extends keyof never> = T extends unknown ? Omit<T, K> : never;

/** Time for the host to answer with a token, in milliseconds. */
const PATIENCE = 15_000;

let joined: HostPage | null = null;

/** Starts the conversation with the host page; null when this page does not stand in a frame. */
export const joinHost = (): HostPage | null => {
  if (window.parent === window) return null;
  joined ??= join(window.parent);
  return joined;
};

const join = (parent: Window): HostPage => {
  let origin = '*';
  let waiting: ((token: string) => void)[] = [];
  const listeners = new Set<(values: ParameterValues) => void>();
  const tell: HostPage['tell'] = (message) => parent.postMessage({ gaveta: EMBEDDING_VERSION, ...message }, origin);
  window.addEventListener('message', (event) => {
    if (event.source !== parent || (origin !== '*' && event.origin !== origin)) return;
    const message = readToFrame(event.data);
    if (!message) return;
    origin = event.origin;
    if (message.kind === 'parameters') {
      for (const listener of listeners) listener(message.values);
      return;
    }
    tokens.current = message.token;
    for (const resolve of waiting) resolve(message.token);
    waiting = [];
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
      return () => listeners.delete(listener);
    },
  };
};

/** Tells the host, when there is one. */
export const tellHost: HostPage['tell'] = (message) => joined?.tell(message);
