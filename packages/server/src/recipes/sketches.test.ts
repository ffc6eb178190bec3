import {
  levelSteps,
  type Page,
  planRecipe,
  planReport,
  problemText,
  type ReportPlan,
  readDefinition,
  runReport,
  type Sketch,
  sketchReport,
  sketchRows,
  sketchSchema,
} from '@gaveta/core/internal';
import { loadEquipment } from '@gaveta/output';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Claims } from '../access/claims.ts';
import { pgliteConnection } from '../connection/pglite.ts';
import { openRows } from '../rows/row-source.ts';
import { closeWorks, context, office, open, opened, openWorks, works } from './works.test-support.ts';

beforeAll(openWorks);
afterAll(closeWorks);

const book = await (await loadEquipment()).book();
const sketch = (entity: string, more: Partial<Sketch>): Sketch =>
  sketchSchema.parse({
    ...{ sketch: 1, name: 'Nights', from: { model: 'works', entity } },
    ...{ rows: false, columns: [], groups: [], only: [], order: [] },
    ...more,
  });

/** The lines of groups so deep: their values with how many lines lie inside. */
const linesOf = async (of: Sketch, depth: number, claims: Claims = office): Promise<unknown[][]> => {
  const rows = sketchRows(of, context);
  const steps = [...rows.steps, ...levelSteps(of, rows, depth)];
  const queries = { ...context, queries: rows.queries };
  const recipe = planRecipe({ name: 'lines', steps }, queries);
  expect([...rows.problems, ...recipe.problems].map(problemText)).toEqual([]);
  const { desk } = await open(steps, claims);
  try {
    const { rows: found } = await desk.rows(recipe, 100);
    return found.map((line) =>
      line.map((cell) => (typeof cell === 'string' && /^-?\d/.test(cell) ? Number(cell) : cell)),
    );
  } finally {
    await desk.close();
  }
};

/** Each line of the report of a sketch, from top to bottom. */
const reportOf = async (of: Sketch, claims: Claims = office): Promise<string[][]> => {
  const read = readDefinition(JSON.parse(JSON.stringify(sketchReport(of, context))));
  if (!read.ok) throw new Error(read.problems.map(problemText).join(' '));
  const plan: ReportPlan = planReport(read.report, { models: context.models, report: () => null });
  expect(plan.problems.map(problemText)).toEqual([]);
  const pages: Page[] = [];
  await runReport({
    plan,
    book,
    parameters: {},
    open: () =>
      openRows(plan, {
        models: new Map([['works', works]]),
        connections: new Map([['main', pgliteConnection(opened().database)]]),
        claims,
        parameters: {},
        maxRows: 1000,
        workbench: () => opened().workbench,
      }),
    onPage: async (page) => {
      pages.push(page);
    },
  });
  const lines = new Map<number, { x: number; text: string }[]>();
  for (const mark of pages[0]!.marks)
    if (mark.kind === 'text') lines.set(mark.y, [...(lines.get(mark.y) ?? []), { x: mark.x, text: mark.text }]);
  const body = [...lines].sort(([a], [b]) => a - b);
  return body.map(([, line]) => line.sort((a, b) => a.x - b.x).map(({ text }) => text));
};

const nights: Sketch['columns'][number] = { name: 'nights', field: 'nights', total: 'SUM' };
const byHut = sketch('stay', {
  columns: [nights, { name: 'stays', total: 'COUNT' }, { name: 'each', ofLine: 'nights / stays' }],
  groups: [
    { name: 'region', field: 'hut.region' },
    { name: 'hut', field: 'hut.name' },
  ],
  order: [{ by: 'nights', descending: true }],
});

describe('the lines of a sketch', () => {
  it('add up what lies in each group, those without a value included', async () => {
    expect(await linesOf(byHut, 1)).toEqual([
      ['North', 11, 4, 2, 0, 2.75],
      [null, 7, 1, 0, 1, 7],
    ]);
    expect(await linesOf(byHut, 2)).toEqual([
      [null, null, 7, 1, 1, 7],
      ['North', 'Ábaco', 6, 2, 2, 3],
      ['North', 'Zé', 5, 2, 2, 2.5],
    ]);
    expect(await linesOf(byHut, 0)).toEqual([[18, 5, 1, 1, 3.6]]);
  });

  it('add up many rows of each row, which stays one', async () => {
    const huts = sketch('hut', {
      columns: [
        { name: 'huts', total: 'COUNT' },
        { name: 'nights', field: 'stays.nights', inner: 'SUM', total: 'SUM' },
        { name: 'longest', field: 'stays.nights', inner: 'MAX', total: 'MAX' },
      ],
      groups: [{ name: 'region', field: 'region' }],
    });
    expect(await linesOf(huts, 1)).toEqual([
      ['North', 2, 11, 5, 2],
      ['South', 1, 0, null, 1],
    ]);
  });

  it('leave out what is not among the first, from the totals too', async () => {
    const first = { ...byHut, first: { of: 'hut', count: 1 } };
    expect(await linesOf(first, 2)).toEqual([
      [null, null, 7, 1, 1, 7],
      ['North', 'Ábaco', 6, 2, 2, 3],
    ]);
    expect(await linesOf(first, 0)).toEqual([[13, 3, 1, 1, expect.closeTo(13 / 3)]]);
  });

  it('are those of the rows that somebody may see', async () => {
    expect(await linesOf(byHut, 1, { region: 'South' })).toEqual([]);
    expect(await linesOf(byHut, 1, { region: 'North' })).toEqual([['North', 11, 4, 2, 0, 2.75]]);
  });
});

it('what many rows add up to is the same as in plain SQL', async () => {
  const { recipe, desk } = await open([
    { step: 'take', from: { model: 'works', entity: 'hut' } },
    {
      ...{ step: 'bring', relation: 'stays', keep: 'here', as: 'stays' },
      totals: [
        { total: 'SUM', of: 'nights', name: 'nights' },
        { total: 'COUNT', name: 'stays' },
        { total: 'AVERAGE', of: 'rate', name: 'rate' },
        { total: 'MAX', of: 'arrival', name: 'latest' },
      ],
    },
  ]);
  const { rows, fields } = await desk.rows(recipe, 100);
  await desk.close();
  expect(fields.map(({ name }) => name)).toEqual(['name', 'region', 'nights', 'stays', 'rate', 'latest']);
  const plain = await opened().database.query<Record<string, unknown>>(
    `select h.name, coalesce(sum(s.nights), 0)::int as nights, count(s.id)::int as stays, avg(s.rate) as rate, max(s.arrival)::text as latest
     from hut h left join stay s on s.hut_id = h.id group by h.id, h.name order by h.id`,
  );
  const number = (cell: unknown): number | null => (cell === null ? null : Number(cell));
  expect(
    rows.map(([name, , nights, stays, rate, latest]) => [name, number(nights), number(stays), number(rate), latest]),
  ).toEqual(plain.rows.map(({ name, nights, stays, rate, latest }) => [name, nights, stays, number(rate), latest]));
});

describe('the report of a sketch', () => {
  it('counts the same', async () => {
    expect(await reportOf(byHut)).toEqual([
      ['Nights'],
      ['Hut: Text › Hut: Text', 'Number', 'stays', 'each'],
      ['North', '11', '4', '2.75'],
      ['Ábaco', '6', '2', '3'],
      ['Zé', '5', '2', '2.5'],
      ['(blank)', '7', '1', '7'],
      ['(blank)', '7', '1', '7'],
      ['Total', '18', '5', '3.6'],
    ]);
  });
});
