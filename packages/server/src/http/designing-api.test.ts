import { existsSync } from 'node:fs';
import express, { type Express } from 'express';
import supertest from 'supertest';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type Session, signToken } from '../access/session.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { createGaveta, type Gaveta } from '../gaveta.ts';

const SECRET = 'a secret that only tests know, long enough';
const session = (user: string, rights: Session['rights'] = ['view', 'design']): Session => ({
  user,
  rights,
  claims: {},
});

let gaveta: Gaveta;
let app: Express;

beforeAll(async () => {
  gaveta = await createGaveta({
    store: await openBlank(),
    models: [],
    connections: {},
    secret: SECRET,
    log: () => {},
  });
  app = express().use(gaveta.router);
});
afterAll(() => gaveta?.close());

const call = async (who: Session, method: 'get' | 'post' | 'put' | 'delete', path: string, body?: object) => {
  const request = supertest(app)
    [method](`/api${path}`)
    .set('Authorization', `Bearer ${await signToken(SECRET, who)}`);
  return body ? request.send(body) : request;
};
const ines = session('Inês');
const rui = session('Rui');
const definition = (name: string) => ({ gaveta: 2, name });

it('keeps work that is not saved, for its author alone', async () => {
  const put = await call(ines, 'put', '/drafts/new-1', { definition: definition('Huts'), report: null, base: 0 });
  expect(put.body).toMatchObject({ key: 'new-1', report: null, name: 'Huts', base: 0 });
  await call(ines, 'put', '/drafts/new-1', { definition: definition('All huts'), report: null, base: 0 });
  expect((await call(ines, 'get', '/drafts')).body).toMatchObject([{ key: 'new-1', name: 'All huts' }]);
  expect((await call(ines, 'get', '/drafts/new-1')).body.definition).toMatchObject({ name: 'All huts' });
  expect((await call(rui, 'get', '/drafts')).body).toEqual([]);
  // None is no error.
  expect(await call(rui, 'get', '/drafts/new-1')).toMatchObject({ status: 200, body: null });
  await call(rui, 'delete', '/drafts/new-1');
  expect((await call(ines, 'delete', '/drafts/new-1')).status).toBe(204);
  expect((await call(ines, 'get', '/drafts')).body).toEqual([]);
});

it('keeps work apart of people who have the same name and other claims', async () => {
  const other: Session = { ...ines, claims: { tenant: 2 } };
  await call(ines, 'put', '/drafts/own', { definition: definition('Mine'), report: null, base: 0 });
  expect((await call(other, 'get', '/drafts')).body).toEqual([]);
  expect((await call(other, 'get', '/drafts/own')).body).toBeNull();
  await call(other, 'delete', '/drafts/own');
  expect((await call(ines, 'get', '/drafts/own')).body.definition).toMatchObject({ name: 'Mine' });
  await call(ines, 'delete', '/drafts/own');
});

it('takes no draft that is no definition, of no report, or from somebody who may not design', async () => {
  const wrong = await call(ines, 'put', '/drafts/x', { definition: { gaveta: 2 }, report: null, base: 0 });
  expect(wrong.body).toMatchObject({ code: 'wrong-definition' });
  const gone = await call(ines, 'put', '/drafts/x', { definition: definition('A'), report: 'gone', base: 1 });
  expect(gone.body).toMatchObject({ code: 'unknown-report' });
  const reader = await call(session('Marta', ['view']), 'put', '/drafts/x', {
    definition: definition('A'),
    report: null,
    base: 0,
  });
  expect(reader.status).toBe(403);
});

it('tells who else has a report open, and its newest revision', async () => {
  const { id } = (await call(ines, 'post', '/reports', { definition: definition('Shared') })).body;
  const first = await call(ines, 'post', `/reports/${id}/presence`, { window: 'a' });
  expect(first.body).toMatchObject({ others: [], stored: { revision: 1 } });
  await call(rui, 'put', `/reports/${id}`, { definition: definition('Shared by two'), base: 1 });
  await call(rui, 'post', `/reports/${id}/presence`, { window: 'b' });
  const second = await call(ines, 'post', `/reports/${id}/presence`, { window: 'a' });
  expect(second.body).toMatchObject({ others: [{ user: 'Rui' }], stored: { revision: 2, changedBy: 'Rui' } });
  await call(rui, 'post', `/reports/${id}/presence`, { window: 'b', leaving: true });
  expect((await call(ines, 'post', `/reports/${id}/presence`, { window: 'a' })).body.others).toEqual([]);
  expect((await call(ines, 'post', '/reports/gone/presence', { window: 'a' })).status).toBe(404);
});

it('does not start with a folder that holds no built application', async () => {
  const options = { store: 'never-made', models: [], connections: {}, secret: SECRET, web: import.meta.dirname };
  await expect(createGaveta(options)).rejects.toThrow('index.html is missing');
  expect(existsSync('never-made')).toBe(false);
});
