import type { PGlite } from '@electric-sql/pglite';
import { problemText } from '@gaveta/core';
import fc from 'fast-check';
import { beforeAll, expect, it } from 'vitest';
import { definition, demoDatabase, lines, runOver } from './run.test-support.ts';

let database: PGlite;
beforeAll(async () => {
  database = await demoDatabase();
});

const idsOf = async (filter: string): Promise<{ ids: string[]; local: boolean }> => {
  const report = definition({
    parameters: [
      { name: 'day', label: 'Day', type: 'date', default: '2025-07-01' },
      { name: 'none', label: 'None', type: 'number' },
    ],
    body: [
      {
        id: 'w',
        name: 'warden',
        rows: { entity: 'warden' },
        filter,
        detail: lines('n', 'name & from_date & to_date'),
      },
    ],
  });
  const { plan, result, texts } = await runOver(database, report);
  expect([...plan.problems, ...result.problems].map(problemText)).toEqual([]);
  return { ids: texts, local: plan.roots[0]!.level.localFilter !== null };
};

const number = fc.constantFrom(
  'hut_id',
  'hut.beds',
  'hut.altitude',
  '0',
  '12',
  '24.5',
  'none',
  'YEAR(from_date)',
  'DAYS(to_date; from_date)',
  'ABS(hut_id - 9)',
);
const date = fc.constantFrom('from_date', 'to_date', 'day', 'DATE(2020; 14; -3)', 'DATE(none + 2020; 1; 1)');
const text = fc.constantFrom(
  'name',
  'hut.name',
  'hut.region.name',
  '"Alto Norte"',
  '""',
  'UPPER(name)',
  'LOWER(hut.region.office)',
);
const operator = fc.constantFrom('=', '<>', '<', '>', '<=', '>=');
const compare = (side: fc.Arbitrary<string>): fc.Arbitrary<string> =>
  fc.tuple(side, operator, side).map(([a, o, b]) => `${a} ${o} ${b}`);
const arithmetic = fc.tuple(number, fc.constantFrom('+', '-', '*'), number).map(([a, o, b]) => `(${a} ${o} ${b})`);
const { condition } = fc.letrec<{ condition: string }>((tie) => ({
  condition: fc.oneof(
    { depthSize: 'small' },
    compare(fc.oneof(number, arithmetic)),
    compare(date),
    compare(text),
    fc.constantFrom('ISBLANK(to_date)', 'ISBLANK(none)', 'TRUE()'),
    fc.tuple(fc.constantFrom('AND', 'OR'), tie('condition'), tie('condition')).map(([f, a, b]) => `${f}(${a}; ${b})`),
    tie('condition').map((c) => `NOT(${c})`),
  ),
}));

it('a filter keeps the same rows in the database as on fetched rows, whatever it says', async () => {
  await fc.assert(
    fc.asyncProperty(condition, async (filter) => {
      const pushed = await idsOf(filter);
      // IF does not go into the database, so this runs on fetched rows.
      const fetched = await idsOf(`IF(${filter}; TRUE(); FALSE())`);
      expect([pushed.local, fetched.local]).toEqual([false, true]);
      expect(pushed.ids).toEqual(fetched.ids);
    }),
    { numRuns: 150, seed: 20_260_701 },
  );
});
