import type { PGlite } from '@electric-sql/pglite';
import express from 'express';
import request from 'supertest';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { signToken } from '../access/session.ts';
import type { Gaveta } from '../gaveta.ts';
import { type EndedRun, type Hooks, Refused, type ReportAction } from './gate.ts';
import { demoDatabase, gavetaOver, HUTS, SECRET } from './huts.test-support.ts';

const huts = (more: object = {}) => ({ ...HUTS, name: 'Huts', ...more });
const nesting = (report: string) => ({
  gaveta: 2,
  name: 'Outer',
  header: { height: 20, items: [{ kind: 'subreport', id: 's', report, x: 0, y: 0, width: 100, height: 10 }] },
});

let database: PGlite;
let gaveta: Gaveta;
let host: express.Express;
let hooks: Hooks;
let ended: EndedRun[];
/** What may not be done, as `action report`. */
const forbidden = new Set<string>();

beforeAll(async () => {
  database = await demoDatabase();
  gaveta = await gavetaOver(database, {
    authorize: async (caller, action: ReportAction, report) =>
      caller.user === 'Inês' || !forbidden.has(`${action} ${report?.id ?? ''}`.trim()),
    hooks: {
      beforeRun: async (run) => hooks.beforeRun?.(run),
      beforeSave: (save) => hooks.beforeSave?.(save),
      afterRun: (run) => void ended.push(run),
    },
  });
  host = express().use('/reports', gaveta.router);
  await gaveta.reports.put('huts', huts());
  await gaveta.reports.put('secret', huts({ name: 'Secret' }));
});
afterAll(async () => {
  await gaveta.close();
});
beforeEach(() => {
  forbidden.clear();
  hooks = {};
  ended = [];
});

const as = async (user: string, method: 'get' | 'post' | 'put' | 'delete', path: string, body?: object) => {
  const token = await signToken(SECRET, { user, rights: ['view', 'design'], claims: { role: 'office' } });
  const call = request(host)[method](`/reports/api${path}`).set('Authorization', `Bearer ${token}`);
  return body ? call.send(body) : call;
};

describe('leave for single reports', () => {
  it('hides those that somebody may not see from every call, as if they were not there', async () => {
    forbidden.add('view secret');
    expect((await as('Rui', 'get', '/reports')).body.map(({ id }: { id: string }) => id)).toEqual(['huts']);
    expect((await as('Inês', 'get', '/reports')).body).toHaveLength(2);
    const calls: ['get' | 'post' | 'put' | 'delete', string, object?][] = [
      ['get', '/reports/secret'],
      ['delete', '/reports/secret'],
      ['get', '/reports/secret/users'],
      ['put', '/reports/secret', { definition: huts(), base: 1 }],
      ['get', '/reports/secret/revisions'],
      ['get', '/reports/secret/revisions/1'],
      ['post', '/reports/secret/presence', { window: 'a' }],
      ['put', '/drafts/report-secret', { definition: huts(), report: 'secret', base: 1 }],
      ['post', '/runs', { report: 'secret' }],
      ['post', '/choices', { report: 'secret', parameter: 'least', values: {}, search: '' }],
    ];
    for (const [method, path, body] of calls)
      expect([path, (await as('Rui', method, path, body)).body.code]).toEqual([path, 'unknown-report']);
  });

  it('keeps them out of definitions that somebody brings', async () => {
    forbidden.add('run secret');
    const definition = nesting('secret');
    const calls: [string, object][] = [
      ['/reports', { definition }],
      ['/runs', { definition }],
      ['/check', { definition }],
      ['/design-rows', { definition, parameters: {} }],
    ];
    for (const [path, body] of calls)
      expect([path, (await as('Rui', 'post', path, body)).body.code]).toEqual([path, 'not-allowed-here']);
    expect((await as('Rui', 'post', '/check', { definition: nesting('huts') })).status).toBe(200);
  });

  it('keeps the names of hidden reports out of a circle that is refused', async () => {
    await gaveta.reports.put('around-huts', { ...nesting('huts'), name: 'Around' });
    forbidden.add('view around-huts');
    // Somebody who sees both nests them, and somebody who does not is refused without the name.
    await gaveta.reports.put('outermost', { ...nesting('around-huts'), name: 'Outermost' });
    const put = (user: string) =>
      as(user, 'put', '/reports/huts', { definition: { ...nesting('outermost'), name: 'Huts' }, base: 1 });
    expect((await put('Inês')).body.detail).toContain('Huts → Outermost → Around → Huts');
    expect((await put('Rui')).body.detail).toContain('Huts → Outermost → … → Huts');
    for (const id of ['outermost', 'around-huts']) await gaveta.reports.remove(id);
  });

  it('is asked for before something is deleted, and before it comes back', async () => {
    await gaveta.reports.put('short-lived', huts({ name: 'Short-lived' }));
    forbidden.add('delete short-lived');
    expect((await as('Rui', 'delete', '/reports/short-lived')).body.data).toEqual({ action: 'delete' });
    expect((await as('Inês', 'delete', '/reports/short-lived')).status).toBe(204);
    expect((await as('Inês', 'get', '/reports/short-lived')).body.code).toBe('unknown-report');
    expect((await as('Rui', 'post', '/reports/short-lived/restore')).body.code).toBe('not-allowed-here');
    expect((await as('Inês', 'post', '/reports/short-lived/restore')).body).toMatchObject({ name: 'Short-lived' });
    expect((await as('Inês', 'post', '/reports/short-lived/restore')).body.code).toBe('unknown-report');
    await gaveta.reports.remove('short-lived');
  });

  it('tells what may not be done with those that are seen', async () => {
    for (const one of ['change huts', 'create', 'run huts']) forbidden.add(one);
    const saved = await as('Rui', 'put', '/reports/huts', { definition: huts(), base: 1 });
    expect(saved).toMatchObject({ status: 403, body: { code: 'not-allowed-here', data: { action: 'change' } } });
    expect((await as('Rui', 'post', '/reports', { definition: huts() })).body.data).toEqual({ action: 'create' });
    expect((await as('Rui', 'post', '/runs', { report: 'huts' })).body.data).toEqual({ action: 'run' });
    expect((await as('Rui', 'get', '/reports/huts')).status).toBe(200);
    // Code of the host's own needs no leave.
    const { rows, stream } = await gaveta.render('huts', { format: 'csv', claims: { role: 'office' } });
    stream!.destroy();
    expect(rows).toBeGreaterThan(0);
  });
});

describe('hooks', () => {
  const rowsOf = async (options: object = {}) =>
    (await gaveta.runs.start('huts', { claims: { role: 'office' }, ...options })).finished();

  it('change whose rows are read, and with which values', async () => {
    const all = await rowsOf();
    hooks.beforeRun = ({ id, report, isByCode }) => {
      expect({ id, name: report.name, isByCode }).toEqual({ id: 'huts', name: 'Huts', isByCode: true });
      return { claims: { role: 'warden', region: 2 }, parameters: { least: 1 } };
    };
    const some = await rowsOf();
    expect(some.rows).toBeGreaterThan(0);
    expect(some.rows).toBeLessThan(all.rows);
  });

  it('refuse with words that the person reads', async () => {
    hooks.beforeRun = () => {
      throw new Refused('Reports are closed until Monday.');
    };
    const answer = await as('Rui', 'post', '/runs', { report: 'huts' });
    expect(answer).toMatchObject({
      status: 403,
      body: { code: 'refused', detail: 'Reports are closed until Monday.' },
    });
    hooks.beforeSave = ({ id, definition, caller }) => {
      if (id === null && definition.name.length < 10) throw new Refused(`Give it a longer name, ${caller.user}.`);
    };
    expect((await as('Rui', 'post', '/reports', { definition: huts() })).body.detail).toBe(
      'Give it a longer name, Rui.',
    );
    expect((await as('Rui', 'put', '/reports/huts', { definition: huts(), base: 1 })).status).toBe(200);
  });

  it('are told how a run ended', async () => {
    const { rows, pages } = await rowsOf();
    await expect
      .poll(() => ended)
      .toMatchObject([{ id: 'huts', report: 'Huts', user: 'code', status: 'done', rows, pages, problems: 0 }]);
  });
});

it('names no hidden report where something says what it is used by', async () => {
  const recipe = await gaveta.store.data.createRecipe(
    { name: 'Large huts', steps: [{ step: 'take', from: { model: 'cumeeira', entity: 'hut' } }], parameters: [] },
    'Inês',
  );
  const queries = [{ name: 'large', recipe: recipe.id }];
  await gaveta.reports.put('secret', huts({ name: 'Secret', queries }));
  forbidden.add('view secret');
  const users = async (user: string) => (await as(user, 'get', `/recipes/${recipe.id}/users`)).body;
  expect(await users('Inês')).toMatchObject([{ kind: 'report', id: 'secret', name: 'Secret' }]);
  expect(await users('Rui')).toEqual([]);
  const token = await signToken(SECRET, { user: 'Rui', rights: ['view', 'design'], claims: { role: 'office' } });
  const removed = await request(host)
    .delete(`/reports/api/recipes/${recipe.id}`)
    .set('Authorization', `Bearer ${token}`);
  expect(removed.body).toMatchObject({ code: 'recipe-in-use', data: { reports: '…' } });
});
