import type { Response } from 'express';

/** Aborted when the caller goes away before the answer is complete. */
export const goneSignal = (response: Response): AbortSignal => {
  const abort = new AbortController();
  const gone = (): void => {
    if (!response.writableFinished) abort.abort();
  };
  if (response.destroyed || response.socket?.destroyed) gone();
  response.on('close', gone);
  return abort.signal;
};
