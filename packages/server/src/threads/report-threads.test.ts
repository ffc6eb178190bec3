import { monitorEventLoopDelay } from 'node:perf_hooks';
import { problemText, type Report, readDefinition } from '@gaveta/core/internal';
import { afterAll, afterEach, describe, expect, it } from 'vitest';
import type { Claims } from '../access/claims.ts';
import { LIMITS } from '../base/limits.ts';
import type { RowsConnection } from '../connection/connection.ts';
import type { RowScope } from '../model/define.ts';
import { modelOf, number, table, text } from '../model/fields.test-support.ts';
import { streamConnection } from '../sources/stream.ts';
import { openBench } from '../staging/bench.test-support.ts';
import { jobOf } from './job.test-support.ts';
import type { ReportJob, RunCalls } from './job.ts';
import { ReportThreads } from './report-threads.ts';
import type { ReportRows } from './row-server.ts';
import { TookTooLong, TookTooMuch } from './thread-pool.ts';

const scope = ({ from }: Claims): RowScope => {
  if (from === undefined) throw new Error('the host has no place for this caller');
  return { keep: 'id >= CLAIM("from")' };
};
const model = modelOf('host', 'host', { call: table('Call', { id: number, note: text }, { scope }) });

const item = (id: string, formula: string): object => ({
  kind: 'field',
  id,
  x: 0,
  y: 0,
  width: 20,
  height: 5,
  formula,
});

const reportOf = (body: object): Report => {
  const read = readDefinition({
    gaveta: 2,
    name: 'Calls',
    model: 'host',
    body: [{ id: 'c', name: 'call', rows: { entity: 'call' }, ...body }],
  });
  if (!read.ok) throw new Error(read.problems.map(problemText).join(' '));
  return read.report;
};
const short = reportOf({ detail: { height: 5, items: [item('f', 'id')] } });

const from = (first: number): Pick<ReportJob, 'claims'> => ({ claims: { from: first } });

const workbench = openBench();
const rowsOf = (connection: RowsConnection): ReportRows => ({
  models: new Map([['host', model]]),
  modelsKey: 'host',
  connections: new Map([['host', connection]]),
  workbench: () => workbench,
});
const few = (): ReportRows =>
  rowsOf(
    streamConnection({
      *call() {
        for (let id = 1; id <= 4; id++) yield { id, note: `call ${id}` };
      },
    }),
  );

const limits = { maxPages: 1000, maxSeconds: 60, keepRowBytes: 1e6, layout: LIMITS };
const never = new AbortController().signal;
const deaf: RunCalls = {
  planned: async () => {},
  pages: async () => {},
  progress: async () => {},
  keep: async () => true,
  broke: async () => {},
  keptAll: async () => true,
  kept: async () => null,
  reuse: async () => {},
  traceBefore: async () => null,
  trace: async () => {},
};

let threads = new ReportThreads(LIMITS);
afterEach(async () => {
  await threads.close();
  threads = new ReportThreads(LIMITS);
});
afterAll(async () => {
  await threads.close();
  await workbench.close();
});
const run = (job: ReportJob, rows: ReportRows, signal = never, seconds = 60) =>
  threads.work({ kind: 'run', limits, form: 'pages', again: null }, { job, rows, signal, seconds }, deaf);

/** How many tables of runs the workbench holds. */
const tablesLeft = async (): Promise<number> => {
  const [stream] = await workbench.connection.open([
    { text: `select count(*)::int from pg_class where relname like 'stage%' and relkind = 'r'`, values: [] },
  ]);
  let count = -1;
  for await (const batch of stream!) count = Number(batch[0]![0]);
  return count;
};

describe('a report in a thread of its own', () => {
  it('gives the rows that its caller may see, by claims and scopes that stay where the host is', async () => {
    expect((await run(jobOf(short, from(1)), few())).rows).toBe(4);
    expect((await run(jobOf(short, from(3)), few())).rows).toBe(2);
    await expect(run(jobOf(short), few())).rejects.toThrow('the host has no place for this caller');
    expect(await tablesLeft()).toBe(0);
  });

  it('holds up nobody while it is planned and laid out', async () => {
    const items = (id: string): object[] =>
      Array.from({ length: 1000 }, (_, i) => item(`${id}${i}`, `ROUND(SUM(id) + COUNT(id) * ${i}; 2)`));
    const heavy = reportOf({ detail: { height: 5, items: items('d') }, footer: { height: 5, items: items('f') } });
    await run(jobOf(short, from(1)), few());
    const delay = monitorEventLoopDelay({ resolution: 5 });
    delay.enable();
    const started = performance.now();
    const problems = await threads.work(
      { kind: 'check' },
      { job: jobOf(heavy, from(1)), rows: few(), signal: never, seconds: 60 },
    );
    await run(jobOf(heavy, from(1)), few());
    const took = performance.now() - started;
    delay.disable();
    expect(problems).toHaveLength(0);
    // It took long enough to be noticed, and nobody noticed it here.
    expect(took).toBeGreaterThan(500);
    expect(delay.max / 1e6).toBeLessThan(took / 4);
  });

  it('is ended with its thread when it takes too long; others go on', async () => {
    let reads = 0;
    const stuck = rowsOf({
      kind: 'rows',
      // Hears no signal.
      async *read() {
        reads++;
        await new Promise(() => {});
        yield [];
      },
    });
    await run(jobOf(short, from(1)), few());
    const late = run(jobOf(short, from(1)), stuck, never, 2);
    const other = run(jobOf(short, from(1)), few());
    await expect(late).rejects.toThrow(TookTooLong);
    expect((await other).rows).toBe(4);
    expect(reads).toBe(1);
    await expect.poll(tablesLeft, { timeout: 10_000 }).toBe(0);
  });

  it('is ended with its thread when it takes too much memory; others go on', async () => {
    await threads.close();
    threads = new ReportThreads({ ...LIMITS, reportMemory: 48 });
    const large = rowsOf(
      streamConnection({
        *call() {
          for (let id = 1; id <= 30_000; id++) yield { id, note: `${id} `.repeat(1500) };
        },
      }),
    );
    // Rows that are sorted by a formula of the engine's own are read ahead.
    const heavy = reportOf({
      detail: { height: 5, items: [item('f', 'note')] },
      sort: [{ by: 'LIST(id; "x")' }],
      footer: { height: 5, items: [item('l', 'LIST(note)')] },
    });
    await expect(run(jobOf(heavy, from(1)), large)).rejects.toThrow(TookTooMuch);
    expect((await run(jobOf(short, from(1)), few())).rows).toBe(4);
    await expect.poll(tablesLeft, { timeout: 10_000 }).toBe(0);
  }, 120_000);

  it('ends at once when nobody waits for it any more', async () => {
    const abort = new AbortController();
    const endless = rowsOf(
      streamConnection({
        async *call({ signal }) {
          for (let id = 1; !signal.aborted; id++) yield { id, note: 'x' };
        },
      }),
    );
    const running = run(jobOf(short, { ...from(1), maxStaged: 1e9, maxRows: 1e9 }), endless, abort.signal);
    setTimeout(() => abort.abort(new Error('gone')), 300);
    await expect(running).rejects.toThrow('gone');
    await expect.poll(tablesLeft, { timeout: 10_000 }).toBe(0);
  });
});
