import supertest from 'supertest';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { signToken } from '../access/session.ts';
import {
  allowedAddresses,
  answers,
  base,
  call,
  closeData,
  MAKER,
  OFFICE,
  openData,
  SECRET,
  server,
  service,
  store,
} from './data-api.test-support.ts';

beforeAll(openData, 120_000);
afterAll(closeData);

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
    service.depths = 'hut,day\nPedra Longa,2025-01-02\n';
    const { body } = await call(OFFICE, 'post', '/connections/depths/refresh');
    expect(body.changes).toEqual([
      { table: 'depths', field: 'depth', change: 'gone' },
      { table: 'depths', field: 'day', change: 'added' },
    ]);
    expect(body.users).toMatchObject([{ kind: 'report', name: 'Snow list', field: 'depth', places: ['list', 'deep'] }]);
  });
  it('tell what a column that is gone touches through recipes, and let it go on over one of another name', async () => {
    const text = service.depths;
    service.depths = 'hut,level\nPedra Longa,140\nLago Frio,90\n';
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
    service.depths = 'hut,metres\nPedra Longa,141\nLago Frio,90\n';
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
    service.depths = text;
  });
  it('give the rows of a report on without a column that nothing in it needs, and refuse them without any other', async () => {
    const text = service.depths;
    service.depths = 'hut,depth,note\nPedra Longa,140,new\nLago Frio,90,old\n';
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
    service.depths = 'hut,depth\nPedra Longa,140\nLago Frio,90\n';
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
    service.depths = text;
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
