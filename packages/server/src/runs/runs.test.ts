import { readdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { problemText, type Report, readDefinition } from '@gaveta/core/internal';
import { afterAll, afterEach, expect, it } from 'vitest';
import { LIMITS } from '../base/limits.ts';
import { modelOf, number, table } from '../model/fields.test-support.ts';
import { streamConnection } from '../sources/stream.ts';
import { openBench } from '../staging/bench.test-support.ts';
import { jobOf } from '../threads/job.test-support.ts';
import { ReportThreads } from '../threads/report-threads.ts';
import { type RunRequest, Runs, type RunsLimits } from './runs.ts';

const model = modelOf('host', 'host', { call: table('Call', { id: number }) });

const read = readDefinition({
  gaveta: 2,
  name: 'Calls',
  model: 'host',
  body: [
    {
      id: 'c',
      name: 'call',
      rows: { entity: 'call' },
      detail: { height: 5, items: [{ kind: 'field', id: 'f', x: 0, y: 0, width: 20, height: 5, formula: 'id' }] },
    },
  ],
});
if (!read.ok) throw new Error(read.problems.map(problemText).join(' '));
const report: Report = read.report;

let made: Runs | null = null;
const unexpected: unknown[] = [];
const workbench = openBench();
const threads = new ReportThreads(LIMITS);
afterEach(async () => {
  await made?.close();
  made = null;
});
afterAll(async () => {
  await threads.close();
  await workbench.close();
});
const runsWith = (limits: Partial<RunsLimits>): Runs => {
  made = new Runs(threads, { ...LIMITS, layout: LIMITS, ...limits }, (error) => {
    unexpected.push(error);
    return 'something went wrong';
  });
  return made;
};

const broken = (): never => {
  throw new Error('could not reach postgres://ines:secret-password@db');
};

/** Rows that come when they are let go. */
const held = () => {
  let letGo = (): void => {};
  const gate = new Promise<void>((resolve) => {
    letGo = resolve;
  });
  const reads = { count: 0 };
  const connection = streamConnection({
    async *call({ signal }) {
      reads.count++;
      await Promise.race([gate, new Promise((resolve) => signal.addEventListener('abort', resolve, { once: true }))]);
      signal.throwIfAborted();
      yield { id: 1 };
    },
  });
  return { connection, letGo, reads };
};

const asking = (owner: string, connection: ReturnType<typeof held>['connection'], more: Partial<RunRequest> = {}) => {
  const request: RunRequest = {
    job: jobOf(report),
    report,
    rows: {
      models: new Map([['host', model]]),
      modelsKey: 'host',
      connections: new Map([['host', connection]]),
      workbench: () => workbench,
    },
    owner,
    user: owner,
    sameAs: null,
    keep: false,
    form: 'pages',
    stored: null,
    asMade: report,
    isSignedIn: false,
    ...more,
  };
  return request;
};

it('each person has so many at once, so many more wait, and a further one is refused', async () => {
  const { connection, letGo } = held();
  const runs = runsWith({ runsEach: 2, runsAtOnce: 3, runsWaiting: 1 });
  const ines = [1, 2, 3].map(() => runs.start(asking('inês', connection))!);
  expect(ines.map((run) => run.state.status)).toEqual(['running', 'running', 'waiting']);
  expect(runs.start(asking('inês', connection))).toBeNull();
  const rui = [1, 2].map(() => runs.start(asking('rui', connection))!);
  expect(rui.map((run) => run.state.status)).toEqual(['running', 'waiting']);
  rui[1]!.cancel();
  expect((await rui[1]!.finished()).status).toBe('cancelled');
  letGo();
  for (const run of [...ines, rui[0]!])
    expect(await run.finished()).toMatchObject({ status: 'done', pages: 1, rows: 1 });
});

it('the same asked for by several at once is made once, and goes on while one of them wants it', async () => {
  const { connection, letGo, reads } = held();
  const runs = runsWith({});
  const first = runs.start(asking('inês', connection, { sameAs: 'calls' }))!;
  const second = runs.start(asking('rui', connection, { sameAs: 'calls' }))!;
  expect(second).toBe(first);
  await runs.cancel(first, 'inês');
  expect(runs.get(first.id, 'inês')).toBeNull();
  letGo();
  expect(await second.finished()).toMatchObject({ status: 'done' });
  expect(reads.count).toBe(1);
  expect(runs.get(first.id, 'rui')).toBe(first);
  expect(runs.start(asking('rui', connection, { sameAs: 'calls' }))).not.toBe(first);
});

it('what nobody follows any more is ended, unless it is to be kept', async () => {
  const { connection, letGo } = held();
  const runs = runsWith({ abandonSeconds: 0.1 });
  const [left, kept, followed] = [false, true, false].map((keep) => runs.start(asking('inês', connection, { keep }))!);
  const done = followed!.hold();
  expect((await left!.finished()).status).toBe('cancelled');
  expect([kept!.state.status, followed!.state.status]).toEqual(['running', 'running']);
  letGo();
  await Promise.all([kept!.finished(), followed!.finished()]);
  done();
});

it('ended runs are let go by person, never while somebody reads them', async () => {
  const { connection, letGo } = held();
  letGo();
  const runs = runsWith({ keepRuns: 2, runsEach: 1 });
  const rui = runs.start(asking('rui', connection))!;
  const ines = [1, 2, 3, 4].map(() => runs.start(asking('inês', connection))!);
  for (const run of [rui, ...ines]) await run.finished();
  const reading = ines[0]!.hold();
  await expect.poll(() => runs.get(ines[1]!.id, 'inês'), { timeout: 10_000 }).toBeNull();
  expect(runs.get(rui.id, 'rui')).toBe(rui);
  expect(String(await ines[0]!.page(1))).toContain('"number":1');
  reading();
});

it('nothing of their pages stays behind in files that have a name', async () => {
  const { connection, letGo } = held();
  letGo();
  const named = (): string[] => readdirSync(tmpdir()).filter((name) => name.startsWith('gaveta-run-'));
  const before = new Set(named());
  const run = runsWith({}).start(asking('inês', connection))!;
  await run.finished();
  expect(String(await run.page(1))).toContain('"kind":"text"');
  // Other tests open files of their own meanwhile, which have a name for a moment.
  const made = named().filter((name) => !before.has(name));
  await expect.poll(() => named().filter((name) => made.includes(name))).toEqual([]);
});

it('what nobody expected is told to the log, and to whoever runs it without a word of it', async () => {
  const request = asking('inês', held().connection);
  const wrong = { ...model, tables: new Map([...model.tables].map(([name, t]) => [name, { ...t, scope: broken }])) };
  const run = runsWith({}).start({ ...request, rows: { ...request.rows, models: new Map([['host', wrong]]) } })!;
  expect(await run.finished()).toMatchObject({ status: 'failed', detail: 'something went wrong' });
  expect(String(unexpected.at(-1))).toContain('secret-password');
});
