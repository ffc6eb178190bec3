import { AsyncLocalStorage } from 'node:async_hooks';

/** Work that Gaveta began: a call, or something of its own. */
export interface Began {
  /** Hears of an error that nobody else took. */
  failed: (error: unknown) => void;
}

const work = new AsyncLocalStorage<Began>();

/**
 * Runs something so that an error in it which has no owner, however much later it comes, is told to `began` instead of
 * ending the process. It is the last net: every such error is a mistake to be mended where it came from.
 */
export const guarded = <T>(began: Began, run: () => T): T => work.run(began, run);

let users = 0;

/** An error of somebody else's: what happens then is for the process to say, as if Gaveta were not there. */
const passOn = (error: unknown, event: 'uncaughtException' | 'unhandledRejection'): void => {
  if (process.listenerCount(event) > 1) return;
  if (event === 'unhandledRejection' && process.listenerCount('uncaughtException') > 1) return;
  process.off('uncaughtException', onException);
  process.off('unhandledRejection', onRejection);
  setImmediate(() => {
    throw error;
  });
};

const onException = (error: unknown): void => {
  const began = work.getStore();
  if (began) began.failed(error);
  else passOn(error, 'uncaughtException');
};

const onRejection = (error: unknown): void => {
  const began = work.getStore();
  if (began) began.failed(error);
  else passOn(error, 'unhandledRejection');
};

/** Spreads the net, once for the process; gives what takes it away. */
export const spreadNet = (): (() => void) => {
  if (users++ === 0) {
    process.on('uncaughtException', onException);
    process.on('unhandledRejection', onRejection);
  }
  let isSpread = true;
  return () => {
    if (!isSpread) return;
    isSpread = false;
    if (--users > 0) return;
    process.off('uncaughtException', onException);
    process.off('unhandledRejection', onRejection);
  };
};
