import type { PGlite } from '@electric-sql/pglite';
import { planReport, problemText, readDefinition, type WireRow } from '@gaveta/core/internal';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Connection } from '../connection/connection.ts';
import { pgliteConnection } from '../connection/pglite.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { modelOf, number, table, text } from '../model/fields.test-support.ts';
import { openRows } from '../rows/row-source.ts';

const hut = table('Hut', { id: number, name: text, old: text });
const works = modelOf('works', 'main', { hut, stay: table('Stay', { id: number, hut_id: number, nights: number }) });

let database: PGlite;
beforeAll(async () => {
  database = await openBlank();
  // The table has lost a column since its model was made.
  await database.exec(`create table hut (id int primary key, name text); create table stay (id int primary key, hut_id int, nights int);
    insert into hut values (1, 'Brecha'), (2, 'Longa'); insert into stay values (1, 1, 5), (2, 2, 7), (3, 2, 1);`);
});
afterAll(() => database.close());

const take = (entity: string): object => ({ step: 'take', from: { model: 'works', entity } });

/** The rows of a report over a recipe that shows the fields named. */
const rowsOf = async (steps: object[], ...shown: string[]): Promise<WireRow[]> => {
  const items = shown.map((formula, i) => ({ kind: 'field', id: `f${i}`, x: 0, y: 0, width: 60, height: 5, formula }));
  const read = readDefinition({
    gaveta: 2,
    name: 'r',
    queries: [{ name: 'rows', steps }],
    body: [{ id: 'b', name: 'b', rows: { entity: 'rows' }, detail: { height: 5, items } }],
  });
  if (!read.ok) throw new Error(read.problems.map(problemText).join(' '));
  const plan = planReport(read.report, { models: [works.model], report: () => null, rowsFromDatabase: true });
  expect(plan.problems).toEqual([]);
  const rows = await openRows(plan, {
    models: new Map([['works', works]]),
    connections: new Map<string, Connection>([['main', pgliteConnection(database)]]),
    claims: {},
    parameters: {},
    maxRows: 1000,
  });
  const found: WireRow[] = [];
  for await (const batch of rows.source(plan.levels[0]!)) found.push(...batch);
  await rows.close();
  return found;
};

describe('a column that is gone from a database', () => {
  it('keeps no report from its rows that needs it nowhere, also where others are brought in by it', async () => {
    const huts = await rowsOf([take('hut'), { step: 'sort', by: [{ field: 'name' }] }], 'name');
    expect(huts.map((row) => row.includes('Brecha') || row.includes('Longa'))).toEqual([true, true]);
    const on = [{ here: 'hut_id', there: 'id' }];
    const from = { model: 'works', entity: 'hut' };
    const brought = [take('stay'), { step: 'bring', from, on, keep: 'matching', as: 'hut' }];
    const stays = await rowsOf([...brought, { step: 'sort', by: [{ field: 'nights' }] }], 'hut_name', 'nights');
    expect(stays.map((row) => row.filter((cell) => typeof cell === 'string' && /[a-z]/i.test(cell)))).toEqual([
      ['Longa'],
      ['Brecha'],
      ['Longa'],
    ]);
  });

  it('is told of by its name where something needs it', async () => {
    for (const [steps, shown] of [
      [[take('hut')], 'old'],
      [[take('hut'), { step: 'keep', where: { formula: 'old <> "x"' } }], 'name'],
      [[take('hut'), { step: 'distinct' }], 'name'],
    ] as const)
      await expect(rowsOf([...steps], shown)).rejects.toThrow('column t.old does not exist');
  });
});
