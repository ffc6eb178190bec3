import { PGlite } from '@electric-sql/pglite';
import { planRecipe, type Step } from '@gaveta/core/internal';
import { defineModel, pgliteConnection, RecipeDesk } from '@gaveta/server';
import { line, median, time } from './measure.ts';

/** Looking at the rows and the count of a recipe over a million rows, against the same written by hand. */
const ROWS = 1_000_000;
const ROUNDS = 5;

const database = new PGlite();
await database.exec(`
  create table hut (id int primary key, name text, beds int);
  create table reading (id int primary key, hut_id int, day date, wind numeric(5,1), battery int);
  insert into hut select i, 'hut ' || i, 10 + i % 30 from generate_series(1, 24) i;
  insert into reading select i, 1 + i % 24, date '2024-01-01' + (i / 1440), (i::bigint * 7919 % 1400) / 10.0, i % 100 from generate_series(1, ${ROWS}) i;
  create index on reading (hut_id); analyze;
`);

const number = { label: 'n', type: 'number' as const };
const model = defineModel({
  name: 'ridge',
  label: 'Ridge',
  connection: 'main',
  entities: {
    hut: {
      label: 'Hut',
      plural: 'Huts',
      key: 'id',
      fields: { id: number, name: { label: 'Name', type: 'text' }, beds: number },
    },
    reading: {
      label: 'Reading',
      plural: 'Readings',
      key: 'id',
      fields: { id: number, hut_id: number, day: { label: 'Day', type: 'date' }, wind: number, battery: number },
      relations: { hut: { label: 'Hut', to: 'hut', kind: 'one', on: { hut_id: 'id' } } },
    },
  },
});
const connections = new Map([['main', pgliteConnection(database)]]);

const take: Step = { step: 'take', from: { model: 'ridge', entity: 'reading' } };
const hut: Step = { step: 'bring', relation: 'hut', keep: 'matching', as: 'hut', fields: ['name'] };
const keep: Step = {
  step: 'keep',
  where: {
    all: [
      { field: 'wind', is: 'greater', to: { value: 100 } },
      { field: 'battery', is: 'less', to: { value: 50 } },
    ],
  },
};
const CASES: [string, Step[], string][] = [
  ['rows and count of a table', [take], 'select id, hut_id, day, wind, battery from reading'],
  [
    'brought in, kept and a column added',
    [take, hut, keep, { step: 'add', name: 'gusts', formula: 'wind * 1.4' }],
    `select r.id, r.hut_id, r.day, r.wind, r.battery, h.name, r.wind * 1.4 from reading r join hut h on h.id = r.hut_id where r.wind > 100 and r.battery < 50`,
  ],
  [
    'summarised by hut and month, sorted',
    [
      take,
      hut,
      keep,
      {
        step: 'summarise',
        by: [{ field: 'hut_name' }, { field: 'day', per: 'month' }],
        totals: [
          { total: 'MAX', of: 'wind', name: 'strongest' },
          { total: 'COUNT', name: 'readings' },
        ],
      },
      { step: 'sort', by: [{ field: 'strongest', descending: true }] },
    ],
    `select h.name, date_trunc('month', r.day)::date, max(r.wind) as strongest, count(*) from reading r join hut h on h.id = r.hut_id
     where r.wind > 100 and r.battery < 50 group by 1, 2 order by strongest desc`,
  ],
];

console.log(
  `Looking at a recipe over ${ROWS} rows: its first 200 rows and its count, against the same SQL by hand (medians of ${ROUNDS})`,
);
for (const [name, steps, sql] of CASES) {
  const recipe = planRecipe(
    { name, steps },
    { models: [model.model], recipe: () => null, queries: [], parameters: [] },
  );
  if (recipe.problems.length > 0) throw new Error(JSON.stringify(recipe.problems));
  const report = { name: '', language: 'en', timeZone: 'UTC', parameters: [] };
  const byRecipe: number[] = [];
  const byHand: number[] = [];
  let counts: [number, number] = [0, 0];
  for (let round = 0; round < ROUNDS; round++) {
    const own = await time(async () => {
      const desk = await RecipeDesk.open([recipe], {
        models: new Map([['ridge', model]]),
        connections,
        claims: {},
        report,
        values: {},
      });
      await desk.rows(recipe, 200);
      const { count } = await desk.count(recipe);
      await desk.close();
      return count;
    });
    const hand = await time(async () => {
      await database.query(`${sql} limit 200`);
      const { rows } = await database.query<{ n: number }>(`select count(*)::int as n from (${sql}) q`);
      return rows[0]!.n;
    });
    counts = [own.value, hand.value];
    byRecipe.push(own.seconds);
    byHand.push(hand.seconds);
  }
  if (counts[0] !== counts[1]) throw new Error(`${name}: ${counts[0]} rows by recipe, ${counts[1]} by hand`);
  const ratio = median(byRecipe) / median(byHand);
  line(`${name}: by hand`, median(byHand), `${counts[1]} rows`);
  line(`${name}: as a recipe`, median(byRecipe), `${ratio.toFixed(2)} times (aim: under 1.2)`);
}
await database.close();
process.exit(0);
