import type { PGlite } from '@electric-sql/pglite';
import { cumeeiraModel } from '@gaveta-examples/cumeeira';
import { beforeAll, describe, expect, it } from 'vitest';
import { pgliteConnection } from '../connection/pglite.ts';
import { postgresConnection } from '../connection/postgres.ts';
import { defineModel, type EntityInput } from '../model/define.ts';
import { demoDatabase } from '../services/huts.test-support.ts';
import { examine } from './doctor.ts';

const hut = (change: Partial<EntityInput> = {}): EntityInput => ({
  label: 'Hut',
  plural: 'Huts',
  key: 'id',
  fields: {
    id: { label: 'Number', type: 'number' },
    name: { label: 'Name', type: 'text' },
    beds: { label: 'Beds', type: 'number' },
  },
  ...change,
});
const model = (change: Partial<EntityInput> = {}, connection = 'office') =>
  defineModel({ name: 'huts', label: 'Huts', connection, entities: { hut: hut(change) } });

let database: PGlite;
beforeAll(async () => {
  database = await demoDatabase();
});
const found = async (change: Partial<EntityInput>) => examine([model(change)], { office: pgliteConnection(database) });
const field = (type: 'text' | 'number' | 'date', column?: string) => ({
  fields: { ...hut().fields, other: { label: 'Other', type, ...(column ? { column } : {}) } },
});

describe('what is found before anybody runs a report', () => {
  it('is nothing where everything fits', async () => {
    expect(await found({})).toEqual([]);
    expect(await found({ table: 'public.hut' })).toEqual([]);
    expect(await examine([cumeeiraModel], { cumeeira: pgliteConnection(database) })).toEqual([]);
  });

  it('is a table or column of another name, with the one that is meant', async () => {
    expect(await found({ table: 'huts' })).toEqual([
      { place: 'huts.entities.hut', said: expect.stringContaining("no table or view “huts”. Write table: 'hut'.") },
    ]);
    expect(await found(field('number', 'altitude'))).toEqual([
      { place: 'huts.entities.hut.fields.other', said: expect.stringMatching(/no column “altitude”/) },
    ]);
    expect(await found(field('number', 'bed'))).toMatchObject([
      { said: expect.stringContaining("Write column: 'beds'.") },
    ]);
    expect(await found({ function: { name: 'stays_betwen', arguments: {} } })).toMatchObject([
      { said: expect.stringContaining("Write function: { name: 'stays_between' }.") },
    ]);
  });

  it('is a column of another type', async () => {
    expect(await found(field('number', 'name'))).toEqual([
      {
        place: 'huts.entities.hut.fields.other',
        said: "the column “name” is of type text, and the field of type number. Write type: 'text'.",
      },
    ]);
    expect(await found(field('text', 'beds'))).toEqual([]);
  });

  it('is a scope that gives what it may not, or reads what there is not', async () => {
    const scoped = async (scope: unknown) => (await found({ scope: scope as never })).map(({ said }) => said);
    expect(await scoped(async () => 'everything')).toEqual([expect.stringContaining('is asynchronous')]);
    expect(await scoped(() => 'beds > 3')).toEqual([expect.stringContaining("written as { keep: 'beds > 3' }")]);
    expect(await scoped(() => undefined)).toEqual([expect.stringContaining('gave nothing')]);
    expect(await scoped(() => ({ keep: 'regon_id = CLAIM("region")' }))).toHaveLength(1);
    expect(await scoped(() => ({ keep: 'id = CLAIM("hut")' }))).toEqual([]);
  });

  it('is a connection that is missing or away, and a reader role that is not there', async () => {
    expect(await examine([model({}, 'offce')], {})).toMatchObject([
      {
        place: 'connections.offce',
        said: expect.stringContaining('connections: { offce: postgresConnection({ … }) }'),
      },
    ]);
    const away = postgresConnection({ connectionString: 'postgres://x:y@localhost:9/none' });
    expect(await examine([model()], { office: away })).toMatchObject([{ place: 'connections.office' }]);
    await away.close?.();
    const reader = { ...pgliteConnection(database), reader: ['set local role nobody_knows'] };
    expect(await examine([model()], { office: reader })).toMatchObject([
      { place: 'connections.office.readerRole', said: expect.stringContaining('Create it') },
    ]);
  });
});

it('a model without labels names each that is missing', () => {
  const fields = { id: { type: 'number' } } as never;
  const entities = { hut: { ...hut(), label: undefined as never, fields } };
  expect(() => defineModel({ name: 'huts', label: 'Huts', connection: 'office', entities })).toThrow(
    /entities\.hut\.label: a text is missing[\s\S]*entities\.hut\.fields\.id\.label: a text is missing/,
  );
});
