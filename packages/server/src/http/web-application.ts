import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { FontFace } from '@gaveta/output';
import { type RequestHandler, Router } from 'express';
import packedFiles from 'express-static-gzip';

/** First parts of the addresses of its screens; what begins otherwise is no address of Gaveta’s. */
export const SCREENS = [
  'reports',
  'shared',
  'record',
  'house',
  'deliveries',
  'kept',
  'start',
  'new',
  'sketches',
  'data',
  'embedding',
  'embed',
];

/** Whether an address is one of the application’s own: a screen, or a file of it. */
const isOwn = (path: string): boolean => {
  const first = path.split('/')[1] ?? '';
  return first === '' || first === 'assets' || first === 'embed.js' || SCREENS.includes(first);
};

export interface WebOptions {
  folder: string;
  fonts: readonly FontFace[];
  /** Path at which browsers reach it; null: where it is mounted. */
  path: string | null;
  /** Sets the headers of every answer. */
  headers: RequestHandler;
}

/** Serves the built application; other addresses than its own are left to whoever comes after it. */
export const webApplication = ({ folder, fonts, path, headers }: WebOptions): Router => {
  const router = Router();
  router.use((request, response, next) => {
    if (!isOwn(request.path)) next('router');
    else
      headers(request, response, (error) => {
        // A page that opens it in a window of its own goes on talking with it there.
        if (request.path.startsWith('/embed/')) response.removeHeader('Cross-Origin-Opener-Policy');
        next(error);
      });
  });
  // Host pages of other origins load this one script; what it opens is guarded by tokens.
  router.get('/embed.js', (_request, response) => {
    response
      .set({ 'Access-Control-Allow-Origin': '*', 'Cache-Control': 'no-cache' })
      .sendFile('embed.js', { root: folder });
  });
  router.use(
    '/assets',
    packedFiles(join(folder, 'assets'), {
      enableBrotli: true,
      orderPreference: ['br', 'gz'],
      index: false,
      // Files with a hash in their names never change; the page that names them is made anew for each request.
      serveStatic: {
        setHeaders: (response) => response.setHeader('Cache-Control', 'public, max-age=31536000, immutable'),
      },
    }),
  );
  router.get('/assets/{*path}', (_request, response) => {
    // An old tab asks for a file of an older release: an error that it can tell from a script.
    response.status(404).type('text').send('There is no such file. Reload the page.');
  });
  router.get('/{*path}', async (request, response) => {
    const page = await readFile(join(folder, 'index.html'), 'utf8');
    const base = `${path ?? request.baseUrl}/`;
    const faces = fonts
      .map(
        (f) =>
          `@font-face{font-family:"${f.family}";font-weight:${f.weight};font-style:${f.italic ? 'italic' : 'normal'};src:url("${base}api/fonts/${f.file}")}`,
      )
      .join('');
    const head = `<base href="${base}"><style>${faces}</style>`;
    response
      .type('html')
      .set('Cache-Control', 'no-store')
      .send(page.replace('<head>', `<head>${head}`));
  });
  return router;
};
