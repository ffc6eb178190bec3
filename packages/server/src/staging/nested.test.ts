import type { PGlite } from '@electric-sql/pglite';
import {
  type Page,
  planReport,
  problemText,
  type Report,
  readDefinition,
  runReport,
  type TextMark,
} from '@gaveta/core/internal';
import { loadShippedFonts } from '@gaveta/output';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Connection } from '../connection/connection.ts';
import { pgliteConnection } from '../connection/pglite.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { modelOf, number, table, text } from '../model/fields.test-support.ts';
import { openRows } from '../rows/row-source.ts';
import { streamConnection } from '../sources/stream.ts';
import { openBench } from './bench.test-support.ts';
import type { Workbench } from './workbench.ts';

const works = modelOf('works', 'main', {
  hut: table('Hut', { id: number, name: text }),
  stay: table('Stay', { id: number, hut_id: number, nights: number }),
});
const host = modelOf('host', 'host', { call: table('Call', { id: number, hut_id: number, words: text }) });

let database: PGlite;
let workbench: Workbench;
beforeAll(async () => {
  database = await openBlank();
  workbench = openBench();
  await database.exec(`create table hut (id int primary key, name text); create table stay (id int primary key, hut_id int, nights int);
    insert into hut values (1, 'Brecha'), (2, 'Longa'); insert into stay values (1, 1, 5), (2, 2, 7), (3, 2, 1);`);
});
afterAll(async () => {
  await workbench.close();
  await database.close();
});

const field = (formula: string, id = 'f') => ({ kind: 'field', id, x: 0, y: 0, width: 60, height: 5, formula });
const definition = (json: object): Report => {
  const read = readDefinition({ gaveta: 2, ...json });
  if (!read.ok) throw new Error(read.problems.map(problemText).join(' '));
  return read.report;
};
/** Huts, each with a nested report that gets the hut's number. */
const outer = definition({
  name: 'outer',
  model: 'works',
  body: [
    {
      id: 'o',
      name: 'hut',
      rows: { entity: 'hut' },
      sort: [{ by: 'name' }],
      detail: {
        height: 12,
        items: [
          field('name'),
          { kind: 'subreport', id: 's', x: 5, y: 6, width: 100, height: 5, report: 'inner', links: { hut: 'id' } },
        ],
      },
    },
  ],
});

const run = async (inner: object) => {
  const nested = definition({ name: 'inner', parameters: [{ name: 'hut', label: 'Hut', type: 'number' }], ...inner });
  const models = [works, host];
  const plan = planReport(outer, { models: models.map((m) => m.model), report: () => nested, rowsFromDatabase: true });
  expect(plan.problems).toEqual([]);
  const rows = await openRows(plan, {
    models: new Map(models.map((m) => [m.model.name, m])),
    connections: new Map<string, Connection>([
      ['main', pgliteConnection(database)],
      [
        'host',
        streamConnection({
          *call() {
            yield { id: 1, hut_id: 2, words: 'fog' };
            yield { id: 2, hut_id: 1, words: 'all well' };
          },
        }),
      ],
    ]),
    claims: {},
    parameters: {},
    maxRows: 1000,
    workbench: () => workbench,
  });
  const pages: Page[] = [];
  const result = await runReport({
    plan,
    book: await loadShippedFonts(),
    parameters: {},
    open: () => rows,
    onPage: (p) => void pages.push(p),
  });
  const texts = pages
    .flatMap((p) => p.marks)
    .filter((m): m is TextMark => m.kind === 'text')
    .map((m) => m.text);
  return { texts, problems: result.problems.map(problemText).join(' ') };
};

const body = (rows: string, formula: string, more = {}) => ({
  id: 'i',
  name: 'row',
  rows: { entity: rows },
  detail: { height: 5, items: [field(formula, 'g')] },
  ...more,
});

describe('a nested report whose query reads a value of the row around', () => {
  it('gets the rows for each of them, inside its recipe', async () => {
    const steps = [
      { step: 'take', from: { model: 'works', entity: 'stay' } },
      { step: 'keep', where: { field: 'hut_id', is: 'equal', to: { parameter: 'hut' } } },
      { step: 'summarise', by: [], totals: [{ total: 'SUM', of: 'nights', name: 'nights' }] },
    ];
    const { texts, problems } = await run({ queries: [{ name: 'sums', steps }], body: [body('sums', 'nights')] });
    expect([texts, problems]).toEqual([['Brecha', '5', 'Longa', '8'], '']);
  });
  it('gets them from a written statement', async () => {
    const steps = [
      {
        step: 'sql',
        model: 'works',
        text: 'select sum(nights) as nights from stay where hut_id = :hut',
        columns: [{ name: 'nights', type: 'number' }],
      },
    ];
    const { texts } = await run({ queries: [{ name: 'sums', steps }], body: [body('sums', 'nights')] });
    expect(texts).toEqual(['Brecha', '5', 'Longa', '8']);
  });
  it('gets them across sources, where a step of the recipe or the drawer keeps them', async () => {
    const take = { step: 'take', from: { model: 'host', entity: 'call' } };
    const keep = { step: 'keep', where: { field: 'hut_id', is: 'equal', to: { parameter: 'hut' } } };
    for (const inner of [
      { queries: [{ name: 'calls', steps: [take, keep] }], body: [body('calls', 'words')] },
      { queries: [{ name: 'calls', steps: [take] }], body: [body('calls', 'words', { filter: 'hut_id = hut' })] },
    ])
      expect((await run(inner)).texts).toEqual(['Brecha', 'all well', 'Longa', 'fog']);
  });
  it('is refused with words where its rows are copied before there is a row around', async () => {
    const written = {
      step: 'sql',
      model: 'works',
      text: 'select id, nights from stay where hut_id = :hut',
      columns: [
        { name: 'id', type: 'number' },
        { name: 'nights', type: 'number' },
      ],
    };
    const call = {
      step: 'bring',
      from: { model: 'host', entity: 'call' },
      on: [{ here: 'id', there: 'id' }],
      keep: 'here',
      as: 'call',
    };
    const { texts, problems } = await run({
      queries: [{ name: 'both', steps: [written, call] }],
      body: [body('both', 'nights')],
    });
    expect(texts.filter((t) => !/which every row|failed|instead/.test(t))).toEqual(['Brecha', 'Longa']);
    expect(problems).toContain('cannot read “hut”');
  });
});
