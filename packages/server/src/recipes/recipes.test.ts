import { planRecipe, type Step } from '@gaveta/core/internal';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Claims } from '../access/claims.ts';
import { pgliteConnection } from '../connection/pglite.ts';
import { defineModel } from '../model/define.ts';
import { number, text } from '../model/fields.test-support.ts';
import { RecipeDesk } from './desk.ts';
import { closeWorks, context, office, open, opened, openWorks, rowsOf, stays, withHut } from './works.test-support.ts';

beforeAll(openWorks);
afterAll(closeWorks);

describe('a recipe in one database', () => {
  it('brings in, keeps, adds, summarises and sorts, with the result of plain SQL', async () => {
    const { rows, names } = await rowsOf([
      stays,
      withHut,
      {
        step: 'keep',
        where: {
          all: [
            { field: 'nights', is: 'greater', to: { value: 1 } },
            {
              any: [
                { field: 'hut_name', is: 'contains', to: { value: 'z' } },
                { field: 'hut_name', is: 'blank' },
              ],
            },
          ],
        },
      },
      { step: 'add', name: 'double', formula: 'nights * 2' },
      {
        step: 'summarise',
        by: [{ field: 'arrival', per: 'month' }, { field: 'hut_name' }],
        totals: [
          { total: 'SUM', of: 'double', name: 'sum' },
          { total: 'COUNT', name: 'n' },
          { total: 'SUM', of: 'cost', name: 'cost' },
        ],
      },
      { step: 'sort', by: [{ field: 'sum', descending: true }] },
    ]);
    expect(names).toEqual(['arrival_month', 'hut_name', 'sum', 'n', 'cost']);
    const oracle = await opened().database.query<unknown[]>(
      `select to_char(date_trunc('month', s.arrival), 'YYYY-MM-DD'), h.name, sum(s.nights * 2)::text, count(*)::int, sum(s.nights * s.rate)::text
       from stay s left join hut h on h.id = s.hut_id where s.nights > 1 and (h.name ilike '%z%' or h.name is null)
       group by 1, 2 order by sum(s.nights * 2) desc`,
      [],
      { rowMode: 'array' },
    );
    const digits = (row: unknown[]) => row.map((v, i) => (i >= 2 && v !== null ? Number(v) : v));
    expect(rows.map(digits)).toEqual(oracle.rows.map(digits));
    expect(rows).toHaveLength(3);
  });

  it('keeps rows without a partner, or not, as its step says', async () => {
    const count = async (keep: 'matching' | 'here' | 'there' | 'both') =>
      (await rowsOf([stays, { step: 'bring', relation: 'hut', keep, as: 'hut' }])).rows.length;
    expect(await count('matching')).toBe(4);
    expect(await count('here')).toBe(5);
    expect(await count('there')).toBe(5);
    expect(await count('both')).toBe(6);
  });

  it('keeps the first of each, in the order of an earlier step', async () => {
    const first: Step[] = [
      stays,
      { step: 'sort', by: [{ field: 'nights', descending: true }] },
      { step: 'add', name: 'month', formula: 'MONTH(arrival)' },
      { step: 'first', count: 1, per: ['month'] },
    ];
    expect((await rowsOf(first)).rows.map((r) => r[0])).toEqual([5, 2, 1]);
    const doubles: Step[] = [...first.slice(0, 3), { step: 'distinct', by: ['month'] }];
    expect((await rowsOf(doubles)).rows.map((r) => r[0])).toEqual([5, 2, 1]);
  });

  it('spreads names into columns, and stacks the rows of another source', async () => {
    const signals = defineModel({
      name: 'signals',
      label: 'Signals',
      connection: 'main',
      entities: {
        log: {
          label: 'Log',
          plural: 'Logs',
          table: 'signal_log',
          key: 'hut_id',
          fields: { hut_id: number, signal: text, value: number },
        },
      },
    });
    const recipe = planRecipe(
      {
        name: 'spread',
        steps: [
          { step: 'take', from: { model: 'signals', entity: 'log' } },
          {
            step: 'spread',
            names: 'signal',
            values: 'value',
            total: 'MAX',
            into: [
              { value: 'wind', name: 'wind' },
              { value: 'snow depth', name: 'snow' },
            ],
          },
          { step: 'stack', from: { model: 'signals', entity: 'log' } },
        ],
      },
      { ...context, models: [signals.model] },
    );
    expect(recipe.problems).toEqual([]);
    const report = { name: '', language: 'en', timeZone: 'UTC', parameters: [] };
    const desk = await RecipeDesk.open([recipe], {
      models: new Map([['signals', signals]]),
      connections: new Map([['main', pgliteConnection(opened().database)]]),
      claims: office,
      report,
      values: {},
    });
    const { rows } = await desk.rows(recipe, 10);
    expect(rows.slice(0, 2).sort()).toEqual([
      [1, '55', '0'],
      [2, '12', null],
    ]);
    expect(rows).toHaveLength(6);
  });

  it('sees a name-and-value table as one column for each name', async () => {
    const { rows } = await rowsOf([
      { step: 'take', from: { model: 'works', entity: 'reading' } },
      { step: 'sort', by: [{ field: 'logged_at' }, { field: 'hut_id' }] },
    ]);
    expect(rows.map((r) => r.slice(1))).toEqual([
      [1, '40', '0'],
      [2, '12', null],
      [1, '55', null],
    ]);
  });

  it('gives a function its arguments by formula', async () => {
    const take: Step = {
      step: 'take',
      from: { model: 'works', entity: 'stays_from', arguments: { first_day: 'season.from' } },
    };
    const { rows } = await rowsOf([take], office, { season: '2025-08-01..' });
    expect(rows.map((r) => r[0])).toEqual([4, 5]);
  });

  it('takes ranges and lists of parameters, and everything when they are blank', async () => {
    const steps: Step[] = [
      stays,
      withHut,
      {
        step: 'keep',
        where: {
          all: [
            { field: 'arrival', is: 'within', to: { parameter: 'season' } },
            { field: 'hut_region', is: 'oneOf', to: { parameter: 'regions' } },
          ],
        },
      },
    ];
    const ids = async (given: object) => (await rowsOf(steps, office, given)).rows.map((r) => r[0]);
    expect(await ids({})).toEqual([1, 2, 3, 4, 5]);
    expect(await ids({ season: '2025-07-01..2025-08-01' })).toEqual([2, 3, 4]);
    expect(await ids({ regions: 'North' })).toEqual([1, 2, 3, 4]);
    expect(await ids({ regions: ['South', `x' or '1'='1`] })).toEqual([]);
  });

  it('works out what the database does not know, and goes on there', async () => {
    const steps: Step[] = [
      stays,
      { step: 'sort', by: [{ field: 'nights', descending: true }] },
      { step: 'add', name: 'said', formula: 'PROPER("night " & TEXT(nights; "00"))' },
      { step: 'keep', where: { formula: 'LEN(said) = 8' } },
      { step: 'add', name: 'share', formula: 'nights / (nights - 1)' },
      { step: 'first', count: 2 },
    ];
    const { rows } = await rowsOf(steps);
    expect(rows.map((r) => [Number(r[0]), r[5], Number(r[6]).toFixed(4)])).toEqual([
      [5, 'Night 07', '1.1667'],
      [4, 'Night 05', '1.2500'],
    ]);
  });

  it('shows a caller only the rows of their scope', async () => {
    const north: Claims = { role: 'warden', region: 'North' };
    expect((await rowsOf([stays], north)).rows.map((r) => r[0])).toEqual([1, 2, 3, 4]);
    expect((await rowsOf([stays], { role: 'warden' })).rows).toEqual([]);
  });

  it('counts rows, and tells the facts and values of columns', async () => {
    const { recipe, desk } = await open([stays, withHut]);
    expect((await desk.count(recipe)).count).toBe(5);
    const facts = await desk.facts(recipe);
    expect(facts.find((f) => f.field === 'rate')).toEqual({
      field: 'rate',
      distinct: 4,
      blanks: 1,
      least: '0.10',
      most: '10.50',
    });
    expect(facts.map((f) => f.field)).not.toContain('hut_secret');
    expect(await desk.values(recipe, 'hut_region', 'nor', 5)).toEqual([{ value: 'North', count: 4 }]);
    await desk.close();
  });
});

describe('a recipe over several sources', () => {
  const withTax: Step[] = [
    stays,
    withHut,
    { step: 'add', name: 'year', formula: 'YEAR(arrival)' },
    {
      step: 'bring',
      from: { model: 'tariffs', entity: 'tariff' },
      on: [
        { here: 'year', there: 'year' },
        { here: 'hut_region', there: 'region' },
      ],
      keep: 'here',
      as: 'tariff',
    },
  ];
  it('relates rows of a database to rows that the host streams, by two keys', async () => {
    const { rows, names } = await rowsOf([...withTax, { step: 'sort', by: [{ field: 'id' }] }]);
    const tax = names.indexOf('tariff_tax');
    expect(rows.map((r) => [Number(r[0]), r[tax]])).toEqual([
      [1, '0.25'],
      [2, '0.25'],
      [3, '0.25'],
      [4, '0.25'],
      [5, null],
    ]);
  });
  it('keeps to the row scope of both', async () => {
    const { rows } = await rowsOf([{ step: 'take', from: { model: 'tariffs', entity: 'tariff' } }], {
      role: 'warden',
      region: 'South',
    });
    expect(rows).toEqual([['2025', 'South', null]]);
  });
  it('tells which rows have no partner on the other side', async () => {
    const { recipe, desk } = await open([stays, withHut, { step: 'add', name: 'year', formula: 'YEAR(arrival)' }]);
    await desk.close();
    const there = planRecipe(
      { name: 'there', steps: [{ step: 'take', from: { model: 'tariffs', entity: 'tariff' } }] },
      context,
    );
    const both = await open([...withTax]);
    const fit = await both.desk.fit(recipe, there, [
      { here: 'year', there: 'year' },
      { here: 'hut_region', there: 'region' },
    ]);
    expect(fit).toEqual({ here: 5, there: 3, hereAlone: 1, thereAlone: 2 });
    await both.desk.close();
  });
  it('leaves nothing at the workbench', async () => {
    const [stream] = await opened().workbench.connection.open([
      { text: "select count(*)::int from pg_class where relname like 'stage%'", values: [] },
    ]);
    for await (const rows of stream!) expect(rows).toEqual([[0]]);
  });
});
