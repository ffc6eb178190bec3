import type { PGlite } from '@electric-sql/pglite';
import {
  type Page,
  planReport,
  problemText,
  type Report,
  readDefinition,
  readParameters,
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

const works = modelOf('works', 'main', {
  hut: table(
    'Hut',
    { id: number, name: text },
    { relations: { stays: { label: 'Stays', to: 'stay', kind: 'many', on: { id: 'hut_id' } } } },
  ),
  stay: table('Stay', { id: number, hut_id: number, nights: number, secret: { ...text, hidden: true } }),
});
const host = modelOf('host', 'host', { call: table('Call', { id: number, nights: number }) });

let database: PGlite;
const workbench = openBench();
beforeAll(async () => {
  database = await openBlank();
  await database.exec(`create table hut (id int primary key, name text);
    create table stay (id int primary key, hut_id int, nights int, secret text);
    insert into hut values (1, 'Brecha'), (2, 'Longa');
    insert into stay values (1, 1, 100, 'a'), (2, 2, 200, 'b'), (3, 2, 400, 'c'), (4, 1, 800, 'd');`);
});
afterAll(async () => {
  await workbench.close();
  await database.close();
});

const definition = (json: object): Report => {
  const read = readDefinition({ gaveta: 2, name: 'x', model: 'works', ...json });
  if (!read.ok) throw new Error(read.problems.map(problemText).join(' '));
  return read.report;
};
const field = (formula: string, id: string) => ({ kind: 'field', id, x: 0, y: 0, width: 60, height: 5, formula });

const run = async (report: Report, nested: Record<string, Report> = {}, parameters = {}) => {
  const models = [works, host];
  const plan = planReport(report, {
    models: models.map((m) => m.model),
    report: (id) => nested[id] ?? null,
    rowsFromDatabase: true,
  });
  const given = readParameters(report, parameters, { use: 'design' });
  const rows = await openRows(plan, {
    models: new Map(models.map((m) => [m.model.name, m])),
    connections: new Map<string, Connection>([
      ['main', pgliteConnection(database)],
      [
        'host',
        streamConnection({
          *call() {
            yield { id: 1, nights: 100 };
            throw new Error('the line broke');
          },
        }),
      ],
    ]),
    claims: {},
    parameters: given.values,
    maxRows: 1000,
    workbench: () => workbench,
  });
  const pages: Page[] = [];
  const result = await runReport({
    plan,
    book: await loadShippedFonts(),
    parameters: given.values,
    open: () => rows,
    onPage: (p) => void pages.push(p),
  });
  const marks = pages.flatMap((p) => p.marks).filter((m): m is TextMark => m.kind === 'text');
  const problems = [...plan.problems, ...given.problems, ...result.problems].filter((p) => p.severity === 'error');
  return { words: marks.map((m) => m.text), problems };
};

/** Each row shows its nights as `=100`, each total as `sum 100`. */
const stays = (more: object = {}, rows: object = { entity: 'stay' }) => ({
  id: 's',
  name: 'stay',
  rows,
  detail: { height: 5, items: [field('"=" & nights', 'n')] },
  footer: { height: 5, items: [field('"sum " & SUM(nights)', 't')] },
  ...more,
});

/** What may be seen of a report whose rows cannot be told: no row, and no total but an error. */
const expectRefused = async (report: Report, nested: Record<string, Report> = {}, parameters = {}) => {
  const { words, problems } = await run(report, nested, parameters);
  expect(problems.length).toBeGreaterThan(0);
  expect(words.filter((w) => /^=\d/.test(w))).toEqual([]);
  expect(words.filter((w) => /^sum \d/.test(w))).toEqual([]);
  return words;
};

const take = { step: 'take', from: { model: 'works', entity: 'stay' } };
const query = (steps: object[]) => ({
  queries: [{ name: 'rows', steps }],
  body: [stays({}, { entity: 'rows' })],
  footer: { height: 5, items: [field('"sum " & SUM(nights)', 'all')] },
});

describe('what decides on rows holds, or nothing is shown', () => {
  it('shows the rows that are asked for when nothing is wrong', async () => {
    const { words, problems } = await run(
      definition({ body: [stays({ filter: 'nights > 150', first: 2, sort: [{ by: 'nights' }] })] }),
    );
    expect(problems).toEqual([]);
    expect(words).toEqual(['=200', '=400', 'sum 600']);
  });
  it.each<[string, object]>([
    ['a filter by a field that is gone', { filter: 'depth > 150' }],
    ['a filter that is none', { filter: 'nights & "x"' }],
    ['a filter that is cut off', { filter: 'nights >' }],
    ['a filter by a hidden field', { filter: 'secret = "a"' }],
    ['the first rows by a field that is gone', { first: 1, sort: [{ by: 'depth' }] }],
    ['the first rows of groups by a field that is gone', { groups: [{ name: 'g', by: 'depth', first: 1 }] }],
    [
      'the first rows of groups in an order that is gone',
      { groups: [{ name: 'g', by: 'hut_id', first: 1, order: 'SUM(depth)' }] },
    ],
  ])('%s', async (_, more) => {
    await expectRefused(
      definition({ body: [stays(more)], footer: { height: 5, items: [field('"sum " & SUM(nights)', 'all')] } }),
    );
  });
  it.each<[string, object[]]>([
    [
      'keep by a field that is gone',
      [take, { step: 'keep', where: { field: 'depth', is: 'greater', to: { value: 1 } } }],
    ],
    ['keep by a formula that is wrong', [take, { step: 'keep', where: { formula: 'nights >' } }]],
    [
      'bring in by a field that is gone',
      [
        take,
        {
          step: 'bring',
          from: { model: 'works', entity: 'hut' },
          on: [{ here: 'hut', there: 'id' }],
          keep: 'matching',
          as: 'hut',
        },
      ],
    ],
    [
      'bring in what is gone',
      [
        take,
        {
          step: 'bring',
          from: { model: 'works', entity: 'none' },
          on: [{ here: 'hut_id', there: 'id' }],
          keep: 'matching',
          as: 'hut',
        },
      ],
    ],
    ['first of each of what is gone', [take, { step: 'first', count: 1, per: ['depth'] }]],
    ['distinct by what is gone', [take, { step: 'distinct', by: ['depth'] }]],
    [
      'add what is wrong and keep by it',
      [
        take,
        { step: 'add', name: 'd', formula: 'depth * 2' },
        { step: 'keep', where: { field: 'd', is: 'greater', to: { value: 1 } } },
      ],
    ],
    [
      'summarise by what is gone',
      [take, { step: 'summarise', by: [{ field: 'depth' }], totals: [{ total: 'SUM', of: 'nights', name: 'nights' }] }],
    ],
    ['add the rows of what is gone', [take, { step: 'stack', from: { model: 'works', entity: 'none' } }]],
    ['take from what is gone', [{ step: 'take', from: { recipe: 'none' } }]],
    [
      'a statement that the database refuses',
      [
        {
          step: 'sql',
          model: 'works',
          text: 'select nights, depth from stay',
          columns: [{ name: 'nights', type: 'number' }],
        },
      ],
    ],
  ])('a query with a step: %s', async (_, steps) => {
    await expectRefused(definition(query(steps)));
  });
  it('a source that breaks off in the middle', async () => {
    const body = stays({}, { entity: 'call' });
    await expectRefused(
      definition({ model: 'host', body: [body], footer: { height: 5, items: [field('"sum " & SUM(nights)', 'all')] } }),
    );
  });
  it('an inner drawer, with the totals and conditions of the rows around that read it', async () => {
    const inner = stays({ filter: 'depth > 1' }, { relation: 'stays' });
    const around = {
      id: 'h',
      name: 'hut',
      rows: { entity: 'hut' },
      detail: { height: 5, items: [field('name & " sum " & SUM(nights)', 'd')] },
      drawers: [inner],
    };
    const words = await expectRefused(
      definition({ body: [around], header: { height: 5, items: [field('"sum " & SUM(nights)', 'x')] } }),
    );
    // The huts themselves are known.
    expect(words.filter((w) => w === '#REF!')).toHaveLength(3);
    const decided = await expectRefused(definition({ body: [{ ...around, filter: 'SUM(nights) > 1' }] }));
    expect(decided.join(' ')).not.toMatch(/Brecha|Longa/);
  });
  it.each<[string, object, object[]]>([
    ['to a parameter that is gone', { hutt: 'id' }, []],
    ['of another type', { hut: 'name' }, []],
    ['by a formula that is wrong', { hut: 'id *' }, []],
    ['that gives an error', { hut: '1 / (id - id)' }, []],
    ['that is required and missing', {}, [{ required: true }]],
    ['to what the application alone sets', { hut: 'id' }, [{ fromHost: true }]],
  ])('a link %s', async (_, links, [more = {}]) => {
    const nested = definition({
      parameters: [{ name: 'hut', label: 'Hut', type: 'number', ...more }],
      body: [stays({ filter: 'WITHIN(hut_id; hut)' })],
    });
    const outer = {
      id: 'h',
      name: 'hut',
      rows: { entity: 'hut' },
      detail: {
        height: 12,
        items: [
          field('name', 'd'),
          { kind: 'subreport', id: 'n', x: 5, y: 6, width: 100, height: 5, report: 'n', links },
        ],
      },
    };
    const words = await expectRefused(definition({ body: [outer] }), { n: nested });
    expect(words).toContain('Longa');
  });
  it('a parameter that does not fit', async () => {
    const parameters = [
      { name: 'hut', label: 'Hut', type: 'number' },
      { name: 'when', label: 'When', type: 'dates', defaultFormula: 'DATE(0;1;1)' },
    ];
    for (const filter of ['WITHIN(hut_id; hut)', 'WITHIN(DATE(2025;1;1); when)', 'OR(ISBLANK(hut); hut_id = hut)'])
      await expectRefused(definition({ parameters, body: [stays({ filter })] }), {}, { hut: 'north' });
  });
});
