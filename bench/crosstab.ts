import { PGlite } from '@electric-sql/pglite';
import { planReport, type Report, readDefinition, runReport } from '@gaveta/core/internal';
import { loadShippedFonts } from '@gaveta/output';
import { defineModel, openRows, pgliteConnection } from '@gaveta/server';
import { line, median, peak, time } from './measure.ts';

/** Crosstabs over a million charges, against the same GROUP BY written by hand. */
const ROWS = 1_000_000;
const ROUNDS = 5;

const database = new PGlite();
await database.exec(`
  create table charge (id int primary key, stay int, hut text, kind text, day date, part int, amount numeric(12,2));
  insert into charge select i, i % 100000, 'Hut ' || (i % 24), (array['bunk', 'half board', 'linen', 'firewood'])[1 + i % 4],
    date '2024-01-01' + (i % 700), ((i::bigint * 7919 + i / 100000 * 31) % 200)::int, (i::bigint * 37 % 90000) / 100.0 from generate_series(1, ${ROWS}) i;
  analyze;
`);

const number = { label: 'n', type: 'number' as const };
const text = { label: 't', type: 'text' as const };
const model = defineModel({
  name: 'bench',
  label: 'Bench',
  connection: 'main',
  entities: {
    charge: {
      label: 'Charge',
      plural: 'Charges',
      key: 'id',
      fields: {
        id: number,
        stay: number,
        hut: text,
        kind: text,
        day: { label: 'Day', type: 'date' },
        part: number,
        amount: number,
      },
    },
  },
});
const connections = new Map([['main', pgliteConnection(database)]]);
const book = await loadShippedFonts();

const reportWith = (crosstab: object, page: object = {}): Report => {
  const item = { kind: 'crosstab', id: 'x', x: 0, y: 0, height: 20, rows: { entity: 'charge' }, ...crosstab };
  const read = readDefinition({
    gaveta: 2,
    name: 'Charges',
    model: 'bench',
    page: { paper: 'A4', orientation: 'landscape', ...page },
    header: { height: 20, items: [item] },
    body: [],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.report;
};

const planOf = (report: Report) =>
  planReport(report, { models: [model.model], report: () => null, rowsFromDatabase: true });

const open = (plan: ReturnType<typeof planOf>) =>
  openRows(plan, { models: new Map([['bench', model]]), connections, claims: {}, parameters: {}, maxRows: 3_000_000 });

/** All rows of a plan’s statements, as they come. */
const readRows = async (report: Report): Promise<number> => {
  const plan = planOf(report);
  const opened = await open(plan);
  let count = 0;
  for (const { level } of opened.queries) for await (const batch of opened.source(level)) count += batch.length;
  await opened.close();
  return count;
};

const runWhole = async (report: Report): Promise<{ pages: number; problems: string[] }> => {
  const plan = planOf(report);
  let pages = 0;
  const { allProblems } = await runReport({
    plan,
    book,
    parameters: {},
    open: () => open(plan),
    limits: { maxAhead: 2 * 1024 ** 3 },
    onPage: () => void pages++,
  });
  return { pages, problems: allProblems.filter((p) => p.severity === 'error').map((p) => p.code) };
};

/** Each of several works in turn, so that a machine that gets slower does so for all of them; the median of each. */
const inTurn = async (works: readonly (() => Promise<unknown>)[], times = ROUNDS): Promise<number[]> => {
  const seconds = works.map((): number[] => []);
  for (let i = 0; i < times; i++)
    for (const [at, work] of works.entries()) seconds[at]!.push((await time(work)).seconds);
  return seconds.map(median);
};

const byHand = (sql: string) => async (): Promise<number> => (await database.query(sql)).rows.length;

console.log(`A crosstab over ${ROWS.toLocaleString('en')} charges, against the same GROUP BY by hand`);
const months = reportWith({
  width: 265,
  down: [
    { name: 'kind', by: 'kind' },
    { name: 'hut', by: 'hut' },
  ],
  across: [{ name: 'month', by: 'day', per: 'month', format: 'mmm yy' }],
  cells: [
    { formula: 'SUM(amount)', format: '#,##0.00' },
    { formula: 'COUNT(charge)', format: '#,##0' },
  ],
});
const month = `date_trunc('month', day)::date`;
const plain = `select kind, hut, ${month}, sum(amount), count(*) from charge group by 1, 2, 3`;
const whole = `select kind, hut, ${month} as m, sum(amount), count(*) from charge group by rollup (kind, hut), rollup (${month})`;
await byHand(plain)();
const groups = await byHand(plain)();
const { pages, problems } = await runWhole(months);
const [base = 0, rows = 0, all = 0] = await inTurn([byHand(plain), () => readRows(months), () => runWhole(months)]);
const [rolled = 0] = await inTurn([byHand(whole)], 1);
line('GROUP BY kind, hut, month by hand', base, `${groups} groups`);
line('the same with ROLLUP, all totals in the database', rolled);
line('rows of the crosstab', rows, `${(rows / base).toFixed(2)} times GROUP BY (aim 1.2)`);
const times = `${(all / base).toFixed(2)} times GROUP BY (aim 1.5), ${(all / rolled).toFixed(2)} times ROLLUP`;
line('whole crosstab, laid out', all, `${times}, ${pages} pages ${problems.join(' ')}`);

console.log('200 columns across and 100,000 rows down, a value in each tenth cell');
const wide = reportWith(
  {
    width: 3200,
    down: [{ name: 'stay', by: 'stay', format: '0' }],
    across: [{ name: 'part', by: 'part', format: '0' }],
    cells: [{ formula: 'SUM(amount)', format: '#,##0.00' }],
    cellWidth: 15,
    labelWidth: 30,
  },
  { paper: 'custom', width: 3300, height: 1000 },
);
const cells = `select stay, part, sum(amount) from charge group by 1, 2`;
const held = await time(byHand(cells));
const { megabytes, value: run } = await peak(() => time(() => runWhole(wide)));
line('GROUP BY by hand, all rows held', held.seconds, `${held.value} groups`);
line(
  'whole crosstab, laid out',
  run.seconds,
  `${(run.seconds / held.seconds).toFixed(2)} times, ${run.value.pages} pages, peak ${megabytes} MB with the database ${run.value.problems.join(' ')}`,
);
await database.close();
