import type { PGlite } from '@electric-sql/pglite';
import {
  type Parameter,
  parameterSchema,
  planRecipe,
  type RecipeContext,
  readParameters,
  type Step,
} from '@gaveta/core/internal';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Claims } from '../access/claims.ts';
import type { Connection, OpenOptions } from '../connection/connection.ts';
import { pgliteConnection } from '../connection/pglite.ts';
import type { Statement } from '../connection/statement.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { defineModel, type RegisteredModel } from '../model/define.ts';
import { number, text } from '../model/fields.test-support.ts';
import { streamConnection } from '../sources/stream.ts';
import { openBench } from '../staging/bench.test-support.ts';
import type { Workbench } from '../staging/workbench.ts';
import { RecipeDesk } from './desk.ts';

const office: Claims = { role: 'office' };
const works = defineModel({
  name: 'works',
  label: 'Works',
  connection: 'main',
  entities: {
    hut: {
      label: 'Hut',
      plural: 'Huts',
      key: 'id',
      scope: (claims) => (claims.role === 'office' ? 'everything' : { keep: 'region = CLAIM("region")' }),
      fields: { id: { ...number, hidden: true }, name: text, region: text, secret: { ...text, hidden: true } },
      relations: { stays: { label: 'Stays', to: 'stay', kind: 'many', on: { id: 'hut_id' } } },
    },
    stay: {
      label: 'Stay',
      plural: 'Stays',
      key: 'id',
      scope: (claims) => (claims.role === 'office' ? 'everything' : { keep: 'hut.region = CLAIM("region")' }),
      fields: {
        id: number,
        hut_id: { ...number, hidden: true },
        arrival: { label: 'Arrival', type: 'date' },
        nights: number,
        rate: number,
        cost: { label: 'Cost', type: 'number', formula: 'nights * rate' },
      },
      relations: { hut: { label: 'Hut', to: 'hut', kind: 'one', on: { hut_id: 'id' } } },
    },
    reading: {
      label: 'Reading',
      plural: 'Readings',
      key: 'logged_at',
      table: 'signal_log',
      readings: { name: 'signal', value: 'value', columns: { wind: 'wind', snow: 'snow depth' } },
      fields: { logged_at: { label: 'At', type: 'datetime' }, hut_id: number, wind: number, snow: number },
    },
    stays_from: {
      label: 'Stays from',
      plural: 'Stays from',
      key: 'id',
      function: { name: 'stays_from', arguments: { first_day: { label: 'First day', type: 'date' } } },
      fields: { id: number, nights: number },
    },
  },
});

const tariffs = defineModel({
  name: 'tariffs',
  label: 'Tariffs',
  connection: 'host',
  entities: {
    tariff: {
      label: 'Tariff',
      plural: 'Tariffs',
      key: 'year',
      fields: { year: number, region: text, tax: number },
      scope: (claims) => (claims.role === 'office' ? 'everything' : { keep: 'region = CLAIM("region")' }),
    },
  },
});

let database: PGlite;
let workbench: Workbench;
beforeAll(async () => {
  database = await openBlank();
  workbench = openBench();
  await database.exec(`
    create table hut (id int primary key, name text, region text, secret text);
    create table stay (id int primary key, hut_id int, arrival date, nights int, rate numeric(10,2));
    create table signal_log (logged_at timestamptz, hut_id int, signal text, value numeric);
    create function stays_from(first_day date) returns setof stay language sql stable as 'select * from stay where arrival >= first_day';
    insert into hut values (1, 'Zé', 'North', 'x'), (2, 'Ábaco', 'North', 'y'), (3, 'Empty', 'South', 'z');
    insert into stay values (1, 1, '2025-06-30', 2, 10.50), (2, 1, '2025-07-01', 3, 10), (3, 2, '2025-07-15', 1, null),
      (4, 2, '2025-08-01', 5, 0.10), (5, null, '2025-08-02', 7, 1);
    insert into signal_log values ('2025-07-01 10:00+00', 1, 'wind', 40), ('2025-07-01 10:00+00', 1, 'snow depth', 0),
      ('2025-07-01 10:10+00', 1, 'wind', 55), ('2025-07-01 10:00+00', 2, 'wind', 12);
  `);
});
afterAll(async () => {
  await workbench.close();
  await database.close();
});

const parameters: Parameter[] = [
  parameterSchema.parse({ name: 'season', label: 'Season', type: 'dates' }),
  parameterSchema.parse({ name: 'regions', label: 'Regions', type: 'choices' }),
];

const context: RecipeContext = {
  models: [works.model, tariffs.model],
  recipe: () => null,
  queries: [],
  parameters,
};

const open = async (steps: Step[], claims = office, given = {}) => {
  const recipe = planRecipe({ name: 'test', steps }, context);
  const report = { name: 'test', language: 'en', timeZone: 'UTC', parameters };
  const desk = await RecipeDesk.open([recipe], {
    models: new Map<string, RegisteredModel>([
      ['works', works],
      ['tariffs', tariffs],
    ]),
    connections: new Map<string, Connection>([
      ['main', pgliteConnection(database)],
      [
        'host',
        streamConnection({
          async *tariff() {
            yield { year: 2024, region: 'North', tax: 0.1 };
            yield { year: 2025, region: 'North', tax: '0.25' };
            yield { year: 2025, region: 'South', tax: null };
          },
        }),
      ],
    ]),
    claims,
    workbench: () => workbench,
    report,
    values: readParameters(report, given).values,
  });
  return { recipe, desk };
};

const rowsOf = async (steps: Step[], claims?: Claims, given?: object) => {
  const { recipe, desk } = await open(steps, claims, given);
  expect(recipe.problems).toEqual([]);
  const { rows, fields, sql } = await desk.rows(recipe, 100);
  await desk.close();
  return { rows, names: fields.map((f) => f.name), sql };
};

const stays: Step = { step: 'take', from: { model: 'works', entity: 'stay' } };
const withHut: Step = { step: 'bring', relation: 'hut', keep: 'here', as: 'hut' };

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
    const oracle = await database.query(
      `select to_char(date_trunc('month', s.arrival), 'YYYY-MM-DD'), h.name, sum(s.nights * 2)::text, count(*)::int, sum(s.nights * s.rate)::text
       from stay s left join hut h on h.id = s.hut_id where s.nights > 1 and (h.name ilike '%z%' or h.name is null)
       group by 1, 2 order by sum(s.nights * 2) desc`,
      [],
      { rowMode: 'array' },
    );
    const digits = (row: unknown[]) => row.map((v, i) => (i >= 2 && v !== null ? Number(v) : v));
    expect(rows.map(digits)).toEqual(oracle.rows.map((r) => digits(r as unknown[])));
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
      connections: new Map([['main', pgliteConnection(database)]]),
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

  it('shows chosen columns under other names, and goes on in an order and by relations that are out of sight', async () => {
    const { rows, names } = await rowsOf([
      stays,
      { step: 'sort', by: [{ field: 'nights', descending: true }] },
      { step: 'columns', columns: [{ field: 'arrival', name: 'day', label: 'Day' }, { field: 'id' }] },
      withHut,
      { step: 'first', count: 2 },
    ]);
    expect(names.slice(0, 2)).toEqual(['day', 'id']);
    expect(names).not.toContain('nights');
    expect(rows.map((row) => row.slice(0, 2))).toEqual([
      ['2025-08-02', 5],
      ['2025-08-01', 4],
    ]);
    // Two columns that change names: what the rows were in the order of is another column now.
    const swapped = await rowsOf([
      stays,
      { step: 'sort', by: [{ field: 'nights' }] },
      {
        step: 'columns',
        columns: [
          { field: 'nights', name: 'id' },
          { field: 'id', name: 'nights' },
        ],
      },
      { step: 'sort', by: [{ field: 'nights' }] },
    ]);
    expect(swapped.rows).toEqual([
      [2, 1],
      [3, 2],
      [1, 3],
      [5, 4],
      [7, 5],
    ]);
  });

  it('calculates across rows, each group by itself, as a plain walk over them does', async () => {
    const along = (what: 'running' | 'before' | 'rank' | 'share' | 'number', of?: string): Step => ({
      step: 'along',
      what,
      name: what,
      per: ['hut_name'],
      ...(of ? { of } : {}),
    });
    const { rows, names } = await rowsOf([
      stays,
      withHut,
      { step: 'sort', by: [{ field: 'arrival' }] },
      along('running', 'nights'),
      along('before', 'arrival'),
      along('rank', 'nights'),
      along('share', 'nights'),
      along('number'),
      { step: 'sort', by: [{ field: 'id' }] },
    ]);
    const table = rows.map((row) => Object.fromEntries(names.map((name, i) => [name, row[i]])));
    for (const row of table) {
      const group = table.filter((other) => other.hut_name === row.hut_name);
      const before = group.filter((other) => String(other.arrival) < String(row.arrival));
      const nights = (list: typeof table): number => list.reduce((sum, one) => sum + Number(one.nights), 0);
      expect(Number(row.running)).toBe(nights([...before, row]));
      expect(row.before).toBe(before.at(-1)?.arrival ?? null);
      expect(Number(row.rank)).toBe(group.filter((one) => Number(one.nights) > Number(row.nights)).length + 1);
      expect(Number(row.share)).toBeCloseTo(Number(row.nights) / nights(group), 12);
      expect(Number(row.number)).toBe(before.length + 1);
    }
  });

  it('takes the median exactly, and the standard deviation of a sample', async () => {
    const { rows } = await rowsOf([
      stays,
      {
        step: 'summarise',
        by: [],
        totals: [
          { total: 'MEDIAN', of: 'rate', name: 'middle' },
          { total: 'MEDIAN', of: 'nights', name: 'of_five' },
          { total: 'STDEV', of: 'nights', name: 'spread' },
        ],
      },
    ]);
    // Rates are 10.50, 10, 0.10 and 1: the two in the middle are 1 and 10.
    expect([Number(rows[0]![0]), Number(rows[0]![1])]).toEqual([5.5, 3]);
    const nights = [2, 3, 1, 5, 7];
    const mean = 18 / 5;
    const variance = nights.reduce((sum, n) => sum + (n - mean) ** 2, 0) / 4;
    expect(Number(rows[0]![2])).toBeCloseTo(Math.sqrt(variance), 10);
  });

  it('sends a statement that somebody wrote once, and knows of its rows what plain steps are asked for one by one', async () => {
    const sent: string[] = [];
    const connection = pgliteConnection(database);
    const counting = {
      ...connection,
      open: (queries: readonly Statement[], options?: OpenOptions) => {
        sent.push(...queries.map(({ text }) => text));
        return connection.open(queries, options);
      },
    };
    const look = async (steps: Step[]) => {
      const recipe = planRecipe({ name: 'test', steps }, context);
      const desk = await RecipeDesk.open([recipe], {
        models: new Map([['works', works]]),
        connections: new Map([['main', counting]]),
        claims: office,
        report: { name: '', language: 'en', timeZone: 'UTC', parameters: [] },
        values: {},
      });
      sent.length = 0;
      return { recipe, desk };
    };
    const columns = [
      { name: 'id', type: 'number' as const },
      { name: 'arrival', type: 'date' as const },
      { name: 'rate', type: 'number' as const },
    ];
    const text = 'select id, arrival, rate from stay order by id';
    const written = await look([{ step: 'sql', model: 'works', text, columns }]);
    const { rows, counted } = await written.desk.rows(written.recipe, 2);
    expect(sent).toHaveLength(1);
    expect(rows.map(([id]) => id)).toEqual([1, 2]);
    expect(counted?.count).toBe(5);
    const steps = await look([stays]);
    const plain = await steps.desk.facts(steps.recipe);
    expect(counted?.facts).toEqual(columns.map(({ name }) => plain.find(({ field }) => field === name)));
    expect((await steps.desk.rows(steps.recipe, 2)).counted).toBeNull();

    const none = await look([
      { step: 'sql', model: 'works', text: 'select id from stay where id < 0', columns: columns.slice(0, 1) },
    ]);
    expect(await none.desk.rows(none.recipe, 2)).toMatchObject({
      rows: [],
      counted: { count: 0, facts: [{ distinct: 0, most: null }] },
    });
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
    const [stream] = await workbench.connection.open([
      { text: "select count(*)::int from pg_class where relname like 'stage%'", values: [] },
    ]);
    for await (const rows of stream!) expect(rows).toEqual([[0]]);
  });
});
