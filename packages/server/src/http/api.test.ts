import type { PGlite } from '@electric-sql/pglite';
import { cumeeiraModel, demoReports } from '@gaveta-examples/cumeeira';
import express, { type Express } from 'express';
import supertest from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Session, signToken } from '../access/session.ts';
import { pgliteConnection } from '../connection/pglite.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { createGaveta, type Gaveta } from '../gaveta.ts';
import { demoDatabase } from '../services/huts.test-support.ts';

const SECRET = 'a secret that only tests know, long enough';
const OFFICE: Session = { user: 'Inês', rights: ['view', 'design'], claims: { role: 'office' } };
const WARDEN: Session = { user: 'Rui', rights: ['view'], claims: { role: 'warden', region: 2 } };

let database: PGlite;
let gaveta: Gaveta;
let app: Express;
let ledger: Record<string, unknown>;

beforeAll(async () => {
  database = await demoDatabase();
  gaveta = await createGaveta({
    store: await openBlank(),
    models: [cumeeiraModel],
    connections: { cumeeira: pgliteConnection(database) },
    secret: SECRET,
    hosts: ['https://office.example'],
    log: () => {},
  });
  app = express().use('/gaveta', gaveta.router);
  const found = (await demoReports()).find((r) => r.id === 'season-ledger')!;
  ledger = { ...(found.definition as object) };
});
afterAll(async () => {
  await gaveta.close();
});

const call = async (
  session: Session | string | null,
  method: 'get' | 'post' | 'put' | 'delete',
  path: string,
  body?: object,
) => {
  const request = supertest(app)[method](`/gaveta/api${path}`);
  if (session)
    request.set('Authorization', `Bearer ${typeof session === 'string' ? session : await signToken(SECRET, session)}`);
  return body ? request.send(body) : request;
};

describe('access', () => {
  it.each([
    '/session',
    '/models',
    '/reports',
    '/reports/x',
    '/runs/x',
    '/runs/x/files/pdf',
  ])('refuses %s without a token, in a problem document', async (path) => {
    const answer = await call(null, 'get', path);
    expect(answer.status).toBe(401);
    expect(answer.type).toBe('application/problem+json');
    expect(answer.body).toMatchObject({ code: 'no-token', status: 401 });
    expect(answer.body.detail).toContain('signToken');
  });

  it('tells an expired token from one that was not signed here', async () => {
    expect((await call(await signToken(SECRET, OFFICE, -5), 'get', '/reports')).body.code).toBe('token-expired');
    expect(
      (await call(await signToken('another secret, just as long as ours', OFFICE), 'get', '/reports')).body.code,
    ).toBe('token-invalid');
    expect((await call('nonsense', 'get', '/reports')).body.code).toBe('token-content');
  });

  it('lets only designers change reports', async () => {
    const answer = await call(WARDEN, 'post', '/reports', { definition: ledger });
    expect([answer.status, answer.body.code]).toEqual([403, 'not-allowed']);
    expect((await call(WARDEN, 'post', '/runs', { definition: ledger })).status).toBe(403);
  });

  it('shows itself in frames of registered hosts alone', async () => {
    const answer = await call(OFFICE, 'get', '/session');
    expect(answer.headers['content-security-policy']).toContain("frame-ancestors 'self' https://office.example");
  });

  it('never tells hidden fields, tables or scopes', async () => {
    const { text } = await call(OFFICE, 'get', '/models');
    for (const secret of ['email', 'altitude_m', 'CLAIM', 'scope']) expect(text).not.toContain(secret);
  });
});

describe('reports', () => {
  it('keep every save as a revision, and tell the second of two people who save', async () => {
    const made = await call(OFFICE, 'post', '/reports', { definition: ledger });
    expect(made.status).toBe(201);
    const { id } = made.body;
    const mine = { ...ledger, name: 'Mine' };
    const first = await call(OFFICE, 'put', `/reports/${id}`, { definition: mine, base: 1 });
    expect(first.body).toMatchObject({ revision: 2, name: 'Mine' });
    const second = await call({ ...OFFICE, user: 'Otto' }, 'put', `/reports/${id}`, {
      definition: { ...ledger, name: 'Theirs' },
      base: 1,
    });
    expect(second.status).toBe(409);
    expect(second.body).toMatchObject({ code: 'conflict', current: { revision: 2, changedBy: 'Inês' } });
    expect(second.body.detail).toContain('Inês saved revision 2');
    const over = await call({ ...OFFICE, user: 'Otto' }, 'put', `/reports/${id}`, {
      definition: { ...ledger, name: 'Theirs' },
      base: 2,
    });
    expect(over.body.revision).toBe(3);
    const revisions = await call(OFFICE, 'get', `/reports/${id}/revisions`);
    expect(revisions.body.map((r: { number: number; author: string }) => [r.number, r.author])).toEqual([
      [3, 'Otto'],
      [2, 'Inês'],
      [1, 'Inês'],
    ]);
    expect((await call(OFFICE, 'get', `/reports/${id}/revisions/2`)).body.name).toBe('Mine');
  });

  it('of two saves at the same moment take exactly one', async () => {
    const { id } = (await call(OFFICE, 'post', '/reports', { definition: ledger })).body;
    const answers = await Promise.all(
      [1, 2, 3].map(() => call(OFFICE, 'put', `/reports/${id}`, { definition: ledger, base: 1 })),
    );
    expect(answers.map((a) => a.status).sort()).toEqual([200, 409, 409]);
  });

  it('are refused with each problem by its place when they are malformed', async () => {
    const answer = await call(OFFICE, 'post', '/reports', {
      definition: { ...ledger, page: { paper: 'B77' }, parameters: 'none' },
    });
    expect([answer.status, answer.body.code]).toEqual([422, 'wrong-definition']);
    expect(answer.body.problems.map((p: { place: { path: string } }) => p.place.path).sort()).toEqual([
      'page/paper',
      'parameters',
    ]);
    expect(
      (await call(OFFICE, 'post', '/reports', { definition: { ...ledger, gaveta: 99 } })).body.problems[0].code,
    ).toBe('definition-too-new');
    expect((await call(OFFICE, 'post', '/reports', { nothing: 1 })).body.code).toBe('wrong-body');
    expect((await call(OFFICE, 'get', '/reports/none')).body.code).toBe('unknown-report');
  });

  it('that nest one another in a circle are told so', async () => {
    const circle = (report: string, name: string) => ({
      gaveta: 2,
      name,
      header: { height: 20, items: [{ kind: 'subreport', id: 's', x: 0, y: 0, width: 50, height: 10, report }] },
    });
    const a = await gaveta.store.create(circle('circle-b', 'A') as never, 'test', 'circle-a');
    await gaveta.store.create(circle('circle-a', 'B') as never, 'test', 'circle-b');
    const { body } = await call(OFFICE, 'post', '/check', { definition: circle(a.id, 'Outer') });
    expect(body.problems.map((p: { code: string }) => p.code)).toContain('subreport-cycle');
    expect(body.problems[0].text).toContain('A → B → A');
  });

  it('are not saved where they would stand in themselves, and it is known what stands in what', async () => {
    const nesting = (name: string, report: string | null) => {
      const item = { kind: 'subreport', id: 's', x: 0, y: 0, width: 50, height: 10, report };
      return { gaveta: 2, name, header: { height: 20, items: report === null ? [] : [item] } };
    };
    const make = async (name: string, report: string | null): Promise<string> =>
      (await call(OFFICE, 'post', '/reports', { definition: nesting(name, report) })).body.id;
    const inner = await make('Inner', null);
    const outer = await make('Outer', inner);
    const outermost = await make('Outermost', outer);
    const link = { report: inner, parameters: {} };
    const text = { kind: 'text', id: 't', x: 0, y: 0, width: 50, height: 10, content: ['Inner'], link };
    const linking = { gaveta: 2, name: 'Linking', header: { height: 20, items: [text] } };
    const { body: last } = await call(OFFICE, 'post', '/reports', { definition: linking });
    expect((await call(OFFICE, 'get', `/reports/${inner}/users`)).body).toEqual([
      { id: outer, name: 'Outer', how: 'nests' },
      { id: outermost, name: 'Outermost', how: 'around' },
      { id: last.id, name: 'Linking', how: 'links' },
    ]);
    const put = async (report: string) =>
      (await call(OFFICE, 'put', `/reports/${inner}`, { definition: nesting('Inner', report), base: 1 })).body;
    expect(await put(inner)).toMatchObject({
      code: 'contains-itself',
      detail: expect.stringContaining('Inner → Inner'),
    });
    expect((await put(outermost)).detail).toContain('Inner → Outermost → Outer → Inner');
  });
});

describe('runs', () => {
  const finish = async (id: string, session = OFFICE) => {
    const events = await call(session, 'get', `/runs/${id}/events`);
    return JSON.parse(events.text.trim().split('\n\n').at(-1)!.replace('data: ', ''));
  };

  it('give pages and a PDF, to their owner alone', async () => {
    const started = await call(WARDEN, 'post', '/runs', { report: 'circle-a', parameters: {} });
    expect(started.status).toBe(201);
    const made = await call(OFFICE, 'post', '/reports', { definition: ledger });
    const run = await call(OFFICE, 'post', '/runs', {
      report: made.body.id,
      parameters: { season: 2025, region_name: 'Alto Norte' },
    });
    const state = await finish(run.body.id);
    expect(state).toMatchObject({ status: 'done', problems: [] });
    const pages = await call(OFFICE, 'get', `/runs/${run.body.id}/pages?from=${state.pages}&count=5`);
    expect(pages.body.length).toBe(1);
    expect(JSON.stringify(pages.body)).toContain(`Page ${state.pages} of ${state.pages}`);
    const pdf = await call(OFFICE, 'get', `/runs/${run.body.id}/files/pdf`);
    expect(pdf.type).toBe('application/pdf');
    expect(pdf.body.subarray(0, 5).toString()).toBe('%PDF-');
    expect((await call(WARDEN, 'get', `/runs/${run.body.id}`)).body.code).toBe('unknown-run');
  });

  it('send a picture once for all pages that show it, to their owner alone, and to be kept', async () => {
    const PIXEL = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAAAAAA6fptVAAAACklEQVR4nGNgAAAAAgABSK+kcQAAAABJRU5ErkJggg==';
    const logo = {
      kind: 'picture',
      id: 'logo',
      x: 0,
      y: 0,
      width: 8,
      height: 8,
      source: `data:image/png;base64,${PIXEL}`,
    };
    const name = { kind: 'field', id: 'name', x: 10, y: 0, width: 60, height: 5, formula: 'name' };
    const definition = {
      gaveta: 2,
      name: 'Letterhead',
      model: 'cumeeira',
      pageHeader: { height: 10, items: [logo] },
      body: [
        {
          id: 'huts',
          name: 'hut',
          rows: { entity: 'hut' },
          detail: { height: 6, pageBreak: 'between', items: [name] },
        },
      ],
    };
    const run = await call(OFFICE, 'post', '/runs', { definition, parameters: {} });
    const state = await finish(run.body.id);
    expect(state).toMatchObject({ status: 'done', pages: 24, problems: [] });
    const pages = await call(OFFICE, 'get', `/runs/${run.body.id}/pages?from=1&count=20`);
    expect(JSON.stringify(pages.body)).not.toContain(PIXEL);
    type Mark = { kind: string; picture?: string };
    const shown = (pages.body as { marks: Mark[] }[]).map((p) => p.marks.find((m) => m.kind === 'picture')?.picture);
    expect(new Set(shown).size).toBe(1);
    const picture = await call(OFFICE, 'get', `/pictures/${shown[0]}`);
    expect(picture.body).toEqual(Buffer.from(PIXEL, 'base64'));
    expect(picture.type).toBe('image/png');
    expect(picture.headers['cache-control']).toBe('private, max-age=31536000, immutable');
    expect((await call(WARDEN, 'get', `/pictures/${shown[0]}`)).body.code).toBe('unknown-picture');
    const pdf = await call(OFFICE, 'get', `/runs/${run.body.id}/files/pdf`);
    expect(pdf.body.toString('latin1').match(/\/Subtype \/Image/g)).toHaveLength(1);
  });

  it('give no file of a report that is not whole, unless it is asked for as it is', async () => {
    const broken = structuredClone(ledger) as unknown as { body: { filter?: string }[] };
    broken.body[0]!.filter = 'nothing_of_this_name > 1';
    const run = await call(OFFICE, 'post', '/runs', { definition: broken, parameters: {} });
    const state = await finish(run.body.id);
    expect(state.problems.length).toBeGreaterThan(0);
    const refused = await call(OFFICE, 'get', `/runs/${run.body.id}/files/pdf`);
    expect([refused.status, refused.body.code]).toEqual([422, 'run-incomplete']);
    expect(refused.body.problems[0]).toHaveProperty('text');
    const asItIs = await call(OFFICE, 'get', `/runs/${run.body.id}/files/pdf?problems=allow`);
    expect(asItIs.body.subarray(0, 5).toString()).toBe('%PDF-');
    expect(Number(asItIs.headers['gaveta-problems'])).toBeGreaterThan(0);
  });

  it('are refused with the parameter that is missing or wrong', async () => {
    const needs = {
      ...ledger,
      parameters: [
        { name: 'season', label: 'Season', type: 'number', required: true },
        { name: 'region_name', label: 'Region', type: 'text' },
      ],
    };
    const missing = await call(OFFICE, 'post', '/runs', { definition: needs, parameters: {} });
    expect([missing.status, missing.body.code]).toEqual([422, 'wrong-parameters']);
    expect(missing.body.detail).toContain('Season');
    expect(
      (await call(OFFICE, 'post', '/runs', { definition: needs, parameters: { season: 'x' } })).body.detail,
    ).toContain('a number');
  });

  it('tell their outline, where links lead, and what they did; the SQL only to those who design', async () => {
    const made = await call(OFFICE, 'post', '/reports', { definition: ledger });
    const started = await call(OFFICE, 'post', '/runs', { report: made.body.id, parameters: {} });
    const path = `/runs/${started.body.id}`;
    await call(OFFICE, 'get', `${path}/files/pdf`);
    const { body: headings } = await call(OFFICE, 'get', `${path}/outline`);
    expect(headings[0]).toMatchObject({ level: 1, title: 'Alto Norte', page: 1 });
    expect(headings.filter((h: { level: number }) => h.level === 2).length).toBe(24);
    expect((await call(OFFICE, 'get', `${path}/anchor?name=nowhere`)).body).toBeNull();
    const { body: profile } = await call(OFFICE, 'get', `${path}/profile`);
    expect(profile.queries.map((q: { drawer: string }) => q.drawer)).toEqual(['region', 'hut', 'stay', 'charge']);
    expect(profile.queries[3]).toMatchObject({ report: 'Season ledger', rows: 15009 });
    expect(profile.queries[3].sql).toContain('with l0_0 as');
    expect(profile.formulas).toBeGreaterThan(50_000);
    expect(profile.peakMemory).toBeGreaterThan(50e6);
  });

  it('can be cancelled', async () => {
    const made = await call(OFFICE, 'post', '/reports', { definition: ledger });
    const run = await call(OFFICE, 'post', '/runs', { report: made.body.id, parameters: {} });
    const cancelled = await call(OFFICE, 'delete', `/runs/${run.body.id}`);
    expect(cancelled.body.status).toBe('cancelled');
    expect((await call(OFFICE, 'get', `/runs/${run.body.id}/files/pdf`)).body.code).toBe('run-cancelled');
  });
});

it('says where createGaveta and defineModel were called wrongly', async () => {
  const { defineModel } = await import('@gaveta/server');
  await expect(createGaveta({ store: database, models: [], connections: {}, secret: 'short' })).rejects.toThrow(
    'at least 32 characters',
  );
  const field = { label: 'Id', type: 'number' as const };
  const wrong = () =>
    defineModel({
      name: 'm',
      label: 'M',
      connection: 'c',
      entities: {
        a: {
          label: 'A',
          plural: 'As',
          key: 'no',
          fields: { id: field },
          relations: { b: { label: 'B', to: 'b', kind: 'one', on: { x: 'id' } } },
        },
      },
    });
  expect(wrong).toThrow(/a\.key: there is no field “no”[\s\S]*no entity “b”[\s\S]*no field “x” in a/);
});
