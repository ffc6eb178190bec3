import type { WireRow } from '@gaveta/core/internal';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { defineModel } from '../model/define.ts';
import { introspectedModel } from '../model/introspected.ts';
import { ConnectionError, type DatabaseConnection, StatementEnded, StatementError } from './connection.ts';
import { embeddedConnection } from './pglite.ts';
import { postgresConnection } from './postgres.ts';
import { startPostgresWith, type TestServer } from './server.test-support.ts';

const SCHEMA = `
  create table region (id int primary key, name text not null);
  create table hut (id int primary key, region_id int references region, name text, photo bytea, opened date, at timestamptz, open boolean, price numeric(12,4));
  create table bed (hut_id int references hut, number int, primary key (hut_id, number));
  comment on column hut.price is 'For one night.';
  create view cheap as select id, name from hut where price < 10;
  create function huts_of(wanted int) returns setof hut language sql stable as 'select * from hut where region_id = wanted';
  create function unnamed(int) returns setof hut language sql stable as 'select * from hut';
  insert into region values (1, 'Norte'), (2, 'Sul');
  insert into hut values (1, 1, 'Brecha', '\\x89504e47', '2024-02-29', '2025-03-30 01:30+00', true, 12.3400), (2, null, null, null, null, null, null, null);
  insert into bed select 1, n from generate_series(1, 5000) n;
  create role reader nologin; grant select on all tables in schema public to reader;`;

let server: TestServer;
let connection: DatabaseConnection;
beforeAll(async () => {
  server = await startPostgresWith(SCHEMA);
  connection = postgresConnection({ ...server, readerRole: 'reader' });
});
afterAll(async () => {
  await connection?.close?.();
  await server?.stop();
});

const read = async (over: DatabaseConnection, text: string, values: never[] = [], options = {}): Promise<WireRow[]> => {
  const [stream] = await over.open([{ text, values }], options);
  const rows: WireRow[] = [];
  for await (const batch of stream!) rows.push(...batch);
  return rows;
};

describe('a PostgreSQL server', () => {
  it('gives the same values as the embedded one', async () => {
    const embedded = embeddedConnection({ data: null, prepare: SCHEMA });
    const text = 'select * from hut order by id';
    const rows = await read(connection, text);
    const moments = (list: WireRow[]) =>
      list.map((row) => row.map((v, i) => (i === 5 && v !== null ? new Date(String(v)).toISOString() : v)));
    expect(moments(rows)).toEqual(moments(await read(embedded, text)));
    expect(rows[0]!.slice(0, 5)).toEqual([1, 1, 'Brecha', 'data:image/png;base64,iVBORw==', '2024-02-29']);
    await embedded.close?.();
  });

  it('reads many rows in batches, and several statements on one snapshot', async () => {
    const [beds, count] = await connection.open([
      { text: 'select number from bed order by number', values: [] },
      { text: 'select count(*)::int from bed', values: [] },
    ]);
    const client = new pg.Client(server);
    await client.connect();
    await client.query('insert into bed values (1, 9999)');
    let rows = 0;
    for await (const batch of beds!) rows += batch.length;
    expect(rows).toBe(5000);
    for await (const batch of count!) expect(batch).toEqual([[5000]]);
    await client.query('delete from bed where number = 9999');
    await client.end();
  });

  it('tells a wrong statement with its place, and lets the others go on', async () => {
    const [wrong, right] = await connection.open([
      { text: 'select nam from hut', values: [] },
      { text: 'select 1', values: [] },
    ]);
    await expect(wrong![Symbol.asyncIterator]().next()).rejects.toThrow(StatementError);
    for await (const batch of right!) expect(batch).toEqual([[1]]);
    await expect(connection.describe({ text: 'select nam from hut', values: [] })).rejects.toMatchObject({
      position: 7,
    });
    expect(await connection.describe({ text: 'select name, price from hut', values: [] })).toEqual([
      { name: 'name', type: 'text' },
      { name: 'price', type: 'number' },
    ]);
  });

  it('ends a statement at its limit, or when nobody waits any more', async () => {
    await expect(read(connection, 'select pg_sleep(20)', [], { seconds: 0.3 })).rejects.toThrow(StatementEnded);
    const abort = new AbortController();
    const asked = read(connection, 'select pg_sleep(20)', [], { signal: abort.signal });
    setTimeout(() => abort.abort(), 200);
    await expect(asked).rejects.toThrow('cancelled');
    expect(await read(connection, 'select 1')).toEqual([[1]]);
  });

  it('gives a few rows at once where they are asked for so, and no second statement', async () => {
    const whole = { whole: true };
    expect(await read(connection, 'select count(*)::int from bed', [], whole)).toEqual([[5000]]);
    await expect(read(connection, 'select nam from hut', [], whole)).rejects.toThrow(StatementError);
    await expect(read(connection, 'select 1; select 2', [], whole)).rejects.toThrow(StatementError);
    await expect(read(connection, 'delete from bed', [], whole)).rejects.toThrow();
    await expect(read(connection, 'select pg_sleep(20)', [], { ...whole, seconds: 0.3 })).rejects.toThrow(
      StatementEnded,
    );
    const [unread] = await connection.open([{ text: 'select 1', values: [] }], whole);
    await unread!.close();
    expect(await read(connection, 'select 1', [], whole)).toEqual([[1]]);
  });

  it('writes nothing, and takes the reader’s role for what was written by hand', async () => {
    await expect(read(connection, 'insert into bed values (1, 7777) returning number')).rejects.toThrow();
    const before = connection.reader!;
    const [stream] = await connection.open([{ text: 'select current_user::text', values: [], before }]);
    for await (const batch of stream!) expect(batch).toEqual([['reader']]);
    expect(await read(connection, 'select current_user::text')).toEqual([['keeper']]);
  });

  it('finds tables, views and functions, with keys and relations both ways', async () => {
    const found = await connection.tables();
    expect(found.map((t) => `${t.kind} ${t.name}`)).toEqual([
      'table bed',
      'view cheap',
      'table hut',
      'table region',
      'function huts_of',
    ]);
    expect(found.find((t) => t.name === 'huts_of')!.arguments).toEqual([
      { name: 'wanted', type: 'number', written: 'integer' },
    ]);
    const { model } = defineModel(introspectedModel('works', 'Works', 'main', found));
    const entity = (name: string) => model.entities.find((e) => e.name === name)!;
    expect(entity('hut').key).toBe('id');
    expect(entity('bed').key).toBe('row_key');
    expect(entity('hut').relations.map((r) => `${r.kind} ${r.name} ${r.to}`)).toEqual([
      'one region region',
      'many bed bed',
    ]);
    expect(entity('region').relations.map((r) => `${r.kind} ${r.name} ${r.to}`)).toEqual(['many hut hut']);
    expect(entity('hut').fields.find((f) => f.name === 'price')).toMatchObject({
      type: 'number',
      description: 'For one night.',
    });
    expect(entity('huts_of').arguments).toEqual([{ name: 'wanted', label: 'Wanted', type: 'number' }]);
  });
});

describe('a server that cannot be reached', () => {
  const failing = async (options: object): Promise<string> => {
    const wrong = postgresConnection({ ...server, ...options });
    try {
      await wrong.tables();
      return 'it worked';
    } catch (error) {
      expect(error).toBeInstanceOf(ConnectionError);
      return (error as Error).message;
    } finally {
      await wrong.close?.();
    }
  };
  it('says what is wrong', async () => {
    expect(await failing({ password: 'guess' })).toContain('password is not accepted');
    expect(await failing({ database: 'atlantis' })).toContain('no such database');
    expect(await failing({ port: 1 })).toContain('nothing answers');
    expect(await failing({ host: 'no-such-host.invalid' })).toContain('no host of that name');
  });
  it('does not tell the password', async () => {
    expect(await failing({ password: 'guess-me' })).not.toContain('guess-me');
  });
});
