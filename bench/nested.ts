import { PGlite } from '@electric-sql/pglite';
import { planReport, problemText, type Report, readDefinition, runReport } from '@gaveta/core/internal';
import { loadShippedFonts } from '@gaveta/output';
import { defineModel, openRows, pgliteConnection } from '@gaveta/server';
import { line, median, time } from './measure.ts';

/** 10,000 parents, each with a subreport in a subreport in a subreport, against one join of the same tables. */
const PARENTS = 10_000;
const ROUNDS = 3;

const database = new PGlite();
await database.exec(`
  create table a (id int primary key, name text);
  create table b (id int primary key, a_id int, name text, amount numeric(10,2));
  create table c (id int primary key, b_id int, name text, amount numeric(10,2));
  create table d (id int primary key, c_id int, name text, amount numeric(10,2));
  insert into a select i, 'parent ' || i from generate_series(1, ${PARENTS}) i;
  insert into b select i, (i + 1) / 2, 'b ' || i, i * 0.05 from generate_series(1, ${PARENTS * 2}) i;
  insert into c select i, (i + 1) / 2, 'c ' || i, i * 0.05 from generate_series(1, ${PARENTS * 4}) i;
  insert into d select i, (i + 1) / 2, 'd ' || i, i * 0.05 from generate_series(1, ${PARENTS * 8}) i;
  create index on b (a_id); create index on c (b_id); create index on d (c_id); analyze;
`);

const number = { label: 'n', type: 'number' as const };
const text = { label: 't', type: 'text' as const };
const entity = (parent: string | null) => ({
  label: 'e',
  plural: 'e',
  key: 'id',
  fields: {
    id: number,
    name: text,
    ...(parent ? { [parent]: number, amount: number } : {}),
  },
});
const model = defineModel({
  name: 'nested',
  label: 'Nested',
  connection: 'main',
  entities: { a: entity(null), b: entity('a_id'), c: entity('b_id'), d: entity('c_id') },
});

const field = (id: string, formula: string, x: number) => ({
  kind: 'field',
  id,
  formula,
  x,
  y: 0,
  width: 40,
  height: 4,
  look: { size: 8 },
});
/** A report of one entity; `inner` is the report nested in each of its rows, which are linked to the outer one by `key`. */
const reportOf = (name: string, key: string | null, inner: string | null): Report => {
  const sub = { kind: 'subreport', id: 's', x: 4, y: 4, width: 150, height: 4, report: inner, links: { outer: 'id' } };
  const read = readDefinition({
    gaveta: 2,
    name,
    model: 'nested',
    parameters: key ? [{ name: 'outer', label: 'Outer', type: 'number', required: true }] : [],
    body: [
      {
        id: 'rows',
        name,
        rows: { entity: name },
        ...(key ? { filter: `${key} = outer` } : {}),
        detail: {
          height: inner ? 8 : 4,
          items: [field('n', 'name', 0), ...(key ? [field('m', 'amount', 50)] : []), ...(inner ? [sub] : [])],
        },
      },
    ],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.report;
};
const nested: Record<string, Report> = {
  b: reportOf('b', 'a_id', 'c'),
  c: reportOf('c', 'b_id', 'd'),
  d: reportOf('d', 'c_id', null),
};
const outer = reportOf('a', null, 'b');
const book = await loadShippedFonts();

const gaveta = async () => {
  const plan = planReport(outer, { models: [model.model], report: (id) => nested[id] ?? null, rowsFromDatabase: true });
  if (plan.problems.length > 0) throw new Error(plan.problems.map(problemText).join(' '));
  const result = await runReport({
    plan,
    book,
    parameters: {},
    open: () =>
      openRows(plan, {
        models: new Map([['nested', model]]),
        connections: new Map([['main', pgliteConnection(database)]]),
        claims: {},
        parameters: {},
        maxRows: 1e7,
      }),
    onPage: () => {},
  });
  return {
    rows: result.rows,
    pages: result.pages,
    queries: result.opened.queries.length,
    layout: result.work.layout / 1000,
  };
};

const join = async (): Promise<number> => {
  const { rows } = await database.query(
    `select a.name as a, b.name as b, b.amount as bm, c.name as c, c.amount as cm, d.name as d, d.amount as dm
     from a join b on b.a_id = a.id join c on c.b_id = b.id join d on d.c_id = c.id order by a.id, b.id, c.id, d.id`,
    [],
    { rowMode: 'array' },
  );
  return rows.length;
};

console.log(`${PARENTS.toLocaleString('en')} parents, each with three subreports nested in one another`);
const seconds: Record<'gaveta' | 'join' | 'fetch', number[]> = { gaveta: [], join: [], fetch: [] };
let last = await gaveta();
let joined = 0;
for (let round = 0; round < ROUNDS; round++) {
  const run = await time(gaveta);
  last = run.value;
  seconds.gaveta.push(run.seconds);
  seconds.fetch.push(run.seconds - run.value.layout);
  const baseline = await time(join);
  joined = baseline.value;
  seconds.join.push(baseline.seconds);
}
const [whole, fetched, baseline] = [median(seconds.gaveta), median(seconds.fetch), median(seconds.join)];
line('Gaveta: queries, rows, layout', whole, `${last.rows} rows, ${last.pages} pages`);
line('  of that its queries and rows', fetched, `${last.queries} queries (aim: at most one a level, 4)`);
line('baseline: one SQL join of the same tables, fetched', baseline, `${joined} rows`);
console.log(
  `  Gaveta’s rows take ${(fetched / baseline).toFixed(2)} times the join, the whole ${(whole / baseline).toFixed(2)} times`,
);
process.exit(0);
