import { afterAll, beforeAll, expect, it } from 'vitest';
import { z } from 'zod';
import { CALLS, type EveryRoute, LONGER, openEveryRoute, reportOver } from './every-route.test-support.ts';

let routes: EveryRoute;
beforeAll(async () => {
  routes = await openEveryRoute({ previewSeconds: 2, maxSeconds: 2 });
}, 120_000);
afterAll(() => routes?.close());

const CALLS_MADE = 1000 * LONGER;

/** A small generator of the same numbers each time. */
const numbers = (seed: number): (() => number) => {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2 ** 32;
  };
};
const random = numbers(13);
const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;

const HOSTILE: readonly unknown[] = [
  null,
  true,
  0,
  -1,
  1e308,
  -1e-308,
  2 ** 31,
  2 ** 53,
  1.5,
  '',
  ' ',
  'a',
  '\u0000',
  '\ud800',
  '__proto__',
  'constructor',
  'toString',
  '../..',
  '%',
  "'; drop table hut; --",
  '{{{',
  '=1+',
  'hut',
  'own',
  'id',
  'name',
  'beds',
  '9'.repeat(400),
  'é'.repeat(200),
  '2025-02-30',
  [],
  {},
  [[[[[]]]]],
  [null],
  { toString: 1 },
  { __proto__: null, a: 1 },
  '1e999',
  'SUM(SUM(id))',
  'SWITCH(id;1;2)',
  '😀',
  'text/plain',
];

const words = (value: unknown): string => (typeof value === 'object' ? JSON.stringify(value) : String(value));

type Schema = { [key: string]: unknown };

/** Something that a JSON Schema describes, now and then with something hostile in it. */
const valueFor = (schema: Schema, root: Schema, depth: number): unknown => {
  if (random() < 0.06 || depth > 7) return pick(HOSTILE);
  const {
    $ref,
    anyOf,
    oneOf,
    allOf,
    type,
    properties,
    required,
    items,
    const: fixed,
  } = schema as Record<string, never>;
  if ($ref) return valueFor(at(root, String($ref)), root, depth + 1);
  const choices = (anyOf ?? oneOf ?? allOf) as Schema[] | undefined;
  if (choices) return valueFor(pick(choices), root, depth + 1);
  if (fixed !== undefined) return fixed;
  if (Array.isArray(schema.enum)) return pick(schema.enum as unknown[]);
  switch (type as unknown) {
    case 'object': {
      const made: Record<string, unknown> = {};
      for (const [name, inner] of Object.entries((properties ?? {}) as Record<string, Schema>)) {
        const isNeeded = ((required ?? []) as string[]).includes(name);
        if (random() < (isNeeded ? 0.97 : 0.3)) made[name] = valueFor(inner, root, depth + 1);
      }
      if (schema.additionalProperties && random() < 0.5) made[words(pick(HOSTILE))] = pick(HOSTILE);
      return made;
    }
    case 'array':
      return Array.from({ length: Math.floor(random() * 3) + (random() < 0.5 ? 1 : 0) }, () =>
        valueFor(items ?? {}, root, depth + 1),
      );
    case 'string':
      return random() < 0.6
        ? pick(['hut', 'own', 'thread', 'host', 'id', 'name', 'beds', 'a', 'x1', 'name = "x"', 'select id from hut'])
        : pick(HOSTILE);
    case 'number':
    case 'integer':
      return random() < 0.7 ? Math.floor(random() * 50) : pick(HOSTILE);
    case 'boolean':
      return random() < 0.5;
    default:
      return pick(HOSTILE);
  }
};

const at = (root: Schema, ref: string): Schema =>
  ref
    .replace(/^#\/?/, '')
    .split('/')
    .filter(Boolean)
    .reduce<Schema>((value, key) => (value[key] ?? {}) as Schema, root);

const schemas = new Map(
  Object.entries(CALLS).flatMap(([call, schema]) =>
    schema ? [[call, z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }) as Schema] as const] : [],
  ),
);

/** A definition that is nearly right: one of its parts is replaced by something hostile. */
const nearlyRight = (): unknown => {
  const definition = JSON.parse(JSON.stringify(reportOver(pick(['own', 'thread', 'host'])))) as Record<string, unknown>;
  let place: Record<string, unknown> = definition;
  for (let depth = 0; depth < 5; depth++) {
    const key = pick(Object.keys(place));
    const inner = place[key];
    if (typeof inner === 'object' && inner !== null && random() < 0.8 && Object.keys(inner).length > 0)
      place = inner as Record<string, unknown>;
    else {
      place[key] = pick(HOSTILE);
      break;
    }
  }
  return definition;
};

const bodyFor = (call: string): unknown => {
  const schema = schemas.get(call);
  if (!schema) return random() < 0.1 ? pick(HOSTILE) : undefined;
  const body = valueFor(schema, schema, 0);
  if (typeof body === 'object' && body !== null && 'definition' in body && random() < 0.7)
    (body as Record<string, unknown>).definition = nearlyRight();
  return body;
};

const HEADERS: readonly Record<string, string>[] = [
  ...Array.from({ length: 12 }, () => ({ 'Content-Type': 'application/json' })),
  { 'Content-Type': 'application/json; charset=latin9' },
  { 'Content-Type': 'application/json', 'Content-Encoding': 'gzip' },
  { 'Content-Type': 'text/xml' },
  { 'Content-Type': 'application/json', 'Accept-Language': '%%%' },
];

const pathFor = (path: string): string =>
  path.replace(/:\w+/g, () => {
    const value = pick([
      '1',
      'hut',
      'x',
      '%',
      '%00',
      '%ff',
      encodeURIComponent(
        words(pick(HOSTILE))
          .slice(0, 100)
          .replace(/[\ud800-\udfff]/g, ''),
      ),
    ]);
    return value === '' ? 'x' : value;
  }) + pick(['', '', '', '?from=-1&count=1e9', '?language=__proto__', '?name=%27', '?problems=allow', '?savedAt=x']);

it(`${CALLS_MADE} wrong calls over all routes are all answered as wrong, and the server goes on`, async () => {
  const statuses = new Map<number, number>();
  const failures: string[] = [];
  const made = Array.from({ length: CALLS_MADE }, () => {
    const call = pick(Object.keys(CALLS));
    const [method = '', path = ''] = call.split(' ');
    const body = bodyFor(call);
    const hasBody = body !== undefined && method !== 'GET';
    return {
      method,
      path: pathFor(path),
      headers: { ...routes.bearer, ...(hasBody ? pick(HEADERS) : {}) },
      ...(hasBody ? { body: random() < 0.02 ? '{"cut' : JSON.stringify(body) } : {}),
    };
  });
  let next = 0;
  const caller = async (): Promise<void> => {
    for (let call = made[next++]; call; call = made[next++]) {
      const { path, ...init } = call;
      const answer = await fetch(`${routes.base}${path}`, { ...init, signal: AbortSignal.timeout(90_000) });
      const text = await (answer.headers.get('content-type')?.includes('event-stream') ? '' : answer.text());
      statuses.set(answer.status, (statuses.get(answer.status) ?? 0) + 1);
      if (answer.status >= 500 && !text.includes('"run-failed"'))
        failures.push(`${answer.status} ${init.method} ${path} ${'body' in init ? init.body : ''}`.slice(0, 1500));
    }
  };
  await Promise.all(Array.from({ length: 8 }, caller));
  expect(routes.logged.slice(0, 5)).toEqual([]);
  expect(failures.slice(0, 5)).toEqual([]);
  // Some of the calls are right, most are told what is wrong with them.
  expect(statuses.get(200) ?? 0).toBeGreaterThan(CALLS_MADE / 100);
  expect((statuses.get(400) ?? 0) + (statuses.get(422) ?? 0)).toBeGreaterThan(CALLS_MADE / 10);
}, 300_000);
