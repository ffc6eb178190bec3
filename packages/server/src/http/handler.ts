import express, { type Express, type RequestHandler as Middleware } from 'express';
import helmet from 'helmet';
import { type ApiParts, createApi } from './api.ts';
import { answerError, answerErrors, callOf, UnexpectedError, unexpected } from './errors.ts';
import { guardCalls } from './front.ts';
import { webApplication } from './web-application.ts';

export interface HandlerParts extends ApiParts {
  /** Origins that may show it in a frame; read on each request. */
  hosts: readonly string[];
  /** Folder with the built web application; null for the API alone. */
  web: string | null;
  log: (error: unknown) => void;
  /** Tells the log of what comes often, each kind once in a while. */
  tell: (kind: string, words: () => string) => void;
}

/** API and web application as one. Requests that are none of theirs are passed on as they came. */
export const createHandler = (parts: HandlerParts): Express => {
  const { hosts, web, path, log, tell } = parts;
  // An application, not a router: it gives requests of any server what the routes need of them.
  const app = express();
  app.disable('x-powered-by');
  app.use(
    guardCalls((error, request, response) => {
      const found = unexpected();
      log(new UnexpectedError(String(found.data.reference), callOf(request), error));
      answerError(found, response);
    }),
  );
  const headers = safeHeaders(hosts);
  app.use('/api', headers, createApi(parts));
  if (web !== null) {
    app.use('/embed', tellStrangers(hosts, tell));
    app.use(webApplication({ folder: web, fonts: parts.equipment.fonts, path, headers }));
  }
  app.use(answerErrors(log));
  return app;
};

/** Says which line is missing when a page that is not among the hosts shows Gaveta in a frame, which its browser will refuse. */
const tellStrangers =
  (hosts: readonly string[], tell: HandlerParts['tell']): Middleware =>
  (request, _response, next) => {
    const referer = request.get('referer') ?? '';
    const origin = URL.canParse(referer) ? new URL(referer).origin : null;
    const isOwn = origin !== null && new URL(origin).host === request.get('host');
    if (
      request.get('sec-fetch-dest') === 'iframe' &&
      origin !== null &&
      !isOwn &&
      !hosts.includes(origin) &&
      !hosts.includes('*')
    )
      tell(
        `host ${origin}`,
        () => `A page of ${origin} may not show Gaveta. To let it: createGaveta({ hosts: ['${origin}'] }).`,
      );
    next();
  };

/** Headers that keep browsers from more than Gaveta needs; only the hosts, whose list may change, may show it in a frame. */
const safeHeaders = (hosts: readonly string[]): Middleware => {
  let made: { hosts: string; handler: Middleware } | null = null;
  const handlerFor = (allowed: readonly string[]): Middleware =>
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          styleSrc: ["'self'", "'unsafe-inline'"],
          workerSrc: ["'self'", 'blob:'],
          frameAncestors: ["'self'", ...allowed],
          objectSrc: ["'none'"],
          baseUri: ["'self'"],
        },
      },
      frameguard: false,
      crossOriginResourcePolicy: { policy: 'cross-origin' },
      strictTransportSecurity: false,
    });
  return (request, response, next) => {
    const now = hosts.join(' ');
    if (made?.hosts !== now) made = { hosts: now, handler: handlerFor(hosts) };
    made.handler(request, response, next);
  };
};
