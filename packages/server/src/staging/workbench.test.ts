import type { DataType, WireRow } from '@gaveta/core/internal';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { fillTable, Workbench } from './workbench.ts';

let workbench: Workbench;
beforeAll(() => {
  workbench = new Workbench();
});
afterAll(() => workbench.close());

const limits = { most: 100_000, tooMany: () => new Error('too many rows') };

async function* batches(rows: readonly WireRow[], size = 7): AsyncGenerator<WireRow[]> {
  for (let from = 0; from < rows.length; from += size) yield rows.slice(from, from + size);
}

const read = async (text: string): Promise<WireRow[]> => {
  const [stream] = await workbench.connection.open([{ text, values: [] }]);
  const rows: WireRow[] = [];
  for await (const batch of stream!) rows.push(...batch);
  return rows;
};

/** Rows put on the workbench and read again, in the order of their first column. */
const roundTrip = async (types: readonly DataType[], rows: readonly WireRow[]): Promise<WireRow[]> => {
  const columns = types.map((type, i) => ({ name: `c${i}`, type }));
  const table = await fillTable(workbench, columns, batches(rows), limits);
  const found = await read(`select * from ${table} order by c0`);
  await workbench.drop([table]);
  return found;
};

describe('rows at the workbench', () => {
  it('come back as they were, whatever their texts hold', async () => {
    const text = fc.oneof(
      fc.string(),
      fc.string({ unit: 'grapheme' }),
      fc.constantFrom('', '\\.', '\\N', 'NULL', '"', '""', ',', '\n', '\r\n', ' a ', "'; drop table x; --", 'Ünïcödé'),
    );
    const kept = text.map((value) => value.replaceAll('\u0000', ''));
    await fc.assert(
      fc.asyncProperty(fc.array(fc.option(kept), { minLength: 1, maxLength: 40 }), async (texts) => {
        const rows = texts.map((value, i): WireRow => [String(i), value]);
        const found = await roundTrip(['number', 'text'], rows);
        expect(found).toEqual(rows);
      }),
      { numRuns: 30 },
    );
  });

  it('keep every digit, day, moment and yes or no', async () => {
    const rows: WireRow[] = [
      [
        '1',
        '12345678901234567890.123456789',
        '2024-02-29',
        '2025-03-30 01:30:00+00',
        true,
        'data:image/png;base64,AA==',
      ],
      ['2', '-0.0000000001', '0001-01-01', '2025-10-26 00:30:00+00', false, null],
      ['3', null, null, null, null, null],
    ];
    const found = await roundTrip(['number', 'number', 'date', 'datetime', 'boolean', 'picture'], rows);
    expect(found).toEqual(rows);
  });

  it('may have one column only, blank or not', async () => {
    const table = await fillTable(
      workbench,
      [{ name: 'note', type: 'text' }],
      batches([['a'], [null], [''], ['b']]),
      limits,
    );
    const found = await read(`select note, note is null from ${table}`);
    expect(found).toEqual([
      ['a', false],
      [null, true],
      ['', false],
      ['b', false],
    ]);
    await workbench.drop([table]);
  });

  it('may have names that are words of the database', async () => {
    const columns = [
      { name: 'select', type: 'number' as const },
      { name: 'Größe', type: 'text' as const },
    ];
    const table = await fillTable(workbench, columns, batches([[1, 'x']]), limits);
    expect(await read(`select "select", "Größe" from ${table}`)).toEqual([['1', 'x']]);
    await workbench.drop([table]);
  });

  it('are refused past their limit, and leave nothing behind', async () => {
    const rows = Array.from({ length: 30 }, (_, i): WireRow => [i]);
    const few = { ...limits, most: 20 };
    await expect(fillTable(workbench, [{ name: 'n', type: 'number' }], batches(rows), few)).rejects.toThrow(
      'too many rows',
    );
    async function* broken(): AsyncGenerator<WireRow[]> {
      yield [[1]];
      throw new Error('the source went away');
    }
    await expect(fillTable(workbench, [{ name: 'n', type: 'number' }], broken(), limits)).rejects.toThrow('went away');
    expect(await read(`select count(*)::int from pg_class where relname like 'stage%'`)).toEqual([[0]]);
  });

  it('stop coming when nobody wants them any more', async () => {
    const abort = new AbortController();
    async function* endless(): AsyncGenerator<WireRow[]> {
      for (let i = 0; ; i++) {
        if (i === 3) abort.abort();
        abort.signal.throwIfAborted();
        yield [[i]];
      }
    }
    const asked = fillTable(workbench, [{ name: 'n', type: 'number' }], endless(), { ...limits, signal: abort.signal });
    await expect(asked).rejects.toThrow();
  });
});

describe('a table that is kept at the workbench', () => {
  const one = (): Promise<string> =>
    fillTable(workbench, [{ name: 'a', type: 'number' }], batches([['1'], ['2']]), limits);
  const counting = () => {
    const made = { count: 0 };
    return { made, fill: () => one().finally(() => void made.count++) };
  };

  it('is filled once for all who need it at the same time or soon after, and read by each', async () => {
    const { made, fill } = counting();
    const leases = await Promise.all([workbench.lease('k', fill), workbench.lease('k', fill)]);
    for (const { release } of leases) release();
    const later = await workbench.lease('k', fill);
    expect(made.count).toBe(1);
    expect(await read(`select count(*)::int from ${later.table}`)).toEqual([[2]]);
    later.release();
  });

  it('is filled anew by the next one when whoever began gave up', async () => {
    const { made, fill } = counting();
    const gaveUp = workbench.lease('failing', () => Promise.reject(new Error('gave up')));
    const other = workbench.lease('failing', fill);
    await expect(gaveUp).rejects.toThrow('gave up');
    expect((await other).table).toMatch(/^stage_/);
    expect(made.count).toBe(1);
    (await other).release();
  });

  it('goes when there are too many, but not while somebody reads it', async () => {
    const held = await workbench.lease('held', one);
    const [first] = [await workbench.lease('first', one)];
    first.release();
    for (const key of 'bcdefghi') (await workbench.lease(key, one)).release();
    expect(await read(`select count(*)::int from ${held.table}`)).toEqual([[2]]);
    await expect(read(`select 1 from ${first.table}`)).rejects.toThrow(first.table);
    held.release();
  });
});

it('a statement that nobody waits for any more does not cost the next one a start', async () => {
  const abort = new AbortController();
  const [slow] = await workbench.connection.open([{ text: 'select pg_sleep(0.3)', values: [] }], {
    signal: abort.signal,
  });
  const reading = slow![Symbol.asyncIterator]().next();
  const table = await workbench.lease('through', () =>
    fillTable(workbench, [{ name: 'a', type: 'number' }], batches([['1']]), limits),
  );
  abort.abort();
  await reading.catch(() => {});
  expect(await read(`select a::int from ${table.table}`)).toEqual([[1]]);
  table.release();
});
