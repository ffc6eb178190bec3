import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { gzipSync } from 'node:zlib';
import express from 'express';
import { SignJWT } from 'jose';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Session, signToken } from '../access/session.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { createGaveta, type Gaveta } from '../gaveta.ts';
import { UnexpectedError } from './errors.ts';

const SECRET = 'a secret that only tests know, long enough';
const OFFICE: Session = { user: 'Inês', rights: ['view', 'design', 'data', 'sql'], claims: {} };
const READER: Session = { ...OFFICE, user: 'Rui', rights: ['view'] };

let gaveta: Gaveta;
let server: Server;
let base: string;
const logged: unknown[] = [];
/** Something that a call does and nobody waits for. */
let strayed: (() => void) | null = null;

beforeAll(async () => {
  gaveta = await createGaveta({
    store: await openBlank(),
    models: [],
    connections: {},
    secret: SECRET,
    log: (error) => logged.push(error),
    authenticate: (request) => {
      strayed?.();
      return request.headers.cookie === 'own=1' ? OFFICE : null;
    },
    limits: { maxBody: 100_000, maxUpload: 200_000, runsEach: 1, runsWaiting: 2, abandonSeconds: 1 },
  });
  server = createServer(express().use(gaveta.router));
  await new Promise<void>((resolve) => server.listen(0, resolve));
  base = `http://localhost:${(server.address() as AddressInfo).port}/api`;
});
afterAll(async () => {
  server.closeAllConnections();
  server.close();
  await gaveta.close();
});

const bearer = async (session: Session = OFFICE): Promise<Record<string, string>> => ({
  Authorization: `Bearer ${await signToken(SECRET, session)}`,
});
const JSON_TYPE = { 'Content-Type': 'application/json' };

const ask = async (path: string, init: RequestInit = {}) => {
  const answer = await fetch(`${base}${path}`, init);
  const body = (await answer.json().catch(() => null)) as { code?: string; detail?: string } | null;
  return { status: answer.status, code: body?.code, body, headers: answer.headers };
};

describe('before a body is read', () => {
  it('the caller is known: without a token nothing of it is taken', async () => {
    const large = `[${'{"a":1},'.repeat(2_000_000)}{}]`;
    const from = performance.now();
    const answer = await ask('/reports', { method: 'POST', headers: JSON_TYPE, body: large }).catch(() => null);
    // The server may cut the connection off before all of it is sent.
    if (answer) expect(answer.code).toBe('no-token');
    expect(performance.now() - from).toBeLessThan(3000);
  });
  it('its size, depth and kind are limited', async () => {
    const headers = { ...(await bearer()), ...JSON_TYPE };
    const post = (body: BodyInit, more: Record<string, string> = {}) =>
      ask('/reports', { method: 'POST', headers: { ...headers, ...more }, body });
    expect(await post(`"${'a'.repeat(200_000)}"`)).toMatchObject({ status: 413, code: 'too-large' });
    const deep = `${'{"a":'.repeat(5000)}1${'}'.repeat(5000)}`;
    expect(await post(deep)).toMatchObject({ status: 400, code: 'wrong-body' });
    expect(await post('{"a":"[[[[{{{{"}')).toMatchObject({ status: 400, code: 'wrong-body' });
    expect(await post('definition=1', { 'Content-Type': 'application/x-www-form-urlencoded' })).toMatchObject({
      status: 415,
      code: 'wrong-media-type',
    });
    expect(await post('{}', { 'Content-Type': 'application/json; charset=utf-77' })).toMatchObject({ status: 415 });
    expect(await post('{}', { 'Content-Encoding': 'zip' })).toMatchObject({ status: 415 });
    expect(await post('not gzip', { 'Content-Encoding': 'gzip' })).toMatchObject({ status: 400, code: 'wrong-body' });
    const bomb = gzipSync(Buffer.alloc(50_000_000, ' '));
    expect(await post(bomb, { 'Content-Encoding': 'gzip' })).toMatchObject({ status: 413, code: 'too-large' });
  });
  it('texts that no database keeps are refused, in bodies and addresses', async () => {
    const headers = { ...(await bearer()), ...JSON_TYPE };
    for (const name of ['a\\u0000b', 'a\\ud800b', '\\udc00'])
      expect(
        await ask('/reports', { method: 'POST', headers, body: `{"definition":{"gaveta":1,"name":"${name}"}}` }),
      ).toMatchObject({ status: 400, code: 'wrong-body' });
    for (const path of ['/reports/%', '/reports/a%00b', '/drafts/%E0%A4%A'])
      expect(await ask(path, { headers })).toMatchObject({ status: 400, code: 'wrong-address' });
    const base = { method: 'PUT', headers, body: JSON.stringify({ definition: {}, base: 3e9 }) };
    expect(await ask('/reports/x', base)).toMatchObject({ status: 400 });
    expect(await ask(`/reports/x/revisions/${'9'.repeat(30)}`, { headers })).toMatchObject({ status: 404 });
  });
  it('uploads are taken as they come, up to their limit', async () => {
    const headers = { ...(await bearer()), 'Content-Type': 'application/octet-stream' };
    expect(await ask('/uploads', { method: 'POST', headers, body: 'a,b\n1,2' })).toMatchObject({
      status: 201,
      body: { size: 7 },
    });
    const large = await ask('/uploads', { method: 'POST', headers, body: 'a'.repeat(300_000) }).catch(() => null);
    if (large) expect(large).toMatchObject({ status: 413, code: 'too-large' });
    const put = {
      method: 'PUT',
      headers: { ...(await bearer({ ...OFFICE, user: 'Nuno' })), ...JSON_TYPE },
      body: JSON.stringify({
        name: 'x',
        label: 'x',
        settings: { kind: 'file', format: 'csv' },
        upload: '0000',
      }),
    };
    expect(await ask('/connections', put)).toMatchObject({ status: 404, code: 'unknown-upload' });
  });
});

describe('who calls', () => {
  it('needs a token with an end', async () => {
    const key = new TextEncoder().encode(SECRET);
    const endless = await new SignJWT({ rights: ['view'], claims: {} })
      .setProtectedHeader({ alg: 'HS256' })
      .setSubject('x')
      .setAudience('gaveta')
      .sign(key);
    expect(await ask('/reports', { headers: { Authorization: `Bearer ${endless}` } })).toMatchObject({
      status: 401,
      code: 'token-content',
    });
    const justOver = await signToken(SECRET, OFFICE, -2);
    expect(await ask('/reports', { headers: { Authorization: `Bearer ${justOver}` } })).toMatchObject({ status: 200 });
    const over = await signToken(SECRET, OFFICE, -30);
    expect(await ask('/reports', { headers: { Authorization: `Bearer ${over}` } })).toMatchObject({
      code: 'token-expired',
    });
  });
  it('may change nothing from a page of another origin by a cookie alone', async () => {
    const put = (headers: Record<string, string>) =>
      ask('/drafts/x', { method: 'DELETE', headers: { cookie: 'own=1', ...headers } });
    expect(await put({ Origin: 'https://other.example' })).toMatchObject({ status: 403, code: 'foreign-origin' });
    expect(await put({ 'Sec-Fetch-Site': 'cross-site' })).toMatchObject({ status: 403 });
    expect((await put({ Origin: new URL(base).origin })).status).toBe(204);
    expect((await put({ Origin: 'https://other.example', ...(await bearer()) })).status).toBe(204);
  });
  it('reads definitions, revisions and recipes only with the right to design', async () => {
    const headers = { ...(await bearer()), ...JSON_TYPE };
    const definition = {
      gaveta: 2,
      name: 'Huts',
      parameters: [{ name: 'season', label: 'Season', type: 'number', default: 2025, sample: 2024 }],
      header: { height: 5, items: [{ kind: 'field', id: 'f', x: 0, y: 0, width: 9, height: 5, formula: 'season' }] },
    };
    const made = await ask('/reports', { method: 'POST', headers, body: JSON.stringify({ definition }) });
    const { id } = made.body as unknown as { id: string };
    const reader = await bearer(READER);
    const read = await ask(`/reports/${id}`, { headers: reader });
    expect(JSON.stringify(read.body)).not.toMatch(/formula|sample|header/);
    expect(read.body).toMatchObject({ definition: { parameters: [{ name: 'season', default: 2025 }] } });
    for (const path of [`/reports/${id}/revisions`, `/reports/${id}/revisions/1`, '/recipes'])
      expect((await ask(path, { headers: reader })).status).toBe(403);
    expect((await ask('/models', { headers: await bearer({ ...READER, rights: [] }) })).status).toBe(403);
    expect(read.headers.get('cache-control')).toBe('no-store');
  });
});

describe('an error that nobody took', () => {
  it('answers the call that it came from with a reference, and the process lives', async () => {
    for (const stray of [
      () => setImmediate(() => (null as unknown as { x: number }).x),
      () => void Promise.reject(new Error('strayed from postgres://inês:secret@db/x')),
    ]) {
      logged.length = 0;
      strayed = () => {
        strayed = null;
        stray();
      };
      // The call itself never ends: whatever it waited for is what went wrong.
      const answer = await ask('/session', { headers: { cookie: 'none' } });
      expect([401, 500]).toContain(answer.status);
      await expect.poll(() => logged.length).toBe(1);
      const error = logged[0] as UnexpectedError;
      expect(error).toBeInstanceOf(UnexpectedError);
      expect(error.call).toBe('GET /api/session');
      if (answer.status === 500) expect(answer.body?.detail).toContain(error.reference);
      expect(`${error.message}${error.stack}`).not.toContain('secret');
    }
    expect((await ask('/reports', { headers: await bearer() })).status).toBe(200);
  });
});
