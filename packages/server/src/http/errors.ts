import { randomUUID } from 'node:crypto';
import type { NextFunction, Request, Response } from 'express';

/** Every error that the API answers with: its status and words. docs/errors.md lists them; a test holds the two together. */
export const API_ERRORS = {
  'no-token': {
    status: 401,
    title: 'No token',
    detail:
      'This call needs a token. The host’s server signs one with signToken; send it as “Authorization: Bearer …”.',
  },
  'token-expired': {
    status: 401,
    title: 'Token expired',
    detail: 'The token has run out. Ask the host’s server for a new one.',
  },
  'token-invalid': {
    status: 401,
    title: 'Token not accepted',
    detail: 'The token was not signed with this server’s secret, or is damaged.',
  },
  'not-allowed': {
    status: 403,
    title: 'Not allowed',
    detail: 'This needs the right “{right}”, which the token does not carry.',
  },
  'foreign-origin': {
    status: 403,
    title: 'Not from here',
    detail: 'A page of another origin may only change something with a token.',
  },
  'unknown-report': { status: 404, title: 'No such report', detail: 'There is no report “{id}”.' },
  'unknown-revision': { status: 404, title: 'No such revision', detail: 'The report “{id}” has no revision {number}.' },
  'unknown-draft': { status: 404, title: 'No such draft', detail: 'There is no unsaved work under “{key}”.' },
  'unknown-run': {
    status: 404,
    title: 'No such run',
    detail: 'The run “{id}” is not here any more. Run the report again.',
  },
  'unknown-picture': {
    status: 404,
    title: 'No such picture',
    detail: 'No run that you have shows the picture “{hash}”.',
  },
  'unknown-output': {
    status: 404,
    title: 'No such output',
    detail: 'There is no output “{name}”. There is: {names}.',
  },
  'unknown-address': { status: 404, title: 'No such address', detail: '{method} {path} is not part of the API.' },
  'wrong-address': {
    status: 400,
    title: 'The address is wrong',
    detail: 'The address holds something that cannot be read. Write names in it as encodeURIComponent does.',
  },
  'wrong-media-type': {
    status: 415,
    title: 'The body cannot be read',
    detail: 'Send it as application/json in UTF-8, plain or packed with gzip, deflate or brotli.',
  },
  'wrong-body': { status: 400, title: 'The request is wrong', detail: '{detail}' },
  'wrong-definition': { status: 422, title: 'The definition is wrong', detail: 'It was not taken. See “problems”.' },
  'wrong-parameters': { status: 422, title: 'Parameters are missing or wrong', detail: '{detail}' },
  conflict: {
    status: 409,
    title: 'Somebody else saved first',
    detail:
      '{author} saved revision {revision} of this report meanwhile. Nothing of yours was lost: save as a copy, or on top of theirs.',
  },
  'unknown-recipe': { status: 404, title: 'No such recipe', detail: 'There is no recipe “{id}”.' },
  'recipe-in-use': {
    status: 409,
    title: 'The recipe is in use',
    detail: 'Nothing was removed: {reports} take rows from it. Change them first.',
  },
  'unknown-connection': { status: 404, title: 'No such connection', detail: 'There is no connection “{name}”.' },
  'connection-fixed': {
    status: 409,
    title: 'The name is taken',
    detail: '“{name}” is a connection or data model of the application’s own code. Choose another name.',
  },
  'connection-not-usable': { status: 422, title: 'The connection does not work', detail: '{detail}' },
  'no-key': {
    status: 409,
    title: 'Secrets cannot be kept',
    detail: 'Give createGaveta an encryptionKey, so that passwords can be stored; until then nothing secret is taken.',
  },
  'needs-sign-in': {
    status: 422,
    title: 'A connection asks who you are',
    detail: 'Give user and password for: {names}.',
  },
  'unknown-upload': {
    status: 404,
    title: 'No such upload',
    detail: 'The uploaded file is not here any more. Upload it again.',
  },
  'too-many-runs': {
    status: 429,
    title: 'Too many runs',
    detail: '{limit} of your runs wait already. Wait for one of them, or cancel it.',
  },
  'run-incomplete': {
    status: 422,
    title: 'The report is not whole',
    detail:
      'Something in it could not be shown; see “problems”. Mend it, or ask for the file with “problems=allow” to get it as it is.',
  },
  'run-failed': { status: 500, title: 'The run failed', detail: '{detail}' },
  'run-cancelled': { status: 409, title: 'The run was cancelled', detail: 'Run the report again.' },
  'report-too-heavy': {
    status: 422,
    title: 'The report is too heavy',
    detail: '{detail} Take fewer rows, totals or nested reports.',
  },
  'too-large': { status: 413, title: 'Too large', detail: 'The request is larger than {limit}.' },
  unexpected: {
    status: 500,
    title: 'Something went wrong in Gaveta',
    detail: 'The server’s log says what, under the reference {reference}.',
  },
} as const;

export type ApiErrorCode = keyof typeof API_ERRORS;

/** Thrown by a route; answered as a problem document (RFC 9457). */
export class ApiError extends Error {
  constructor(
    readonly code: ApiErrorCode,
    readonly data: Record<string, string | number> = {},
    readonly extra: Record<string, unknown> = {},
  ) {
    super(code);
  }
}

/** What an error says, with its values filled in. */
export const wordsOf = ({ code, data }: ApiError): string =>
  API_ERRORS[code].detail.replace(/\{(\w+)\}/g, (_, key: string) => String(data[key] ?? ''));

export const problemDocument = (error: ApiError): Record<string, unknown> => {
  const { status, title } = API_ERRORS[error.code];
  return {
    type: `urn:gaveta:problem:${error.code}`,
    title,
    status,
    detail: wordsOf(error),
    code: error.code,
    data: error.data,
    ...error.extra,
  };
};

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
