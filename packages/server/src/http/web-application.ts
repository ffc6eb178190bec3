import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { FontFace } from '@gaveta/output';
import { Router } from 'express';
import packedFiles from 'express-static-gzip';

/** Serves the built application; every address that is no file opens it. */
export const webApplication = (folder: string, fonts: readonly FontFace[]): Router => {
  const router = Router();
  // Host pages of other origins load this one script; what it opens is guarded by tokens.
  router.get('/embed.js', (_request, response) => {
    response
      .set({ 'Access-Control-Allow-Origin': '*', 'Cache-Control': 'no-cache' })
      .sendFile(join(folder, 'embed.js'));
  });
  router.use(
    packedFiles(folder, {
      enableBrotli: true,
      orderPreference: ['br', 'gz'],
      index: false,
      serveStatic: {
        // Files with a hash in their names never change; the page that names them is made anew for each request.
        setHeaders: (response, path) => {
          const isHashed = path.startsWith(join(folder, 'assets'));
          response.setHeader('Cache-Control', isHashed ? 'public, max-age=31536000, immutable' : 'no-cache');
        },
      },
    }),
  );
  router.get('/assets/{*path}', (_request, response) => {
    // An old tab asks for a file of an older release: an error that it can tell from a script.
    response.status(404).type('text').send('There is no such file. Reload the page.');
  });
  router.get('/{*path}', async (request, response) => {
    const page = await readFile(join(folder, 'index.html'), 'utf8');
    const base = `${request.baseUrl}/`;
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
