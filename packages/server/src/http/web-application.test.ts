import { mkdir, mkdtemp, readFile, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliCompressSync, gzipSync } from 'node:zlib';
import { shippedFonts } from '@gaveta/output';
import express from 'express';
import request from 'supertest';
import { beforeAll, expect, it } from 'vitest';
import { SCREENS, webApplication } from './web-application.ts';

const SCRIPT = 'console.log("the viewer")';
const app = express();

beforeAll(async () => {
  const folder = await mkdtemp(join(tmpdir(), 'gaveta-web-'));
  await mkdir(join(folder, 'assets'));
  await writeFile(join(folder, 'index.html'), '<html><head></head></html>');
  await writeFile(join(folder, 'embed.js'), 'export {}');
  const script = join(folder, 'assets', 'viewer-1a2b.js');
  await writeFile(script, SCRIPT);
  await writeFile(`${script}.br`, brotliCompressSync(SCRIPT));
  await writeFile(`${script}.gz`, gzipSync(SCRIPT));
  app.use(
    '/office',
    webApplication({ folder, fonts: shippedFonts(), path: null, headers: (_request, _response, next) => next() }),
  );
});

const script = (encodings: string) =>
  request(app).get('/office/assets/viewer-1a2b.js').set('Accept-Encoding', encodings);

it('sends a script in the smallest form that the browser takes, to be kept for ever', async () => {
  for (const [accepted, sent] of [
    ['gzip, deflate, br', 'br'],
    ['gzip', 'gzip'],
    ['identity', undefined],
  ] as const) {
    const { headers } = await script(accepted);
    expect(headers['content-encoding']).toBe(sent);
    expect(headers['content-type']).toContain('javascript');
    expect(headers['cache-control']).toBe('public, max-age=31536000, immutable');
    expect(headers.vary).toMatch(/accept-encoding/i);
  }
  expect((await script('gzip')).text).toBe(SCRIPT);
});

it('opens the application at the address of a screen, and keeps its page nowhere', async () => {
  const { text, headers } = await request(app).get('/office/reports/season-ledger/design');
  expect(text).toContain('<base href="/office/">');
  expect(headers['cache-control']).toBe('no-store');
});

it('does not take a file of another release for a page', async () => {
  const { status, text } = await request(app).get('/office/assets/viewer-0000.js');
  expect(status).toBe(404);
  expect(text).not.toContain('<html>');
});

it('knows every screen that the application has', async () => {
  const routes = await readFile(join(import.meta.dirname, '../../../web/src/app.tsx'), 'utf8');
  const outermost = routes.replace(/<Route path="(data|embedding)"[\s\S]*?<\/Route>/g, '<Route path="$1" />');
  const firsts = [...outermost.matchAll(/path="(\w+)/g)].map(([, first]) => first);
  expect(new Set([...firsts, 'embed'])).toEqual(new Set(SCREENS));
});
