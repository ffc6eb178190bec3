import type { NextFunction, Request, RequestHandler, Response } from 'express';
import express from 'express';
import type { CallerSession } from '../access/session.ts';
import { ApiError } from '../base/api-error.ts';
import { type Began, guarded } from './guard.ts';

interface Called {
  session: CallerSession;
  /** The session came from a token, not from something that a browser sends by itself. */
  byToken: boolean;
}

const called = new WeakMap<Request, Called>();

/** Who is calling; known before a byte of the body is read. */
export const callerOf = (request: Request): CallerSession => {
  const found = called.get(request);
  if (!found) throw new ApiError('no-token');
  return found.session;
};

/** Finds out who is calling, and refuses everybody else before their body is read. */
export const knowCaller =
  (session: (request: Request) => Promise<Called>): RequestHandler =>
  async (request, _response, next) => {
    called.set(request, await session(request));
    next();
  };

const SAFE = new Set(['GET', 'HEAD', 'OPTIONS']);

/** A page of another origin may send what a browser adds its cookies to: with those alone it may change nothing. */
export const sameOriginOnly: RequestHandler = (request, _response, next) => {
  const origin = request.get('origin');
  const foreign = origin !== undefined && hostOf(origin) !== request.get('host');
  const site = request.get('sec-fetch-site');
  const crossed = foreign || (site !== undefined && site !== 'same-origin' && site !== 'none');
  if (crossed && !called.get(request)?.byToken && !SAFE.has(request.method)) throw new ApiError('foreign-origin');
  next();
};

const hostOf = (origin: string): string | null => (URL.canParse(origin) ? new URL(origin).host : null);

/** Answers hold what one person may see. */
export const keepNothing: RequestHandler = (_request, response, next) => {
  response.set('Cache-Control', 'no-store');
  next();
};

/** Refuses addresses that hold what no name or text may. */
export const plainAddress: RequestHandler = (request, _response, next) => {
  let address: string;
  try {
    address = decodeURIComponent(request.url);
  } catch {
    throw new ApiError('wrong-address');
  }
  if (address.includes('\0')) throw new ApiError('wrong-address');
  next();
};

/** Reads bodies of JSON, no larger and no deeper than they may be. Other kinds of bodies are refused. */
export const jsonBodies = ({ maxBody, maxDepth }: { maxBody: number; maxDepth: number }): RequestHandler[] => [
  (request, _response, next) => {
    const hasBody = request.get('transfer-encoding') !== undefined || Number(request.get('content-length') ?? 0) > 0;
    if (hasBody && !request.is('application/json')) throw new ApiError('wrong-media-type');
    next();
  },
  express.json({
    limit: maxBody,
    type: 'application/json',
    strict: true,
    verify: (_request, _response, bytes) => {
      if (isDeeper(bytes, maxDepth))
        throw new ApiError('wrong-body', { detail: `Its objects lie more than ${maxDepth} inside one another.` });
    },
  }),
  (request, _response, next) => {
    if (holdsUnfit(request.body))
      throw new ApiError('wrong-body', {
        detail: 'A text in it holds characters that cannot be kept (NUL, or half of one).',
      });
    next();
  },
];

/** Whether objects and lists lie deeper inside one another than they may, found without parsing them. */
const isDeeper = (bytes: Uint8Array, most: number): boolean => {
  let depth = 0;
  let quoted = false;
  for (let i = 0; i < bytes.length; i++) {
    const byte = bytes[i]!;
    if (quoted) {
      if (byte === 0x5c) i++;
      else if (byte === 0x22) quoted = false;
    } else if (byte === 0x22) quoted = true;
    else if (byte === 0x7b || byte === 0x5b) {
      if (++depth > most) return true;
    } else if (byte === 0x7d || byte === 0x5d) depth--;
  }
  return false;
};

// biome-ignore lint/suspicious/noControlCharactersInRegex: NUL is what is looked for
const UNFIT = /\u0000|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;

/** Whether a text or name in it cannot be kept by a database. */
const holdsUnfit = (body: unknown): boolean => {
  const waiting: unknown[] = [body];
  for (let next = waiting.pop(); waiting.length > 0 || next !== undefined; next = waiting.pop()) {
    if (typeof next === 'string') {
      if (UNFIT.test(next)) return true;
    } else if (Array.isArray(next)) for (const value of next) waiting.push(value ?? null);
    else if (typeof next === 'object' && next !== null) {
      for (const [key, value] of Object.entries(next)) {
        if (UNFIT.test(key)) return true;
        waiting.push(value ?? null);
      }
    }
  }
  return false;
};

/** Lets an error without an owner answer the call that it came from. */
export const guardCalls =
  (failed: (error: unknown, request: Request, response: Response) => void): RequestHandler =>
  (request: Request, response: Response, next: NextFunction) => {
    const began: Began = { failed: (error) => failed(error, request, response) };
    guarded(began, () => next());
  };
