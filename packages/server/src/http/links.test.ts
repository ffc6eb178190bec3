import type { PGlite } from '@electric-sql/pglite';
import express from 'express';
import request from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Session, signToken } from '../access/session.ts';
import type { Gaveta } from '../gaveta.ts';
import { demoDatabase, gavetaOver, HUTS, SECRET } from '../services/huts.test-support.ts';

const person = (user: string, groups: string[], rights: Session['rights'] = ['view', 'design']): Session => ({
  ...{ user, groups, rights },
  claims: { role: 'office' },
});
const MANAGER = person('Ana', [], ['view', 'design', 'manage']);
const OFFICE = person('Inês', ['office']);
const LEAD = person('Rui', ['leads']);

const asking = {
  ...HUTS,
  name: 'Huts with beds',
  parameters: [{ name: 'least', label: 'Least beds', type: 'number', default: 0 }],
};

let database: PGlite;
let gaveta: Gaveta;
let host: express.Express;
let id: string;
beforeAll(async () => {
  database = await demoDatabase();
  gaveta = await gavetaOver(database, { linkDays: 30, firstPages: false });
  host = express().use('/reports', gaveta.router);
  id = (await as(OFFICE, 'post', '/reports', { definition: asking })).body.id;
});
afterAll(() => gaveta.close());

const withToken = async (token: string, method: 'get' | 'post' | 'put' | 'delete', path: string, body?: object) => {
  const call = request(host)[method](`/reports/api${path}`).set('Authorization', `Bearer ${token}`);
  return body ? call.send(body) : call;
};
const as = async (who: Session, method: 'get' | 'post' | 'put' | 'delete', path: string, body?: object) =>
  withToken(await signToken(SECRET, who), method, path, body);
const ended = async (token: string, run: string): Promise<{ status: string; pages: number }> => {
  await expect
    .poll(async () => (await withToken(token, 'get', `/runs/${run}`)).body.status, { timeout: 60_000 })
    .not.toMatch(/waiting|running/);
  return (await withToken(token, 'get', `/runs/${run}`)).body;
};
const newLink = async (who: Session = OFFICE, more: object = {}) =>
  (await as(who, 'post', `/reports/${id}/links`, { label: 'Auditors', days: 7, values: { least: 10 }, ...more })).body;
const tokenOf = (address: string): string => address.split('#')[1]!;

describe('a link to share', () => {
  it('opens that one report with its values, and nothing else', async () => {
    const link = await newLink();
    expect(link.address).toMatch(new RegExp(`^shared/${id}#`));
    const token = tokenOf(link.address);
    const report = await withToken(token, 'get', `/reports/${id}`);
    expect(report.body).toMatchObject({ name: 'Huts with beds', may: 'see' });
    // Its values are those of whoever shared it, whatever is sent.
    const run = await withToken(token, 'post', '/runs', { report: id, parameters: { least: 0 } });
    expect(run.status).toBe(201);
    expect((await ended(token, run.body.id)).status).toBe('done');
    const other = (await as(OFFICE, 'post', '/reports', { definition: HUTS })).body.id;
    expect((await withToken(token, 'post', '/runs', { report: other })).body.code).toBe('unknown-report');
    expect((await withToken(token, 'post', '/runs', { definition: HUTS })).body.code).toBe('not-allowed');
    expect((await withToken(token, 'get', `/reports/${other}`)).body.code).toBe('unknown-report');
    for (const path of [
      '/reports',
      '/library',
      '/folders',
      `/library/${id}`,
      '/models',
      '/activity',
      '/recipes',
      '/drafts',
    ])
      expect([path, (await withToken(token, 'get', path)).body.code]).toEqual([path, 'not-by-link']);
    const [listed] = (await as(OFFICE, 'get', `/reports/${id}/links`)).body;
    expect(listed).toMatchObject({ id: link.id, label: 'Auditors', by: 'Inês', opened: 1, values: { least: 10 } });
  });

  it('leads nowhere once it was revoked, has ended, or was made up', async () => {
    const link = await newLink();
    const token = tokenOf(link.address);
    expect((await withToken(token, 'get', '/session')).status).toBe(200);
    expect((await as(OFFICE, 'delete', `/reports/${id}/links/${link.id}`)).status).toBe(204);
    expect((await withToken(token, 'get', '/session')).body.code).toBe('link-ended');
    expect((await as(OFFICE, 'delete', `/reports/${id}/links/${link.id}`)).body.code).toBe('unknown-link');
    const listed = (await as(OFFICE, 'get', `/reports/${id}/links`)).body.find(
      (one: { id: string }) => one.id === link.id,
    );
    expect(listed.address).toBeNull();
    const [header, body, signature] = tokenOf((await newLink()).address).split('.');
    const forged = Buffer.from(JSON.stringify({ ...JSON.parse(Buffer.from(body!, 'base64url').toString()), exp: 9e9 }));
    for (const made of [`${header}.${forged.toString('base64url')}.${signature}`, 'nothing', `${header}..`])
      expect((await withToken(made, 'get', '/session')).status).toBe(401);
  });

  it('is made by those who may publish, for as long as the host lets it last', async () => {
    await gaveta.library.grant({ thing: id }, 'group:leads', 'change');
    await gaveta.library.grant({ folder: 'root' }, 'everybody', 'see');
    expect((await as(LEAD, 'post', `/reports/${id}/links`, { label: 'x', days: 1 })).body.code).toBe(
      'not-allowed-here',
    );
    expect((await newLink(OFFICE, { days: 31 })).code).toBe('link-too-long');
    expect((await newLink(OFFICE, { values: { least: 'many' } })).code).toBe('wrong-parameters');
  });

  it('ends when whoever shared it may not see the report any more', async () => {
    await gaveta.library.grant({ thing: id }, 'group:leads', 'publish');
    const link = await newLink(LEAD);
    const token = tokenOf(link.address);
    expect((await withToken(token, 'get', `/reports/${id}`)).status).toBe(200);
    await gaveta.library.grant({ thing: id }, 'group:leads', null);
    await gaveta.library.grant({ folder: 'root' }, 'everybody', null);
    expect((await withToken(token, 'get', `/reports/${id}`)).body.code).toBe('unknown-report');
    await gaveta.library.grant({ folder: 'root' }, 'everybody', 'publish');
  });
});

describe('the record of who did what', () => {
  const acts = async (who: Session, query: string) =>
    ((await as(who, 'get', `/activity?${query}`)).body as { act: string; user: string; data: object }[]).map(
      ({ act, user }) => `${user} ${act}`,
    );

  it('tells owners and managers what was done with a report, and nobody else', async () => {
    const made = (await as(OFFICE, 'post', '/reports', { definition: { ...asking, name: 'Recorded' } })).body.id;
    await as(OFFICE, 'put', `/reports/${made}`, {
      definition: { ...asking, name: 'Recorded' },
      base: 1,
      note: 'better',
    });
    const run = (await as(LEAD, 'post', '/runs', { report: made, parameters: { least: 3 } })).body.id;
    await ended(await signToken(SECRET, LEAD), run);
    await as(LEAD, 'get', `/runs/${run}/files/csv`);
    await as(OFFICE, 'put', `/library/${made}/access`, { principal: 'group:leads', may: 'see' });
    await as(OFFICE, 'delete', `/reports/${made}`);
    await as(OFFICE, 'post', `/reports/${made}/restore`);
    const all = [
      ...['Inês restored', 'Inês deleted', 'Inês access', 'Rui exported', 'Rui ran', 'Inês saved', 'Inês created'],
    ];
    expect(await acts(OFFICE, `thing=${made}`)).toEqual(all);
    expect(await acts(MANAGER, `thing=${made}`)).toEqual(all);
    expect(await acts(LEAD, `thing=${made}`)).toEqual([]);
    expect(await acts(OFFICE, 'find=recorded&act=ran')).toEqual(['Rui ran']);
    expect(await acts(OFFICE, `thing=${made}&count=2`)).toEqual(all.slice(0, 2));
    const [ran] = (await as(OFFICE, 'get', `/activity?thing=${made}&act=ran`)).body;
    expect(ran).toMatchObject({ name: 'Recorded', data: { values: { least: 3 } } });
    expect((await as(OFFICE, 'get', '/activity?act=flew')).body.code).toBe('wrong-body');
  });
});
