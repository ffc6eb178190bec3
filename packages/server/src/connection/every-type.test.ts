import { planRecipe, type Step } from '@gaveta/core/internal';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { defineModel, type RegisteredModel } from '../model/define.ts';
import { introspectedModel } from '../model/introspected.ts';
import { RecipeDesk } from '../recipes/desk.ts';
import type { DatabaseConnection } from './connection.ts';
import { postgresConnection } from './postgres.ts';
import { startPostgresWith, type TestServer } from './server.test-support.ts';

/** A column of each type that is none of ours, in an order that no other has. */
const SCHEMA = `
  create type hut_state as enum ('open', 'closed', 'winter room');
  create domain height as double precision;
  create table hut (
    zz int primary key, state hut_state, token uuid, price money, tags text[], facts jsonb, stay interval, opens time, opens_zone timetz,
    address inet, level height, small real, a_photo bytea, a_file bytea, read_at timestamptz, aa text);
  insert into hut values
    (1, 'open', 'a0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11', 1234.50, '{warm,"by the lake"}', '{"beds": 3}', '2 days', '08:30', '08:30+01', '10.0.0.1', 0.1, 0.1, '\\x89504e470d0a1a0a', '\\x00ff10', '2025-03-30 01:30+00', 'one'),
    (2, 'winter room', 'b0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11', 0.25, '{}', null, '1 hour', '07:00', null, null, 0.2, 16777216, null, null, null, 'two'),
    (3, 'closed', null, null, null, null, null, null, null, null, 0.30000000000000004, null, null, null, null, 'three');
  create function huts_above(lowest int, since date) returns setof hut language sql stable as 'select * from hut where zz >= lowest';`;

let server: TestServer;
let connection: DatabaseConnection;
let model: RegisteredModel;
beforeAll(async () => {
  server = await startPostgresWith(SCHEMA);
  connection = postgresConnection({ ...server });
  model = defineModel(introspectedModel('huts', 'Huts', 'main', await connection.tables()));
}, 60_000);
afterAll(async () => {
  await connection?.close?.();
  await server?.stop();
});

const rowsOf = async (...steps: Step[]) => {
  const recipe = planRecipe(
    { name: 'test', steps },
    { models: [model.model], recipe: () => null, queries: [], parameters: [] },
  );
  expect(recipe.problems).toEqual([]);
  const desk = await RecipeDesk.open([recipe], {
    models: new Map([['huts', model]]),
    connections: new Map([['main', connection]]),
    claims: {},
    report: { name: '', language: 'en', timeZone: 'UTC', parameters: [] },
    values: {},
  });
  try {
    const { rows, fields } = await desk.rows(recipe, 100);
    await desk.facts(recipe);
    return rows.map((row) => Object.fromEntries(fields.map(({ name }, i) => [name, row[i]])));
  } finally {
    await desk.close();
  }
};
const take: Step = { step: 'take', from: { model: 'huts', entity: 'hut' } };
const keep = (field: string, to: string | number): Step => ({
  step: 'keep',
  where: { field, is: 'equal', to: { value: to } },
});

describe('columns of types that are none of ours', () => {
  it('are read as what they show, in the order of the database', async () => {
    const [first, second] = await rowsOf(take, { step: 'sort', by: [{ field: 'zz' }] });
    expect(first).toMatchObject({
      state: 'open',
      price: '1234.50',
      tags: 'warm, by the lake',
      facts: '{"beds": 3}',
      stay: '2 days',
      opens: '08:30:00',
      a_file: '00ff10',
      level: '0.1',
      small: '0.1',
    });
    expect(String(first!.a_photo)).toMatch(/^data:image\/png/);
    expect(second).toMatchObject({ tags: '', small: '16777216' });
    const names = model.model.entities.find(({ name }) => name === 'hut')!.fields.map(({ name }) => name);
    expect(names.slice(0, 5)).toEqual(['zz', 'state', 'token', 'price', 'tags']);
    expect(names.at(-1)).toBe('aa');
  });

  it.each([
    ['state', 'winter room', [2]],
    ['token', 'a0eebc99-9c0b-4ef8-bb6d-6bb9bd380a11', [1]],
    ['price', 1234.5, [1]],
    ['tags', 'warm, by the lake', [1]],
    ['facts', '{"beds": 3}', [1]],
    ['stay', '01:00:00', [2]],
    ['opens', '07:00:00', [2]],
    ['address', '10.0.0.1/32', [1]],
    ['level', 0.2, [2]],
  ])('are filtered: %s', async (field, value, found) => {
    expect((await rowsOf(take, keep(field, value))).map(({ zz }) => zz)).toEqual(found);
  });

  it('are grouped, sorted and told apart', async () => {
    const by = await rowsOf(
      take,
      {
        step: 'summarise',
        by: [{ field: 'state' }],
        totals: [
          { total: 'COUNTDISTINCT', of: 'facts', name: 'n' },
          { total: 'MIN', of: 'opens', name: 'first' },
        ],
      },
      { step: 'sort', by: [{ field: 'state' }] },
    );
    expect(by).toEqual([
      { state: 'closed', n: '0', first: null },
      { state: 'open', n: '1', first: '08:30:00' },
      { state: 'winter room', n: '0', first: '07:00:00' },
    ]);
  });

  it('of real and double precision add up by the digits that are written, and say that they are rounded', async () => {
    const [all] = await rowsOf(take, {
      step: 'summarise',
      by: [],
      totals: [{ total: 'SUM', of: 'level', name: 'sum' }],
    });
    expect(all!.sum).toBe('0.60000000000000004');
    const fields = model.model.entities.find(({ name }) => name === 'hut')!.fields;
    expect(fields.filter(({ inexact }) => inexact).map(({ name }) => name)).toEqual(['level', 'small']);
  });

  it('are given to functions as what these take', async () => {
    const from = { model: 'huts', entity: 'huts_above', arguments: { lowest: '1 + 1', since: 'DATE(2025; 1; 1)' } };
    expect((await rowsOf({ step: 'take', from })).map(({ zz, state }) => [zz, state])).toEqual([
      [2, 'winter room'],
      [3, 'closed'],
    ]);
  });
});

it('a column that is called otherwise now goes on under the name that its field had', async () => {
  const found = await connection.tables();
  const renamed = [{ table: 'hut', column: 'aa', name: 'remark' }];
  const over = defineModel(introspectedModel('huts', 'Huts', 'main', found, renamed));
  const hut = over.model.entities.find(({ name }) => name === 'hut')!;
  expect(hut.fields.map(({ name }) => name)).toContain('remark');
  expect(over.tables.get('hut')!.columns.get('remark')).toBe('aa');
  // A name that another column has stays with that one.
  const taken = introspectedModel('huts', 'Huts', 'main', found, [{ table: 'hut', column: 'aa', name: 'state' }]);
  expect(Object.keys(taken.entities.hut!.fields)).toContain('aa');
});
