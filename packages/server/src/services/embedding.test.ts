import type { PGlite } from '@electric-sql/pglite';
import supertest from 'supertest';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { type Session, signToken } from '../access/session.ts';
import type { Gaveta } from '../gaveta.ts';
import { demoDatabase, gavetaOver, HUTS, SECRET } from './huts.test-support.ts';

let database: PGlite;
let gaveta: Gaveta;
const log = vi.fn();
beforeAll(async () => {
  database = await demoDatabase();
  gaveta = await gavetaOver(database, { log, hosts: ['https://office.example'], hooks: { beforeSave: () => {} } });
});
afterAll(async () => {
  await gaveta.close();
});

const INES: Session = { user: 'Inês', rights: ['view', 'develop'], claims: { role: 'office', region: 2 } };

const call = async (method: 'get' | 'post', path: string, body?: object, session: Session = INES) => {
  const token = await signToken(SECRET, session);
  const asked = supertest(gaveta.handler)[method](`/api${path}`).set('Authorization', `Bearer ${token}`);
  return body ? asked.send(body) : asked;
};

it('says what is registered and what is missing, to those who may know', async () => {
  const { body } = await call('get', '/embedding');
  expect(body).toMatchObject({
    models: [{ name: 'cumeeira', connection: 'cumeeira' }],
    connections: [{ name: 'cumeeira', kind: 'database', made: 'code' }],
    hooks: ['beforeSave'],
    hosts: ['https://office.example'],
    path: null,
    reports: 0,
    missing: ['reports', 'authorize', 'encryptionKey'],
  });
  expect(body.version).toMatch(/^\d+\.\d+\.\d+/);
  expect(body.outputs.map(({ name }: { name: string }) => name)).toContain('pdf');
  expect(JSON.stringify(body)).not.toContain(SECRET);
  await gaveta.reports.put('huts', HUTS);
  expect((await call('get', '/embedding')).body).toMatchObject({ reports: 1, missing: ['authorize', 'encryptionKey'] });
  expect((await call('post', '/embedding/check', {})).body).toEqual([]);
  for (const [method, path] of [
    ['get', '/embedding'],
    ['post', '/embedding/check'],
    ['post', '/embedding/token'],
  ] as const) {
    const refused = await call(method, path, method === 'post' ? { rights: [] } : undefined, {
      ...INES,
      rights: ['view'],
    });
    expect([path, refused.status, refused.body.code]).toEqual([path, 403, 'not-allowed']);
  }
});

it('signs tokens for the caller alone, with no right that they lack, and their own claims', async () => {
  const { body } = await call('post', '/embedding/token', { rights: ['view'] });
  const asked = await supertest(gaveta.handler).get('/api/session').set('Authorization', `Bearer ${body.token}`);
  expect(asked.body).toEqual({ user: 'Inês', rights: ['view'] });
  const claims = JSON.parse(Buffer.from(body.token.split('.')[1], 'base64url').toString()).claims;
  expect(claims).toEqual(INES.claims);
  expect((await call('post', '/embedding/token', { rights: ['sql'] })).body.code).toBe('not-allowed');
  expect((await call('post', '/embedding/token', { rights: ['view'], claims: { region: 1 } })).status).toBe(400);
  // One token cannot be made from another for ever.
  expect((await call('post', '/embedding/token', { rights: ['develop'] })).status).toBe(400);
});

it('keeps the last errors of the log, each with what mends it', async () => {
  const wrong = await signToken('another secret of at least thirty-two letters', INES);
  for (let i = 0; i < 2; i++)
    await supertest(gaveta.handler).get('/api/session').set('Authorization', `Bearer ${wrong}`);
  const { errors } = (await call('get', '/embedding')).body;
  expect(errors[0]).toMatchObject({
    said: expect.stringContaining('Give signToken and createGaveta the same “secret”'),
  });
  expect(log).toHaveBeenCalledTimes(errors.length);
});
