import type { PGlite } from '@electric-sql/pglite';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { LIMITS } from '../base/limits.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { defineModel } from '../model/define.ts';
import { number, text } from '../model/fields.test-support.ts';
import { createSeal } from '../secrets/seal.ts';
import { SourceThreads } from '../sources/source-threads.ts';
import type { StoredSource } from '../sources/stored.ts';
import { streamConnection } from '../sources/stream.ts';
import { openStore, type Store } from '../store/store.ts';
import { Catalogue } from './catalogue.ts';

const model = defineModel({
  name: 'radio',
  label: { en: 'Radio', pt: 'Rádio' },
  connection: 'radio',
  entities: {
    call: {
      label: { en: 'Call', pt: 'Chamada' },
      plural: 'Calls',
      key: 'id',
      fields: { id: { ...number, hidden: true }, words: text, caller_phone: { ...text, hidden: true } },
    },
  },
});

const found = {
  tables: [{ name: 'snow', label: 'snow', fields: [{ name: 'depth', column: 'depth', type: 'number' as const }] }],
};
const file = (name: string): StoredSource => ({
  name,
  label: name,
  settings: { kind: 'file', format: 'csv', fileName: 'x.csv', decimal: '.', dates: 'ymd' },
  secret: {},
  data: new TextEncoder().encode('depth\n5\n'),
});
const server = (asks: boolean): StoredSource => ({
  name: 'office',
  label: 'Office',
  settings: { kind: 'postgres', host: 'localhost', port: 1, database: 'd', user: 'u', ssl: false, asks },
  secret: { password: 'hush' },
  data: null,
});
const tables = { input: { name: 'office', label: 'Office', connection: 'office', entities: {} } };

let database: PGlite;
let store: Store;
beforeAll(async () => {
  database = await openBlank();
  store = await openStore(database, createSeal('a key that seals the secrets of these tests'));
});
afterAll(() => store.close());

const open = async (): Promise<Catalogue> => {
  const catalogue = new Catalogue([model], { radio: streamConnection({ call: () => [] }) }, store.data, {
    allowedAddresses: [],
    allowedDatabases: ['localhost:1'],
    limits: LIMITS,
    threads: new SourceThreads(),
  });
  await catalogue.load();
  return catalogue;
};

describe('the catalogue of models and connections', () => {
  it('shows models in a language, without hidden fields other than keys', async () => {
    const [shown] = (await open()).visible('pt-PT');
    expect(shown).toMatchObject({ label: 'Rádio', origin: { connection: 'radio', kind: 'rows', made: 'code' } });
    expect(shown!.entities[0]!.label).toBe('Chamada');
    expect(shown!.entities[0]!.fields.map((f) => f.name)).toEqual(['id', 'words']);
  });

  it('takes connections that are made, and lets them go again', async () => {
    await store.data.putConnection(file('snow'), found, 'Inês');
    const catalogue = await open();
    expect([...catalogue.models.keys()]).toEqual(['radio', 'snow']);
    expect([catalogue.isFixed('radio'), catalogue.isFixed('snow'), catalogue.isFixed('new')]).toEqual([
      true,
      false,
      false,
    ]);
    expect(catalogue.visible('en')[1]!.origin).toEqual({ connection: 'snow', kind: 'rows', made: 'hand' });
    await catalogue.remove('snow');
    expect(catalogue.connections.has('snow')).toBe(false);
    await store.data.removeConnection('snow');
  });

  it('never lets a stored connection take the place of one in code', async () => {
    await store.data.putConnection(file('radio'), found, 'Inês');
    const catalogue = await open();
    expect(catalogue.models.get('radio')?.tables).toBe(model.tables);
    expect(catalogue.made).toEqual([]);
    await store.data.removeConnection('radio');
  });

  it('gives those who run a report a connection of their own where one asks', async () => {
    await store.data.putConnection(server(true), tables, 'Inês');
    const catalogue = await open();
    expect(catalogue.asking).toEqual(['office']);
    const own = catalogue.connectionsFor({ office: { user: 'rui', password: 'p' } });
    expect(own.connections.get('office')).not.toBe(catalogue.connections.get('office'));
    expect(catalogue.connectionsFor({}).connections.get('office')).toBe(catalogue.connections.get('office'));
    await own.close();
    await catalogue.end();
  });

  it('opens a secret with its own key alone, and says when it cannot', async () => {
    await store.data.putConnection(server(false), tables, 'Inês');
    const [kept] = await store.data.connections();
    expect(kept).toMatchObject({ hasSecret: true, isLocked: false, source: { secret: { password: 'hush' } } });
    const other = await openStore(database, createSeal('another key, as after a change of configuration'));
    const [locked] = await other.data.connections();
    expect(locked).toMatchObject({ hasSecret: true, isLocked: true, source: { secret: {} } });
    const none = await openStore(database);
    await expect(none.data.putConnection(server(false), tables, 'Inês')).rejects.toThrow('no encryptionKey');
  });
});
