import { generateTables } from '@gaveta-examples/cumeeira';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Session } from '../access/session.ts';
import { call, closeData, MAKER, OFFICE, openData, WARDEN } from './data-api.test-support.ts';

beforeAll(openData, 120_000);
afterAll(closeData);

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
