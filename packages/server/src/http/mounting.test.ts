import { mkdtemp, writeFile } from 'node:fs/promises';
import { createServer, type IncomingMessage } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import express from 'express';
import request from 'supertest';
import { afterEach, beforeAll, describe, expect, it } from 'vitest';
import { signToken } from '../access/session.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { createGaveta, type Gaveta } from '../gaveta.ts';
import type { GavetaOptions } from '../options.ts';

const SECRET = 'a secret of at least thirty-two letters';
const opened: Gaveta[] = [];
let web: string;

beforeAll(async () => {
  web = await mkdtemp(join(tmpdir(), 'gaveta-web-'));
  await writeFile(join(web, 'index.html'), '<html><head></head>Gaveta</html>');
  await writeFile(join(web, 'embed.js'), 'export {}');
});
afterEach(async () => {
  for (const gaveta of opened.splice(0)) await gaveta.close();
});

const open = async (options: Partial<GavetaOptions> = {}): Promise<Gaveta> => {
  const gaveta = await createGaveta({
    store: options.store ?? (await openBlank()),
    models: [],
    connections: {},
    secret: SECRET,
    web,
    ...options,
  });
  opened.push(gaveta);
  return gaveta;
};
const token = (rights: readonly ('view' | 'design')[] = ['view', 'design']) =>
  signToken(SECRET, { user: 'Inês', rights, claims: {} });
const bearer = async () => `Bearer ${await token()}`;

describe('in an Express application', () => {
  it('leaves the pages of the host as they are, at the root too', async () => {
    const gaveta = await open();
    const host = express().disable('x-powered-by').use(gaveta.router);
    host.get('/prices', (_request, response) => void response.send('Prices of the season'));
    const { text, headers } = await request(host).get('/prices');
    expect(text).toBe('Prices of the season');
    expect(Object.keys(headers).filter((name) => /policy|x-|origin-agent/.test(name))).toEqual([]);
    expect((await request(host).get('/no-such-page')).status).toBe(404);
    const own = await request(host).get('/reports/season-ledger');
    expect(own.text).toContain('<base href="/">');
    expect(own.headers['content-security-policy']).toContain("frame-ancestors 'self'");
  });

  it('lives under a path, and twice in one process', async () => {
    const [one, other] = [await open({ hosts: ['https://office.example'] }), await open()];
    const host = express().use('/reports', one.router).use('/other/reports', other.router);
    const page = await request(host).get('/other/reports/reports/season-ledger');
    expect(page.text).toContain('<base href="/other/reports/">');
    expect(page.headers['content-security-policy']).not.toContain('office.example');
    const first = await request(host).get('/reports/');
    expect(first.text).toContain('<base href="/reports/">');
    expect(first.headers['content-security-policy']).toContain('https://office.example');
    const definition = { gaveta: 2, name: 'Ledger' };
    await request(host)
      .post('/reports/api/reports')
      .set('Authorization', await bearer())
      .send({ definition });
    const listed = async (path: string) =>
      (
        await request(host)
          .get(`${path}/api/reports`)
          .set('Authorization', await bearer())
      ).body as unknown[];
    expect(await listed('/reports')).toHaveLength(1);
    expect(await listed('/other/reports')).toHaveLength(0);
  });

  it('takes bodies that the host has read already', async () => {
    const gaveta = await open();
    const host = express().use(express.json()).use('/reports', gaveta.router);
    const saved = await request(host)
      .post('/reports/api/reports')
      .set('Authorization', await bearer())
      .send({ definition: { gaveta: 2, name: 'Ledger' } });
    expect(saved.status).toBe(201);
  });

  it('knows people by the host’s own session', async () => {
    const authenticate = (asked: IncomingMessage) =>
      asked.headers.cookie === 'who=ines' ? { user: 'Inês', rights: ['view'] as const, claims: {} } : null;
    const host = express().use('/reports', (await open({ authenticate })).router);
    expect((await request(host).get('/reports/api/session').set('Cookie', 'who=ines')).body.user).toBe('Inês');
    expect((await request(host).get('/reports/api/session')).status).toBe(401);
  });
});

describe('in any other server', () => {
  it('answers by itself, and says what it does not know', async () => {
    const server = createServer((await open()).handler);
    expect((await request(server).get('/reports/season-ledger')).text).toContain('<base href="/">');
    expect((await request(server).get('/api/session')).body.code).toBe('no-token');
    expect((await request(server).get('/prices')).status).toBe(404);
  });

  it('lives under the path of its address, whether a proxy keeps the path or takes it away', async () => {
    const server = createServer((await open({ address: 'https://office.example/inner/reports/' })).handler);
    for (const path of ['/inner/reports/reports/season-ledger', '/reports/season-ledger', '/inner/reports', '/']) {
      const { status, text } = await request(server).get(path);
      expect({ path, status }).toEqual({ path, status: 200 });
      expect(text).toContain('<base href="/inner/reports/">');
      expect(text).toContain('url("/inner/reports/api/fonts/');
    }
    const { body } = await request(server).get('/inner/reports/api/openapi.json');
    expect(body.servers).toEqual([{ url: '/inner/reports/api' }]);
  });
});

it('tells the log which line is missing, once in a while', async () => {
  const logged: string[] = [];
  const log = (error: unknown) => void logged.push((error as Error).message);
  const { router } = await open({ log, hosts: ['https://office.example'] });
  const host = express().use('/reports', router);
  const frame = (origin: string) =>
    request(host).get('/reports/embed/reports/x').set('Referer', `${origin}/page`).set('Sec-Fetch-Dest', 'iframe');
  await frame('https://office.example');
  expect(logged).toEqual([]);
  for (let i = 0; i < 3; i++) expect((await frame('https://other.example')).status).toBe(200);
  expect(logged).toEqual([
    "A page of https://other.example may not show Gaveta. To let it: createGaveta({ hosts: ['https://other.example'] }).",
  ]);
  const strange = await signToken('another secret, just as long as ours', { user: 'x', rights: ['view'], claims: {} });
  for (let i = 0; i < 3; i++)
    await request(host).get('/reports/api/session').set('Authorization', `Bearer ${strange}`).expect(401);
  expect(logged[1]).toContain('Give signToken and createGaveta the same “secret”');
  expect(logged).toHaveLength(2);
});

it('lets a window of a host’s own go on talking with what it opened', async () => {
  const host = express().use('/reports', (await open()).router);
  const policy = async (path: string) => (await request(host).get(path)).headers['cross-origin-opener-policy'];
  expect(await policy('/reports/embed/reports/x')).toBeUndefined();
  expect(await policy('/reports/reports/x')).toBe('same-origin');
});

it('says which line to mend where an option cannot work', async () => {
  const wrong: [Partial<GavetaOptions>, string][] = [
    [{ hosts: ['office.example'] }, "hosts: ['https://office.example']"],
    [{ hosts: ['https://office.example/'] }, "hosts: ['https://office.example']"],
    [{ address: '/reports' }, "address: 'https://office.example/reports/'"],
    [{ web: 'no-such-folder' }, 'Leave “web” out'],
    [{ secret: 'short' }, '“secret” needs at least 32 characters'],
  ];
  const store = await openBlank();
  for (const [options, words] of wrong) await expect(open({ store, ...options })).rejects.toThrow(words);
  await store.close();
});
