import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { planReport, readDefinition } from '@gaveta/core/internal';
import { afterAll, expect, it } from 'vitest';
import { pgliteConnection } from '../connection/pglite.ts';
import { defineModel } from '../model/define.ts';
import { demoDatabase, gavetaOver } from '../services/huts.test-support.ts';
import { streamConnection } from '../sources/stream.ts';

const id = { label: 'Id', type: 'number' } as const;
const text = (label: string) => ({ label, type: 'text' }) as const;

/** Huts and regions whose tables know nothing of each other, as many databases have them. */
const plain = (connection: string) =>
  defineModel({
    name: connection,
    label: 'Huts',
    connection,
    entities: {
      region: {
        label: 'Region',
        plural: 'Regions',
        key: 'id',
        fields: { id, name: text('Name'), office: text('Office') },
      },
      hut: { label: 'Hut', plural: 'Huts', key: 'id', fields: { id, region_id: id, name: text('Name') } },
    },
  });

const folder = mkdtempSync(join(tmpdir(), 'gaveta-looked-up-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const report = (model: string, more: object = {}): object => ({
  gaveta: 2,
  name: 'Huts',
  model,
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      sort: [{ by: 'VALUEOF(region.name; region_id)' }, { by: 'name' }],
      detail: {
        height: 5,
        items: ['name', 'VALUEOF(region.name; region_id)', 'VALUEOF(region.office; hut.region_id)'].map(
          (formula, i) => ({
            ...{ kind: 'field', id: `f${i}`, formula, x: i * 50, y: 0, width: 50, height: 5 },
          }),
        ),
      },
      ...more,
    },
  ],
});

it('a value is looked up in another table with the rows, in a database and in rows that the host gives', async () => {
  const database = await demoDatabase();
  const { rows } = await database.query<Record<string, string>>(
    'select h.name, r.name as region, r.office from hut h join region r on r.id = h.region_id order by r.name collate "unicode", h.name collate "unicode"',
  );
  const expected = rows.map(({ name, region, office }) => [name, region, office]);
  const given = {
    hut: (await database.query<object>('select id, region_id, name from hut')).rows,
    region: (await database.query<object>('select id, name, office from region')).rows,
  };
  const gaveta = await gavetaOver(database, {
    models: [plain('plain'), plain('given')],
    connections: {
      plain: pgliteConnection(database),
      given: streamConnection({
        async *hut() {
          yield* given.hut as never[];
        },
        async *region() {
          yield* given.region as never[];
        },
      }),
    },
  });
  for (const model of ['plain', 'given']) {
    const to = join(folder, `${model}.csv`);
    await gaveta.render(report(model) as never, { format: 'csv', to, user: 'office', claims: {} });
    const [, ...lines] = readFileSync(to, 'utf8').trim().split(/\r?\n/);
    expect(
      lines.map((line) => line.split(',')),
      model,
    ).toEqual(expected);
  }
  await gaveta.close();
});

it('what cannot be looked up is told with what is missing', () => {
  const problems = (by: string): string[] => {
    const read = readDefinition(report('plain', { sort: [{ by }] }));
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    const models = [plain('plain').model];
    return planReport(read.report, { models, report: () => null, rowsFromDatabase: true }).problems.map(
      ({ code }) => code,
    );
  };
  expect(problems('VALUEOF(region.name; region_id)')).toEqual([]);
  expect(problems('VALUEOF(regions.name; region_id)')).toEqual(['unknown-entity']);
  expect(problems('VALUEOF(region.height; region_id)')).toEqual(['unknown-name']);
  expect(problems('VALUEOF(region.name; name)')).toEqual(['wrong-type']);
  expect(problems('VALUEOF(region.name; region_id + 1)')).toEqual(['wrong-type']);
  expect(problems('VALUEOF("region"; region_id)')).toEqual(['wrong-type']);
  expect(problems('VALUEOF(region.name)')).toEqual(['wrong-arguments']);
});
