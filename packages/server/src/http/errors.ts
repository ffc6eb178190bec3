import { type Problem, problemText } from '@gaveta/core';
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
  'unknown-report': { status: 404, title: 'No such report', detail: 'There is no report “{id}”.' },
  'unknown-revision': { status: 404, title: 'No such revision', detail: 'The report “{id}” has no revision {number}.' },
  'unknown-draft': { status: 404, title: 'No such draft', detail: 'There is no unsaved work under “{key}”.' },
  'unknown-run': {
    status: 404,
    title: 'No such run',
    detail: 'The run “{id}” is not here any more. Run the report again.',
  },
  'unknown-address': { status: 404, title: 'No such address', detail: '{method} {path} is not part of the API.' },
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
  'run-failed': { status: 500, title: 'The run failed', detail: '{detail}' },
  'run-cancelled': { status: 409, title: 'The run was cancelled', detail: 'Run the report again.' },
  'too-large': { status: 413, title: 'Too large', detail: 'The request is larger than {limit}.' },
  unexpected: {
    status: 500,
    title: 'Something went wrong in Gaveta',
    detail: 'The server’s log says what. Try again; nothing was saved by this call.',
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

export const withText = (problems: readonly Problem[]): (Problem & { text: string })[] =>
  problems.map((p) => ({ ...p, text: problemText(p) }));

export const problemDocument = (error: ApiError): Record<string, unknown> => {
  const { status, title, detail } = API_ERRORS[error.code];
  const filled = detail.replace(/\{(\w+)\}/g, (_, key: string) => String(error.data[key] ?? ''));
  return {
    type: `urn:gaveta:problem:${error.code}`,
    title,
    status,
    detail: filled,
    code: error.code,
    data: error.data,
    ...error.extra,
  };
};

export const answerErrors =
  (log: (error: unknown) => void) =>
  (error: unknown, _request: Request, response: Response, _next: NextFunction): void => {
    const known = asApiError(error);
    if (known.code === 'unexpected') log(error);
    if (response.headersSent) {
      response.end();
      return;
    }
    response
      .status(API_ERRORS[known.code].status)
      .type('application/problem+json')
      .send(JSON.stringify(problemDocument(known)));
  };

const asApiError = (error: unknown): ApiError => {
  if (error instanceof ApiError) return error;
  const type = typeof error === 'object' && error !== null && 'type' in error ? error.type : null;
  if (type === 'entity.too.large') return new ApiError('too-large', { limit: '96 MB' });
  if (type === 'entity.parse.failed') return new ApiError('wrong-body', { detail: 'The body is not JSON.' });
  return new ApiError('unexpected');
};
