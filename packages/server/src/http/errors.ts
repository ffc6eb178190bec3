import { randomUUID } from 'node:crypto';
import type { NextFunction, Request, Response } from 'express';
import { API_ERRORS, ApiError, problemDocument } from '../base/api-error.ts';

/** What a log is told of an error that nobody expected: without the texts, values and secrets that errors carry along. */
export class UnexpectedError extends Error {
  constructor(
    /** Stands in the answer too. */
    readonly reference: string,
    /** The call that it came from, as `POST /runs`; null for work that no call waits for. */
    readonly call: string | null,
    error: unknown,
  ) {
    super(`${plainMessage(error)} (reference ${reference}${call === null ? '' : `, ${call}`})`);
    this.name = error instanceof Error ? error.name : 'UnexpectedError';
    const places = error instanceof Error ? (error.stack ?? '').split('\n').filter((line) => /^\s+at /.test(line)) : [];
    this.stack = [`${this.name}: ${this.message}`, ...places].join('\n');
  }
}

const LONGEST = 300;

/** The message of an error without whole statements, their values, and addresses that may hold a password. */
const plainMessage = (error: unknown): string => {
  if (!(error instanceof Error)) return typeof error;
  // A failed query carries its statement and every value of it; what the database said stands behind it.
  if (/^Failed query/.test(error.message))
    return error.cause === undefined ? 'a query of the store failed' : plainMessage(error.cause);
  return error.message.replace(/\b[a-z][a-z0-9+.-]*:\/\/\S+/gi, '…').slice(0, LONGEST);
};

export const callOf = (request: Request): string => `${request.method} ${request.baseUrl}${request.path}`;

export const answerErrors =
  (log: (error: unknown) => void) =>
  (error: unknown, request: Request, response: Response, _next: NextFunction): void => {
    // Nobody waits for an answer to a call that was given up, and giving up is no mistake.
    if (response.destroyed || response.socket?.destroyed) return;
    const known = asApiError(error);
    if (known.code === 'unexpected') log(new UnexpectedError(String(known.data.reference), callOf(request), error));
    answerError(known, response);
  };

/** Answers with a problem document; a file that cannot be completed is cut off, so that nobody takes it for whole. */
export const answerError = (error: ApiError, response: Response): void => {
  if (response.headersSent) {
    response.destroy();
    return;
  }
  response.status(API_ERRORS[error.code].status).set('Cache-Control', 'no-store').removeHeader('Content-Disposition');
  response.type('application/problem+json').send(JSON.stringify(problemDocument(error)));
};

export const unexpected = (): ApiError => new ApiError('unexpected', { reference: randomUUID().slice(0, 8) });

const asApiError = (error: unknown): ApiError => {
  if (error instanceof ApiError) return error;
  if (typeof error !== 'object' || error === null) return unexpected();
  const { type, status, limit } = error as { type?: unknown; status?: unknown; limit?: unknown };
  if (type === 'entity.too.large')
    return new ApiError('too-large', { limit: `${Math.round(Number(limit) / 1024)} kB` });
  if (type === 'entity.parse.failed') return new ApiError('wrong-body', { detail: 'The body is not JSON.' });
  if (status === 415) return new ApiError('wrong-media-type');
  if (error instanceof URIError) return new ApiError('wrong-address');
  // What reads bodies says so where they are cut short, packed wrongly or of another length than they say.
  if (typeof status === 'number' && status >= 400 && status < 500)
    return new ApiError('wrong-body', { detail: 'The body cannot be read.' });
  return unexpected();
};
