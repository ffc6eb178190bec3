import { mkdtempSync, readdirSync } from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { type EveryRoute, LONGER, openEveryRoute, reportOver } from './every-route.test-support.ts';

let routes: EveryRoute;
const escaped: unknown[] = [];
const note = (error: unknown): void => void escaped.push(error);

beforeAll(async () => {
  routes = await openEveryRoute({ runsAtOnce: 4, abandonSeconds: 1 });
  process.on('uncaughtException', note);
  process.on('unhandledRejection', note);
}, 120_000);
afterAll(async () => {
  process.off('uncaughtException', note);
  process.off('unhandledRejection', note);
  await routes?.close();
});

/** A call that is given up after so many milliseconds; resolves when the connection is gone. */
const closed = (method: string, path: string, body: object | null, after: number): Promise<void> =>
  new Promise((resolve) => {
    const call = request(`${routes.base}${path}`, {
      method,
      headers: { ...routes.bearer, ...(body ? { 'Content-Type': 'application/json' } : {}) },
    });
    call.on('response', (answer) => {
      answer.on('error', () => {}).resume();
    });
    call.on('error', () => {});
    call.on('close', () => resolve());
    call.end(body ? JSON.stringify(body) : undefined);
    setTimeout(() => call.destroy(), after);
  });

const take = (model: string, entity = 'hut') => ({ step: 'take', from: { model, entity } });
const SOURCES = [take('own'), take('thread'), take('host'), take('tariffs', 'tariffs')];
const OVER = [reportOver('own'), reportOver('thread'), reportOver('host'), reportOver('tariffs', 'tariffs')];
/** Rows of two sources, so that they are copied to the workbench. */
const together = (i: number): object[] => [
  SOURCES[i % 4]!,
  {
    step: 'bring',
    from: SOURCES[(i + 1) % 4]!.from,
    on: [{ here: 'name', there: 'name' }],
    keep: 'matching',
    as: 'other',
  },
];

/** A small generator of the same numbers each time. */
const numbers = (seed: number): (() => number) => {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
};

/** A folder for temporary files of one's own: other tests make some as well. */
const { TMPDIR } = process.env;
process.env.TMPDIR = mkdtempSync(join(tmpdir(), 'gaveta-closing-'));
afterAll(() => {
  if (TMPDIR === undefined) delete process.env.TMPDIR;
  else process.env.TMPDIR = TMPDIR;
});
const temporary = (): string[] => readdirSync(tmpdir()).filter((name) => /^gaveta-(run|upload)-/.test(name));

it('calls that are given up at any moment end nothing, and leave nothing behind', async () => {
  const random = numbers(20_261_127);
  const before = temporary();
  // Everything is warm, so that calls are given up in the middle of their work and not before it.
  for (const [i] of SOURCES.entries()) await closed('POST', '/recipe/rows', { steps: together(i) }, 20_000);
  const run = await (
    await fetch(`${routes.base}/runs`, {
      method: 'POST',
      headers: { ...routes.bearer, 'Content-Type': 'application/json' },
      body: JSON.stringify({ definition: reportOver('own'), keep: true }),
    })
  ).json();
  const { id } = run as { id: string };
  const calls: ((i: number) => [string, string, object | null])[] = [
    (i) => ['POST', '/recipe/rows', { steps: together(i) }],
    (i) => ['POST', '/recipe/count', { steps: together(i) }],
    (i) => ['POST', '/recipe/facts', { steps: [SOURCES[i % 4]] }],
    (i) => ['POST', '/recipe/values', { steps: [SOURCES[i % 4]], field: 'name' }],
    (i) => [
      'POST',
      '/recipe/fit',
      { steps: [SOURCES[i % 4]], there: [SOURCES[(i + 1) % 4]], on: [{ here: 'name', there: 'name' }] },
    ],
    (i) => [
      'POST',
      '/design-rows',
      {
        definition: OVER[i % 4],
      },
    ],
    (i) => ['POST', '/runs', { definition: reportOver(['own', 'thread', 'host'][i % 3]!) }],
    () => ['GET', `/runs/${id}/events`, null],
    () => ['GET', `/runs/${id}/files/pdf`, null],
    () => ['GET', `/runs/${id}/pages?from=1&count=20`, null],
    () => ['POST', '/sql/describe', { model: 'thread', text: 'select count(*) from hut a, hut b' }],
    () => ['GET', '/models', null],
    () => ['GET', '/reports', null],
    () => ['GET', '/recipes', null],
    () => ['POST', '/check', { definition: reportOver('own') }],
    (i) => ['PUT', `/drafts/x${i % 5}`, { definition: reportOver('own'), report: null, base: 0 }],
  ];
  const total = 250 * LONGER;
  let next = 0;
  const caller = async (): Promise<void> => {
    for (let i = next++; i < total; i = next++) {
      const [method, path, body] = calls[Math.floor(random() * calls.length)]!(i);
      await closed(method, path, body, random() * random() * 120);
    }
  };
  await Promise.all(Array.from({ length: 8 }, caller));
  expect(escaped).toEqual([]);
  expect(routes.logged).toEqual([]);
  // The server goes on, and what was begun comes to its end.
  const answer = await fetch(`${routes.base}/recipe/count`, {
    method: 'POST',
    headers: { ...routes.bearer, 'Content-Type': 'application/json' },
    body: JSON.stringify({ steps: [SOURCES[0]] }),
  });
  expect(await answer.json()).toMatchObject({ found: { count: 2999 } });
  await expect
    .poll(async () => new Promise((resolve) => routes.server.getConnections((_, count) => resolve(count))), {
      timeout: 60_000,
    })
    .toBeLessThanOrEqual(1);
  // A file has a name for as long as it takes to open it.
  await expect.poll(temporary, { timeout: 60_000 }).toEqual(before);
}, 240_000);
