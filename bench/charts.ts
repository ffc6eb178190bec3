import { PGlite } from '@electric-sql/pglite';
import { defineModel, pgliteConnection } from '@gaveta/server';
import { line, median, time } from './measure.ts';
import { toPdf } from './to-pdf.ts';

/** A small chart for each of a thousand huts on a hundred pages, against the same pages without; and one line of many points. */
const HUTS = 1_000;
const STAYS = 24;
const POINTS = 100_000;
const ROUNDS = 5;

const database = new PGlite();
await database.exec(`
  create table hut (id int primary key, name text);
  insert into hut select i, 'Hut ' || i from generate_series(1, ${HUTS}) i;
  create table stay (id int primary key, hut_id int, arrival date, nights int);
  insert into stay select i, 1 + i / ${STAYS}, date '2025-01-01' + (i * 37) % 365, 1 + (i * 7919) % 12 from generate_series(0, ${HUTS * STAYS - 1}) i;
  create table reading (id int primary key, read_at timestamptz, wind numeric(6,1));
  insert into reading select i, timestamptz '2024-01-01 00:00+00' + i * interval '10 minutes', 40 + 30 * sin(i / 900.0) + (i * 7919 % 200) / 10.0 from generate_series(1, ${POINTS}) i;
  create index on stay (hut_id);
  analyze;
`);

const number = { label: 'n', type: 'number' as const };
const text = { label: 't', type: 'text' as const };
const model = defineModel({
  name: 'bench',
  label: 'Bench',
  connection: 'main',
  entities: {
    hut: {
      label: 'Hut',
      plural: 'Huts',
      key: 'id',
      fields: { id: number, name: text },
      relations: { stays: { label: 'Stays', to: 'stay', kind: 'many', on: { id: 'hut_id' } } },
    },
    stay: {
      label: 'Stay',
      plural: 'Stays',
      key: 'id',
      fields: { id: number, hut_id: number, arrival: { label: 'Arrival', type: 'date' }, nights: number },
    },
    reading: {
      label: 'Reading',
      plural: 'Readings',
      key: 'id',
      fields: { id: number, read_at: { label: 'Read at', type: 'datetime' }, wind: number },
    },
  },
});
const run = await toPdf(model, pgliteConnection(database));

/** Ten huts on a page, each with its name and, if wished, a chart of its nights by month. */
const huts = (hasChart: boolean): object => {
  const chart = {
    kind: 'chart',
    id: 'chart',
    x: 60,
    y: 1,
    width: 110,
    height: 24,
    rows: { relation: 'stays' },
    along: { name: 'month', by: 'arrival', per: 'month', format: 'mmm' },
    measures: [{ formula: 'SUM(nights)', format: '0' }],
  };
  const items = [
    { kind: 'field', id: 'name', x: 0, y: 0, width: 55, height: 6, formula: 'name' },
    ...(hasChart ? [chart] : []),
  ];
  return {
    name: 'Huts',
    body: [{ id: 'huts', name: 'hut', rows: { entity: 'hut' }, detail: { height: 26.5, items } }],
  };
};

const wind = (): object => ({
  name: 'Wind',
  header: {
    height: 100,
    items: [
      {
        kind: 'chart',
        id: 'wind',
        x: 0,
        y: 0,
        width: 170,
        height: 90,
        type: 'line',
        rows: { entity: 'reading' },
        along: { name: 'at', by: 'read_at' },
        measures: [{ formula: 'MAX(wind)', format: '0.0' }],
      },
    ],
  },
});

console.log(`${HUTS.toLocaleString('en')} small charts, to PDF`);
const taken = { without: [] as number[], with: [] as number[] };
let made = { pages: 0, bytes: 0 };
let plain = made;
for (let round = 0; round < ROUNDS; round++) {
  const without = await time(() => run(huts(false)));
  const withCharts = await time(() => run(huts(true)));
  taken.without.push(without.seconds);
  taken.with.push(withCharts.seconds);
  plain = without.value;
  made = withCharts.value;
}
const [without, withCharts] = [median(taken.without), median(taken.with)];
line('the report without them (baseline)', without, `${plain.pages} pages, ${Math.round(plain.bytes / 1000)} kB`);
line('with a chart for each hut', withCharts, `${made.pages} pages, ${Math.round(made.bytes / 1000)} kB`);
console.log(`    ${(((withCharts - without) / HUTS) * 1000).toFixed(2)} ms for each chart; aim: under 3 ms`);

console.log(`A line of ${POINTS.toLocaleString('en')} readings`);
const sql = async (): Promise<number> =>
  (await database.query('select read_at, max(wind) from reading group by 1 order by 1')).rows.length;
const lines = { sql: [] as number[], whole: [] as number[] };
let drawn = { pages: 0, bytes: 0 };
for (let round = 0; round < ROUNDS; round++) {
  lines.sql.push((await time(sql)).seconds);
  const one = await time(() => run(wind()));
  lines.whole.push(one.seconds);
  drawn = one.value;
}
const [bare, whole] = [median(lines.sql), median(lines.whole)];
line('its numbers by the same GROUP BY (baseline)', bare);
line('its chart on a page, to PDF', whole, `${(whole / bare).toFixed(2)} times; ${Math.round(drawn.bytes / 1000)} kB`);
process.exit(0);
