import { PGlite } from '@electric-sql/pglite';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { rowsOf } from './pglite-rows.ts';
import { PARSERS } from './pglite-work.ts';

let database: PGlite;
beforeAll(async () => {
  database = await PGlite.create();
});
afterAll(() => database.close());

const byDriver = async (text: string): Promise<unknown[]> =>
  (await database.query(text, [], { rowMode: 'array', parsers: PARSERS })).rows;

describe('rows of an embedded database', () => {
  it.each([
    [
      'of every kind',
      `select 1, -2::int2, 3::int8, 4.50::numeric, 'NaN'::float8, true, false, null, '', 'a', date '2024-02-29'`,
    ],
    [
      'of times, bytes and documents',
      `select timestamptz '2024-03-31 01:30:00.25+00', timestamp '2024-01-01 10:00', '\\xff00'::bytea, '{"a": [1]}'::jsonb, interval '1 day'`,
    ],
    ['of lists', `select array[1, 2, null], array['a', 'b "c"'], 'x'::char(4), '11:00'::time`],
    ['beyond ASCII', `select 'Três Irmãos', 'جبل', repeat('🏔', 3), i from generate_series(1, 50) i`],
    ['of many rows', `select i, 'hut ' || i, i * 0.01 from generate_series(1, 3000) i`],
    ['without columns', 'select from generate_series(1, 3)'],
    ['of no rows', 'select 1 as one where false'],
    ['of a statement that gives none', 'set search_path to public'],
  ])('%s are as the driver gives them', async (_, text) => {
    expect(await rowsOf(database, text, PARSERS)).toEqual(await byDriver(text));
  });

  it('end with the error that the database tells, and it goes on', async () => {
    const wrong = rowsOf(database, 'select 1, nothing from hut', PARSERS);
    await expect(wrong).rejects.toMatchObject({
      code: '42P01',
      position: '24',
      message: expect.stringContaining('hut'),
    });
    await expect(
      rowsOf(database, 'select 1 / (i - 2000) from generate_series(1, 3000) i', PARSERS),
    ).rejects.toMatchObject({
      code: '22012',
    });
    expect(await rowsOf(database, 'select 1', PARSERS)).toEqual([[1]]);
  });

  it('wait for the transaction of somebody else', async () => {
    const order: string[] = [];
    const other = database.transaction(async (transaction) => {
      await transaction.query('select pg_sleep(0.05)');
      order.push('transaction');
    });
    await rowsOf(database, 'select 1', PARSERS);
    order.push('rows');
    await other;
    expect(order).toEqual(['transaction', 'rows']);
  });
});
