import type { PGlite } from '@electric-sql/pglite';
import express from 'express';
import supertest from 'supertest';
import { beforeAll, describe, expect, it } from 'vitest';
import { signToken } from './access/session.ts';
import { pgliteConnection } from './connection/pglite.ts';
import { openBlank } from './embedded/blank.test-support.ts';
import { createGaveta } from './gaveta.ts';
import { defineModel, type EntityInput } from './model/define.ts';
import { type GavetaOptions, oddOptions } from './options.ts';
import { demoDatabase, SECRET } from './services/huts.test-support.ts';

/** What integrators of applications get wrong most, each answered with the line to change. */
let database: PGlite;
beforeAll(async () => {
  database = await demoDatabase();
});

const hut = (change: Partial<EntityInput> = {}): EntityInput => ({
  label: 'Hut',
  plural: 'Huts',
  key: 'id',
  fields: { id: { label: 'Number', type: 'number' }, name: { label: 'Name', type: 'text' } },
  ...change,
});
const model = (change: Partial<EntityInput> = {}, connection = 'office') =>
  defineModel({ name: 'huts', label: 'Huts', connection, entities: { hut: hut(change) } });

/** What goes to the log of a Gaveta with these options, when it starts and when something asks it. */
const logged = async (
  more: Partial<GavetaOptions>,
  ask: (app: express.Express) => Promise<unknown> = async () => {},
): Promise<string> => {
  const said: string[] = [];
  const gaveta = await createGaveta({
    store: await openBlank(),
    models: [],
    connections: { office: pgliteConnection(database) },
    secret: SECRET,
    web: false,
    log: (error) => void said.push(error instanceof Error ? error.message : String(error)),
    ...more,
  });
  await ask(express().use('/reports', gaveta.router));
  await gaveta.close();
  return said.join('\n');
};

const INES = { user: 'Inês', rights: ['view'] as const, claims: {} };

describe('mistakes are answered with the line to change', () => {
  it.each<[string, () => Promise<unknown> | unknown, string]>([
    ['a short secret', () => createGaveta({ ...OPTIONS, secret: 'short' }), '“secret” needs at least 32 characters'],
    ['no store', () => createGaveta({ ...OPTIONS, store: undefined as never }), '“store” is missing. Name a folder'],
    ['no models', () => createGaveta({ ...OPTIONS, models: undefined as never }), '“models” is missing'],
    ['no connections', () => createGaveta({ ...OPTIONS, connections: undefined as never }), '“connections” is missing'],
    ['a token signed the wrong way round', () => signToken(INES as never, SECRET as never), 'takes the secret first'],
    [
      'a host with a path',
      () => createGaveta({ ...OPTIONS, hosts: ['https://office.example/app'] }),
      "hosts: ['https://office.example']",
    ],
    [
      'a page of a shell’s own scheme',
      () => createGaveta({ ...OPTIONS, hosts: ['office://app'] }),
      "hosts: ['office:']",
    ],
    [
      'the code of a currency',
      () => createGaveta({ ...OPTIONS, currencies: { Euro: 2 } }),
      '“Euro” is no code of a currency, as EUR',
    ],
    [
      'the decimals of a currency',
      () => createGaveta({ ...OPTIONS, currencies: { XBT: -1 } }),
      'XBT has a number of decimals, from 0 to 20',
    ],
    [
      'a currency of what is no number',
      () => model({ fields: { id: { label: 'Number', type: 'text', currency: 'EUR' } } }),
      'hut.fields.id.currency: the field is of type text, and must be a number',
    ],
    ['the folder of the web application', () => createGaveta({ ...OPTIONS, web: 'web/dist' }), 'Leave “web” out'],
    ['a missing label', () => model({ plural: '' }), "entities.hut.plural: a text is missing, as “plural: 'Hut'”"],
    [
      'a relation to nothing',
      () => model({ relations: { stays: { label: 'Stays', to: 'stay', kind: 'many', on: { id: 'hut_id' } } } }),
      'there is no entity “stay”',
    ],
  ])('%s', async (_, make, said) => {
    await expect((async () => make())()).rejects.toThrow(said);
  });

  it.each<[string, Partial<GavetaOptions>, string]>([
    ['a misspelt option', { host: [] } as never, 'has no option “host”, and leaves it alone. Did you mean hosts?'],
    [
      'a connection of another name',
      { models: [model({}, 'ofice')] },
      'Add it: connections: { ofice: postgresConnection',
    ],
    ['a table of another name', { models: [model({ table: 'huts' })] }, "Write table: 'hut'."],
    [
      'a scope that gives a text',
      { models: [model({ scope: () => 'region_id = 1' as never })] },
      "{ keep: 'region_id = 1' }",
    ],
  ])('%s', async (_, options, said) => {
    expect(await logged(options)).toContain(said);
  });

  it('a token that is signed with another secret', async () => {
    const token = await signToken('another secret of at least thirty-two letters', INES);
    const said = await logged({}, (app) =>
      supertest(app).get('/reports/api/session').set('Authorization', `Bearer ${token}`),
    );
    expect(said).toContain('Give signToken and createGaveta the same “secret”');
  });
});

const OPTIONS = { store: 'nowhere', models: [], connections: {}, secret: SECRET };

it('an option that will go is told at start, with what to write in its place', () => {
  const deprecated = [{ option: 'frames', since: '1.2.0', instead: "Write hosts: ['https://office.example']." }];
  expect(oddOptions({ ...OPTIONS, frames: [] }, deprecated)).toEqual([
    "createGaveta: “frames” is deprecated since 1.2.0, and will go in the next major version. Write hosts: ['https://office.example'].",
  ]);
  expect(oddOptions(OPTIONS)).toEqual([]);
});
