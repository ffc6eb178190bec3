import type { Server } from 'node:http';
import type { PGlite } from '@electric-sql/pglite';
import {
  bulletinService,
  type DemoSources,
  demoRecipes,
  demoReports,
  generateTables,
  listen,
  openDemoSources,
} from '@gaveta-examples/cumeeira';
import express from 'express';
import supertest from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type Session, signToken } from '../access/session.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { createGaveta, type Gaveta } from '../gaveta.ts';

const SECRET = 'a secret that only tests know, long enough';
const OFFICE: Session = { user: 'Inês', rights: ['view', 'design', 'data', 'sql'], claims: { role: 'office' } };
const MAKER: Session = { ...OFFICE, rights: ['view', 'design'] };
const WARDEN: Session = { user: 'Rui', rights: ['view'], claims: { role: 'warden', region: 2 } };

let sources: DemoSources;
let store: PGlite;
let gaveta: Gaveta;
let server: Server;
let base: string;
const allowedAddresses: string[] = [];
const answers: string[] = [];
/** A file that a service gives out, which may change. */
let depths = 'hut,depth\nPedra Longa,140\n';

beforeAll(async () => {
  sources = await openDemoSources('.data');
  store = await openBlank();
  gaveta = await createGaveta({
    ...sources,
    store,
    secret: SECRET,
    encryptionKey: 'a key that seals the secrets of these tests',
    allowedAddresses,
    allowedDatabases: ['localhost:1'],
    log: () => {},
    limits: { previewSeconds: 4 },
  });
  for (const { id, ...recipe } of demoRecipes) await gaveta.store.data.createRecipe(recipe, 'test', id);
  for (const { id, definition } of await demoReports()) await gaveta.store.create(definition as never, 'test', id);
  const app = express()
    .get('/service/depths.csv', (_, response) => void response.type('csv').send(depths))
    .use('/service', bulletinService())
    .use(gaveta.router);
  const http = await import('node:http');
  server = http.createServer(app);
  base = await listen(server, 0);
  allowedAddresses.push(`${base}/service/`);
}, 120_000);
afterAll(async () => {
  server.close();
  await gaveta.close();
  await sources.close();
});

const call = async (session: Session, method: 'get' | 'post' | 'put' | 'delete', path: string, body?: object) => {
  const request = supertest(server)
    [method](`/api${path}`)
    .set('Authorization', `Bearer ${await signToken(SECRET, session)}`);
  const answer = await (body ? request.send(body) : request);
  answers.push(JSON.stringify(answer.body) + JSON.stringify(answer.headers));
  return answer;
};

const stays = { step: 'take', from: { model: 'cumeeira', entity: 'stay' } };

describe('looking at rows', () => {
  it('gives rows, counts and what is wrong at each step', async () => {
    const steps = [
      stays,
      { step: 'keep', where: { field: 'status', is: 'equal', to: { value: 'stayed' } } },
      { step: 'sort', by: [{ field: 'nothing' }] },
    ];
    const { body } = await call(MAKER, 'post', '/recipe/rows', { steps: steps.slice(0, 2), rows: 3 });
    expect(body.found.rows).toHaveLength(3);
    expect(body.found.sql).toContain('where');
    // With the wrong step passed over there would be rows that nobody asked for.
    for (const look of ['rows', 'count', 'facts']) {
      const wrong = (await call(MAKER, 'post', `/recipe/${look}`, { steps })).body;
      expect(wrong.found).toBeNull();
      expect(wrong.failure.detail).toContain('Step 3 does not work');
      expect(wrong.steps[2].problems[0].text).toContain('“nothing” no longer exists');
    }
    const count = await call(MAKER, 'post', '/recipe/count', { steps: steps.slice(0, 2) });
    const stayed = generateTables(1).stay!.filter((row) => row.includes('stayed'));
    expect(count.body.found.count).toBe(stayed.length);
  });
  it('is for those who design, within their rows', async () => {
    expect((await call(WARDEN, 'post', '/recipe/rows', { steps: [stays] })).status).toBe(403);
    const warden: Session = { ...WARDEN, rights: ['design', 'view'] };
    const all = await call(OFFICE, 'post', '/recipe/count', { steps: [stays] });
    const own = await call(warden, 'post', '/recipe/count', { steps: [stays] });
    expect(own.body.found.count).toBeLessThan(all.body.found.count);
  });
  it('tells how rows fit along a relation of the model, and nothing of keys that are named by hand', async () => {
    const huts = [{ step: 'take', from: { model: 'cumeeira', entity: 'hut' } }];
    const fit = async (here: string) =>
      (await call(MAKER, 'post', '/recipe/fit', { steps: [stays], there: huts, on: [{ here, there: 'id' }] })).body;
    const tables = generateTables(1);
    expect((await fit('hut_id')).found).toMatchObject({ here: tables.stay!.length, hereAlone: 0 });
    expect((await fit('member_id')).found).toBeNull();
  });
  it('answers a wrong body with the place', async () => {
    const { status, body } = await call(MAKER, 'post', '/recipe/rows', { steps: [{ step: 'first', count: -1 }] });
    expect(status).toBe(400);
    expect(body.detail).toContain('steps.0.count');
  });
  it('ends what takes too long, and says so', async () => {
    const text = 'select count(*) as n from generate_series(1, 100000000) a, generate_series(1, 1000) b';
    const steps = [{ step: 'sql', model: 'cumeeira', text, columns: [{ name: 'n', type: 'number' }] }];
    const { body } = await call(OFFICE, 'post', '/recipe/rows', { steps });
    expect(body.failure.detail).toContain('ended after 4 seconds');
  });
});

describe('statements written by hand', () => {
  const sql = {
    step: 'sql',
    model: 'cumeeira',
    text: 'select name from hut',
    columns: [{ name: 'name', type: 'text' }],
  };
  it('need the right to write them, in recipes and in definitions', async () => {
    expect((await call(MAKER, 'post', '/recipe/rows', { steps: [sql] })).body).toMatchObject({ code: 'not-allowed' });
    expect((await call(MAKER, 'post', '/recipes', { name: 'x', steps: [sql] })).status).toBe(403);
    const definition = {
      gaveta: 2,
      name: 'x',
      queries: [{ name: 'q', steps: [sql] }],
      body: [{ id: 'b', name: 'b', rows: { entity: 'q' } }],
    };
    for (const [method, path, body] of [
      ['post', '/reports', { definition }],
      ['post', '/runs', { definition, parameters: {} }],
      ['post', '/design-rows', { definition, parameters: {} }],
    ] as const)
      expect((await call(MAKER, method, path, body)).status, path).toBe(403);
    // Nor through a query that the steps take rows from, or the choices of a parameter.
    const queries = [{ name: 'q', steps: [sql] }];
    const through = { steps: [{ step: 'take', from: { query: 'q' } }], queries };
    expect((await call(MAKER, 'post', '/recipe/rows', through)).status).toBe(403);
    const parameters = [{ name: 'p', label: 'P', type: 'choice', choicesFrom: { rows: 'q', value: 'name' } }];
    const asking = { definition: { ...definition, parameters }, parameter: 'p' };
    expect((await call(MAKER, 'post', '/choices', asking)).status).toBe(403);
    expect((await call(OFFICE, 'post', '/choices', asking)).body.choices).toHaveLength(24);
    // What somebody with the right has saved may be used by others.
    const saved = await call(OFFICE, 'post', '/recipes', { name: 'Huts by hand', steps: [sql] });
    expect(saved.status).toBe(201);
    expect((await call(MAKER, 'post', '/recipe/count', { steps: [sql] })).body.found.count).toBe(24);
  });
  it('are described, with errors at their place in what was written', async () => {
    const describeSql = async (text: string) =>
      (await call(OFFICE, 'post', '/sql/describe', { model: 'cumeeira', text })).body;
    expect((await describeSql('select name, opened_on from hut;')).columns).toEqual([
      { name: 'name', type: 'text' },
      { name: 'opened_on', type: 'date' },
    ]);
    for (const text of [
      'select nam from hut',
      'select :a::text, nam from hut',
      'select 1 frm hut',
      'select a.x from nowhere a',
    ]) {
      const { failure } = await describeSql(text);
      expect(text.slice(failure.position), text).toMatch(/^(nam|frm|hut|nowhere)/);
    }
    expect((await call(MAKER, 'post', '/sql/describe', { model: 'cumeeira', text: 'select 1' })).status).toBe(403);
  });
});

describe('shared recipes', () => {
  it('tell who uses them, and are not removed from under a report', async () => {
    const made = await call(OFFICE, 'post', '/recipes', { name: 'Some stays', steps: [stays] });
    const { id } = made.body;
    const definition = {
      gaveta: 2,
      name: 'Uses it',
      queries: [{ name: 'q', recipe: id }],
      body: [{ id: 'b', name: 'b', rows: { entity: 'q' }, detail: { height: 5, items: [] } }],
    };
    await call(OFFICE, 'post', '/reports', { definition });
    expect((await call(OFFICE, 'get', `/recipes/${id}/users`)).body).toMatchObject([
      { kind: 'report', name: 'Uses it' },
    ]);
    expect((await call(OFFICE, 'delete', `/recipes/${id}`)).body).toMatchObject({
      code: 'recipe-in-use',
      detail: expect.stringContaining('Uses it'),
    });
    const saved = await call(OFFICE, 'put', `/recipes/${id}`, {
      name: 'Some stays',
      steps: [stays, { step: 'first', count: 2 }],
      base: 1,
    });
    expect(saved.body.revision).toBe(2);
    expect((await call(OFFICE, 'put', `/recipes/${id}`, { name: 'x', steps: [stays], base: 1 })).status).toBe(409);
    const { body } = await call(OFFICE, 'post', '/design-rows', { definition, parameters: {} });
    expect(body.levels[0].rows).toHaveLength(2);
  });
});

describe('a recipe that would take rows from itself', () => {
  it('is not saved, and the way round is named', async () => {
    const one = (await call(OFFICE, 'post', '/recipes', { name: 'One', steps: [stays] })).body;
    const taking = (recipe: string) => [{ step: 'take', from: { recipe } }];
    const two = (await call(OFFICE, 'post', '/recipes', { name: 'Two', steps: taking(one.id) })).body;
    const saved = await call(OFFICE, 'put', `/recipes/${one.id}`, { name: 'One', steps: taking(two.id), base: 1 });
    expect(saved.status).toBe(409);
    expect(saved.body).toMatchObject({ code: 'recipe-in-circle', detail: expect.stringContaining('Two → One') });
    expect((await call(OFFICE, 'post', '/recipe/count', { steps: taking(two.id) })).body.found.count).toBeGreaterThan(
      0,
    );
  });
});

describe('choices of a parameter', () => {
  const choices = async (session: Session, parameter: string, values = {}, search = '') =>
    (await call(session, 'post', '/choices', { report: 'season-ledger', parameter, values, search })).body.choices.map(
      (c: { label: string }) => c.label,
    );
  it('follow the other parameters, what is searched for, and the caller’s rows', async () => {
    expect(await choices(OFFICE, 'region_name')).toEqual(['Alto Norte', 'Encosta Sul', 'Ilha de Pedra', 'Vale Escuro']);
    expect(await choices(OFFICE, 'huts')).toHaveLength(24);
    const own = await choices(OFFICE, 'huts', { region_name: 'Encosta Sul' });
    expect(own).toHaveLength(6);
    expect(own).toContain('Pedra Longa');
    expect(await choices(OFFICE, 'huts', { region_name: 'Encosta Sul' }, 'LONGA')).toEqual(['Pedra Longa']);
    expect(await choices(WARDEN, 'region_name')).toEqual(['Encosta Sul']);
  });
  it('say which values are still among them', async () => {
    const among = ['Pedra Longa', 'Nowhere', "'); drop table hut; --"];
    const asked = (region_name: string, of = among) =>
      call(OFFICE, 'post', '/choices', {
        report: 'season-ledger',
        parameter: 'huts',
        values: { region_name },
        among: of,
      });
    expect((await asked('Encosta Sul')).body.choices).toEqual([{ value: 'Pedra Longa', label: 'Pedra Longa' }]);
    expect((await asked('Alto Norte')).body.choices).toEqual([]);
    expect((await asked('Encosta Sul', [])).body.choices).toEqual([]);
    // Numbers are compared as numbers.
    const parameters = [
      {
        name: 'hut',
        label: 'Hut',
        type: 'choice',
        of: 'number',
        choicesFrom: { rows: 'hut', value: 'id', label: 'region.name' },
      },
    ];
    const definition = { gaveta: 2, name: 'x', model: 'cumeeira', parameters, body: [] };
    const found = await call(OFFICE, 'post', '/choices', {
      definition,
      parameter: 'hut',
      values: {},
      among: ['3', 'x', '1e99'],
    });
    expect([found.status, found.body.choices.map((c: { value: string }) => c.value)]).toEqual([200, ['3']]);
  });
});

describe('parameters of the host', () => {
  const definition = {
    gaveta: 2,
    name: 'Own hut',
    model: 'cumeeira',
    parameters: [{ name: 'hut_number', label: 'Hut', type: 'number', required: true, fromHost: true }],
    body: [
      {
        id: 'b',
        name: 'hut',
        rows: { entity: 'hut' },
        filter: 'id = hut_number',
        detail: { height: 5, items: [] },
      },
    ],
  };
  it('come out of the token, and from nowhere else', async () => {
    const signed: Session = { ...OFFICE, parameters: { hut_number: 2 } };
    const rows = await call(signed, 'post', '/design-rows', { definition, parameters: {} });
    expect(rows.body.levels[0].rows).toHaveLength(1);
    const refused = await call(signed, 'post', '/runs', { definition, parameters: { hut_number: 3 } });
    expect(refused.body.problems[0].code).toBe('parameter-from-host');
    expect((await call(OFFICE, 'post', '/runs', { definition, parameters: {} })).body.code).toBe('wrong-parameters');
  });
});

describe('connections made by hand', () => {
  const csv = async (data: string) => {
    const answer = await supertest(server)
      .post('/api/uploads')
      .set('Authorization', `Bearer ${await signToken(SECRET, OFFICE)}`)
      .set('Content-Type', 'application/octet-stream')
      .send(Buffer.from(data));
    return {
      name: 'snow',
      label: 'Snow',
      settings: { kind: 'file', format: 'csv', fileName: 'snow.csv' },
      upload: answer.body.id as string,
    };
  };
  it('need the right, and names of their own', async () => {
    expect((await call(MAKER, 'put', '/connections', await csv('a\n1'))).status).toBe(403);
    expect((await call(OFFICE, 'put', '/connections', { ...(await csv('a\n1')), name: 'cumeeira' })).body.code).toBe(
      'connection-fixed',
    );
    expect((await call(OFFICE, 'put', '/connections', { ...(await csv('a\n1')), name: 'drop table' })).status).toBe(
      400,
    );
  });
  it('bring a file’s rows beside those of the database, and tell what changes in it', async () => {
    const put = await call(OFFICE, 'put', '/connections', await csv('hut,depth\nPedra Longa,140\nLago Frio,90\n'));
    expect(put.body.tables[0].fields.map((f: { type: string }) => f.type)).toEqual(['text', 'number']);
    const steps = [
      { step: 'take', from: { model: 'snow', entity: 'snow' } },
      {
        step: 'bring',
        from: { model: 'cumeeira', entity: 'hut' },
        on: [{ here: 'hut', there: 'name' }],
        keep: 'here',
        as: 'hut',
      },
    ];
    const { body } = await call(OFFICE, 'post', '/recipe/rows', { steps });
    expect(body.found.rows).toHaveLength(2);
    await call(OFFICE, 'post', '/recipes', {
      name: 'Deep snow',
      steps: [steps[0], { step: 'keep', where: { field: 'depth', is: 'greater', to: { value: 100 } } }],
    });
    const changed = await call(
      OFFICE,
      'put',
      '/connections',
      await csv('hut,metres,day\nPedra Longa,1.4,2025-01-02\n'),
    );
    expect(changed.body.changes).toEqual([
      { table: 'snow', field: 'depth', change: 'gone' },
      { table: 'snow', field: 'metres', change: 'added' },
      { table: 'snow', field: 'day', change: 'added' },
    ]);
    const gone = await call(OFFICE, 'post', '/recipe/rows', {
      steps: [steps[0], { step: 'sort', by: [{ field: 'depth' }] }],
    });
    expect(gone.body.steps[1].problems[0].code).toBe('recipe-field-gone');
    expect((await call(OFFICE, 'delete', '/connections/snow')).status).toBe(204);
    const lost = await call(OFFICE, 'post', '/recipe/rows', { steps });
    expect(lost.body.problems[0].code).toBe('unknown-model');
  });
  it('tell what changed in a file since it was looked at, and what uses it', async () => {
    const settings = { kind: 'file', format: 'csv', address: `${base}/service/depths.csv` };
    expect((await call(OFFICE, 'put', '/connections', { name: 'depths', label: 'Depths', settings })).status).toBe(200);
    const definition = {
      gaveta: 2,
      name: 'Snow list',
      model: 'depths',
      body: [
        {
          id: 'list',
          name: 'snow',
          rows: { entity: 'depths' },
          sort: [{ by: 'depth' }],
          detail: {
            height: 5,
            items: [{ kind: 'field', id: 'deep', x: 0, y: 0, width: 20, height: 5, formula: 'depth * 2' }],
          },
        },
      ],
    };
    await call(OFFICE, 'post', '/reports', { definition });
    depths = 'hut,day\nPedra Longa,2025-01-02\n';
    const { body } = await call(OFFICE, 'post', '/connections/depths/refresh');
    expect(body.changes).toEqual([
      { table: 'depths', field: 'depth', change: 'gone' },
      { table: 'depths', field: 'day', change: 'added' },
    ]);
    expect(body.users).toMatchObject([{ kind: 'report', name: 'Snow list', field: 'depth', places: ['list', 'deep'] }]);
  });
  it('tell what a column that is gone touches through recipes, and let it go on over one of another name', async () => {
    const text = depths;
    depths = 'hut,level\nPedra Longa,140\nLago Frio,90\n';
    const settings = { kind: 'file', format: 'csv', address: `${base}/service/depths.csv` };
    await call(OFFICE, 'put', '/connections', { name: 'lakes', label: 'Lakes', settings });
    const recipe = async (name: string, steps: object[]) =>
      (await call(OFFICE, 'post', '/recipes', { name, steps })).body.id as string;
    const table = { model: 'lakes', entity: 'lakes' };
    const first = await recipe('Full lakes', [
      { step: 'take', from: table },
      { step: 'add', name: 'full', formula: 'level * 2' },
    ]);
    const second = await recipe('Named lakes', [
      { step: 'take', from: { recipe: first } },
      { step: 'sort', by: [{ field: 'hut' }] },
    ]);
    const apart = await recipe('Lakes by name', [
      { step: 'take', from: table },
      { step: 'sort', by: [{ field: 'hut' }] },
    ]);
    const item = (formula: string) => ({ kind: 'field', id: 'f', x: 0, y: 0, width: 20, height: 5, formula });
    const report = async (name: string, recipe: string, formula: string) => {
      const definition = {
        gaveta: 2,
        name,
        queries: [{ name: 'q', recipe }],
        body: [{ id: 'b', name: 'b', rows: { entity: 'q' }, detail: { height: 5, items: [item(formula)] } }],
      };
      await call(OFFICE, 'post', '/reports', { definition });
      return definition;
    };
    const full = await report('Full of water', second, 'full');
    await report('Names alone', apart, 'hut');
    await report('Levels', apart, 'level');
    depths = 'hut,metres\nPedra Longa,141\nLago Frio,90\n';
    const { body } = await call(OFFICE, 'post', '/connections/lakes/refresh');
    const said = body.users.map((u: { name: string; through: string | null }) => [u.name, u.through]);
    expect(said.sort()).toEqual([
      ['Full lakes', null],
      ['Full of water', 'Named lakes'],
      ['Levels', null],
      ['Named lakes', 'Full lakes'],
    ]);
    const users = (await call(OFFICE, 'get', '/connections/lakes/users')).body.map((u: { name: string }) => u.name);
    expect(users.sort()).toEqual([
      'Full lakes',
      'Full of water',
      'Lakes by name',
      'Levels',
      'Named lakes',
      'Names alone',
    ]);
    const shown = async () => (await call(OFFICE, 'post', '/design-rows', { definition: full, parameters: {} })).body;
    expect((await shown()).levels.filter((level: { rows: unknown[] }) => level.rows.length > 0)).toEqual([]);
    const renamed = [{ table: 'lakes', field: 'level', column: 'metres' }];
    expect((await call(OFFICE, 'post', '/connections/lakes/rename', { renamed })).status).toBe(200);
    expect(await shown()).toMatchObject({
      problems: [],
      levels: [{ rows: [expect.arrayContaining(['180']), expect.arrayContaining(['282'])] }],
    });
    expect((await call(OFFICE, 'post', '/connections/lakes/refresh')).body.changes).toEqual([]);
    depths = text;
  });
  it('give the rows of a report on without a column that nothing in it needs, and refuse them without any other', async () => {
    const text = depths;
    depths = 'hut,depth,note\nPedra Longa,140,new\nLago Frio,90,old\n';
    const settings = { kind: 'file', format: 'csv', address: `${base}/service/depths.csv` };
    await call(OFFICE, 'put', '/connections', { name: 'melting', label: 'Melting', settings });
    const item = (formula: string) => ({ kind: 'field', id: 'f', x: 0, y: 0, width: 20, height: 5, formula });
    const report = (formula: string, steps?: object[]) => ({
      gaveta: 2,
      name: 'Melting',
      model: 'melting',
      ...(steps
        ? {
            queries: [
              { name: 'q', steps: [{ step: 'take', from: { model: 'melting', entity: 'melting' } }, ...steps] },
            ],
          }
        : {}),
      body: [
        {
          id: 'b',
          name: 'b',
          rows: { entity: steps ? 'q' : 'melting' },
          detail: { height: 5, items: [item(formula)] },
        },
      ],
    });
    const rowsOf = async (definition: object) => {
      const { body } = await call(OFFICE, 'post', '/design-rows', { definition, parameters: {} });
      const [level] = body.levels;
      return level.problem ? level.problem.code : level.rows.length;
    };
    const deep = [{ step: 'keep', where: { field: 'depth', is: 'greater', to: { value: 100 } } }];
    const all = [{ step: 'distinct' }];
    expect(await rowsOf(report('hut'))).toBe(2);
    depths = 'hut,depth\nPedra Longa,140\nLago Frio,90\n';
    expect(await rowsOf(report('hut & depth'))).toBe(2);
    expect(await rowsOf(report('hut', deep))).toBe(1);
    expect(await rowsOf(report('hut & note'))).toBe('connection-failed');
    expect(await rowsOf(report('hut', [{ step: 'sort', by: [{ field: 'note' }] }]))).toBe('connection-failed');
    // What goes by every column goes by this one too.
    expect(await rowsOf(report('hut', all))).toBe('connection-failed');
    const looked = await call(OFFICE, 'post', '/recipe/rows', {
      steps: [{ step: 'take', from: { model: 'melting', entity: 'melting' } }],
    });
    expect(looked.body.failure.detail).toContain('note');
    depths = text;
  });
  it('say what is wrong when they are tried', async () => {
    const tried = async (given: object) => (await call(OFFICE, 'post', '/connections/test', given)).body.detail;
    expect(await tried(await csv('a,b\n1,2,3'))).toContain('Row 2 has 3 cells');
    expect(
      await tried({
        name: 'db',
        label: 'Db',
        settings: { kind: 'postgres', host: 'localhost', port: 1, database: 'x', user: 'x' },
      }),
    ).toContain('Nothing answers');
    expect(
      await tried({ name: 's', label: 'S', settings: { kind: 'http', address: 'http://localhost:1/secret' } }),
    ).toContain('not on the list');
    expect(await tried({ name: 's', label: 'S', settings: { kind: 'file', format: 'csv' } })).toContain('no file yet');
  });
  it('keep secrets sealed, and never tell them', async () => {
    const service = {
      name: 'rescue',
      label: 'Mountain rescue',
      settings: {
        kind: 'http',
        address: `${base}/service/bulletins`,
        rowsAt: 'bulletins',
        paging: { by: 'page', parameter: 'page', first: 1 },
      },
    };
    expect((await call(OFFICE, 'post', '/connections/test', service)).body.detail).toContain('401');
    const secret = { headers: { 'X-Rescue-Key': 'mountain' } };
    expect((await call(OFFICE, 'put', '/connections', { ...service, secret })).status).toBe(200);
    const steps = [{ step: 'take', from: { model: 'rescue', entity: 'rescue' } }];
    const { body } = await call(OFFICE, 'post', '/recipe/count', { steps });
    expect(body.found.count).toBe(182);
    // Saved again without it, the secret stays; sent on to another place, it does not.
    expect((await call(OFFICE, 'put', '/connections', { ...service, label: 'Rescue' })).status).toBe(200);
    const listed = await call(OFFICE, 'get', '/connections');
    expect(listed.body.made.find((c: { name: string }) => c.name === 'rescue')).toMatchObject({
      hasSecret: true,
      isLocked: false,
    });
    const stored = await store.query<{ secret: string }>(`select secret from connection where name = 'rescue'`);
    expect(stored.rows[0]!.secret).not.toContain('mountain');
    allowedAddresses.push('http://127.0.0.1/elsewhere/');
    const moved = { ...service, settings: { ...service.settings, address: 'http://127.0.0.1/elsewhere/x' } };
    expect((await call(OFFICE, 'post', '/connections/test', moved)).status).toBe(422);
    for (const answer of answers) expect(answer).not.toMatch(/"mountain"|X-Rescue-Key/i);
  });
});
