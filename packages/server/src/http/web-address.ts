import type { IncomingMessage, ServerResponse } from 'node:http';

/** What Node’s servers call, and Express mounts: `next` is for requests that are none of Gaveta’s. */
export type RequestHandler = (
  request: IncomingMessage,
  response: ServerResponse,
  next?: (error?: unknown) => void,
) => void;

/**
 * Path under which browsers reach Gaveta, from the address that the host gives: `/reports` of `https://office.example/reports/`,
 * nothing of `https://reports.example`. Null where the host gives none: it is then where the router is mounted.
 */
export const pathOf = (address: string | undefined): string | null =>
  address === undefined ? null : new URL(address).pathname.replace(/\/+$/, '');

/** The handler without a path in front of its requests’ addresses, which a proxy may have taken away already. */
export const withoutPath = (path: string, handler: RequestHandler): RequestHandler =>
  path === ''
    ? handler
    : (request, response, next) => {
        const { url = '/' } = request;
        const rest = url.slice(path.length);
        if (url.startsWith(path) && (rest === '' || rest.startsWith('/') || rest.startsWith('?')))
          request.url = rest.startsWith('/') ? rest : `/${rest}`;
        handler(request, response, next);
      };
