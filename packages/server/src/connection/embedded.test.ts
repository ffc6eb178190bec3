import type { Worker } from 'node:worker_threads';
import type { WireRow } from '@gaveta/core/internal';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type DatabaseConnection, StatementEnded } from './connection.ts';
import { EmbeddedThread } from './embedded-thread.ts';
import { embeddedConnection } from './pglite.ts';

const RUNAWAY = 'select count(*) from generate_series(1, 100000000) a, generate_series(1, 1000) b';

let database: DatabaseConnection;
beforeAll(() => {
  database = embeddedConnection({
    data: null,
    prepare: 'create table hut as select i as id from generate_series(1, 9000) i',
  });
});
afterAll(() => database.close?.());

const open = async (text: string, options = {}) => (await database.open([{ text, values: [] }], options))[0]!;
const read = async (stream: AsyncIterable<WireRow[]>): Promise<WireRow[]> => {
  const rows: WireRow[] = [];
  for await (const batch of stream) rows.push(...batch);
  return rows;
};

describe('an embedded database in a thread', () => {
  it('goes on with what others were reading after it was ended', async () => {
    const iterator = (await open('select id from hut order by id'))[Symbol.asyncIterator]();
    const rows: WireRow[] = [...((await iterator.next()).value as WireRow[])];
    const runaway = open(RUNAWAY, { seconds: 0.5 }).then(read);
    // Waits behind the runaway, and is opened again where it was.
    const second = iterator.next();
    await expect(runaway).rejects.toThrow(StatementEnded);
    rows.push(...((await second).value as WireRow[]));
    for (let next = await iterator.next(); !next.done; next = await iterator.next())
      rows.push(...(next.value as WireRow[]));
    expect(rows.map(([id]) => id)).toEqual(Array.from({ length: 9000 }, (_, i) => i + 1));
  });

  it('ends what nobody waits for any more, at once', async () => {
    const abort = new AbortController();
    const started = performance.now();
    const asked = open(RUNAWAY, { signal: abort.signal }).then(read);
    setTimeout(() => abort.abort(), 100);
    await expect(asked).rejects.toThrow('cancelled');
    expect(performance.now() - started).toBeLessThan(5000);
    const late = new AbortController();
    late.abort();
    await expect(open('select 1', { signal: late.signal }).then(read)).rejects.toThrow('cancelled');
    expect(await read(await open('select 1'))).toEqual([[1]]);
  });

  it('lets those go at once who wait behind others and want it no more', async () => {
    const abort = new AbortController();
    const running = new AbortController();
    const runaway = open(RUNAWAY, { signal: running.signal }).then(read);
    const behind = open('select 1', { signal: abort.signal }).then(read);
    abort.abort();
    await expect(behind).rejects.toThrow('cancelled');
    running.abort();
    await expect(runaway).rejects.toThrow('cancelled');
  });

  it('starts anew when its thread died while it had nothing to do', async () => {
    const thread = new EmbeddedThread(null);
    const ask = () => thread.run({ kind: 'query', text: 'select 1 as one', values: [] }, { seconds: 60 });
    const first = await ask();
    const worker = await (thread as unknown as { worker: Promise<Worker> }).worker;
    // Two of them: the second would end the process if nobody listened any more.
    worker.emit('error', new Error('out of memory'));
    worker.emit('error', new Error('out of memory'));
    await worker.terminate();
    const started = performance.now();
    expect(await ask()).toEqual(first);
    expect(performance.now() - started).toBeLessThan(30_000);
    await thread.close();
    await expect(ask()).rejects.toThrow('closed');
  });

  it('that is kept ready is there before it is asked, also after it was ended', async () => {
    const thread = new EmbeddedThread(null);
    const idle = async (): Promise<number> => {
      const worker = await (thread as unknown as { worker: Promise<Worker> | null }).worker;
      return worker?.threadId ?? -1;
    };
    thread.keepReady();
    const first = await idle();
    expect(first).toBeGreaterThan(0);
    const runaway = thread.run({ kind: 'exec', text: RUNAWAY }, { seconds: 0.3 });
    await expect(runaway).rejects.toThrow(StatementEnded);
    await expect.poll(idle, { timeout: 60_000 }).toBeGreaterThan(first);
    await thread.close();
  });

  it('says what is wrong with its data', async () => {
    const broken = embeddedConnection({ data: { file: '/no/such/file.tar.gz' } });
    const [stream] = await broken.open([{ text: 'select 1', values: [] }]);
    await expect(read(stream!)).rejects.toThrow('no such file');
    await broken.close?.();
  });
});
