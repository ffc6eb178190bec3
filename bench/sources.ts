import { PGlite } from '@electric-sql/pglite';
import { planReport, type Report, readDefinition } from '@gaveta/core/internal';
import { type Connection, defineModel, openRows, pgliteConnection, streamConnection, Workbench } from '@gaveta/server';
import { line, median, time } from './measure.ts';

/** 100,000 rows that a host streams, related to 10,000 of a database, against the same join with both in the database. */
const PARENTS = 10_000;
const CHILDREN = 100_000;
const ROUNDS = 5;

const database = new PGlite();
await database.exec(`
  create table parent (year int, code text, name text, primary key (year, code));
  create table child (id int primary key, year int, code text, amount numeric(10,2));
  insert into parent select 2000 + i % 10, 'c' || (i / 10), 'parent ' || i from generate_series(0, ${PARENTS - 1}) i;
  insert into child select i, 2000 + i % 10, 'c' || (i % ${PARENTS} / 10), i * 0.05 from generate_series(1, ${CHILDREN}) i;
  create index on child (year, code); analyze;
`);
const number = { label: 'n', type: 'number' as const };
const text = { label: 't', type: 'text' as const };
const parent = {
  label: 'Parent',
  plural: 'Parents',
  key: ['year', 'code'],
  fields: { year: number, code: text, name: text },
};
const child = {
  label: 'Child',
  plural: 'Children',
  key: 'id',
  fields: { id: number, year: number, code: text, amount: number },
};
const inDatabase = defineModel({ name: 'database', label: 'd', connection: 'main', entities: { parent, child } });
const streamed = defineModel({ name: 'host', label: 'h', connection: 'host', entities: { child } });

const connections = new Map<string, Connection>([
  ['main', pgliteConnection(database)],
  [
    'host',
    streamConnection({
      *child() {
        for (let i = 1; i <= CHILDREN; i++)
          yield {
            id: i,
            year: 2000 + (i % 10),
            code: `c${Math.floor((i % PARENTS) / 10)}`,
            amount: (i * 0.05).toFixed(2),
          };
      },
    }),
  ],
]);

const reportOver = (model: string): Report => {
  const read = readDefinition({
    gaveta: 2,
    name: 'Related',
    queries: [
      { name: 'parents', steps: [{ step: 'take', from: { model: 'database', entity: 'parent' } }] },
      { name: 'children', steps: [{ step: 'take', from: { model, entity: 'child' } }] },
    ],
    relations: [
      {
        name: 'children',
        from: 'parents',
        to: 'children',
        kind: 'many',
        on: [
          { here: 'year', there: 'year' },
          { here: 'code', there: 'code' },
        ],
      },
    ],
    body: [
      {
        id: 'p',
        name: 'p',
        rows: { entity: 'parents' },
        detail: { height: 5, items: [{ kind: 'field', id: 'f', x: 0, y: 0, width: 50, height: 5, formula: 'name' }] },
        drawers: [
          {
            id: 'c',
            name: 'c',
            rows: { relation: 'children' },
            detail: {
              height: 5,
              items: [{ kind: 'field', id: 'g', x: 0, y: 0, width: 50, height: 5, formula: 'amount' }],
            },
          },
        ],
      },
    ],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.report;
};

const workbench = new Workbench();
const models = new Map([
  ['database', inDatabase],
  ['host', streamed],
]);
/** All rows of both levels, in the order in which a report reads them. */
const rowsOf = async (model: string): Promise<number> => {
  const plan = planReport(reportOver(model), {
    models: [inDatabase.model, streamed.model],
    report: () => null,
    rowsFromDatabase: true,
  });
  if (plan.problems.length > 0) throw new Error(JSON.stringify(plan.problems));
  const opened = await openRows(plan, {
    models,
    connections,
    claims: {},
    parameters: {},
    maxRows: 1e6,
    workbench: () => workbench,
  });
  let rows = 0;
  for (const level of plan.levels) for await (const batch of opened.source(level)) rows += batch.length;
  await opened.close();
  return rows;
};
// The workbench starts once for a server.
await workbench.connection.textOrder();
await rowsOf('host');
const across: number[] = [];
const within: number[] = [];
const join: number[] = [];
for (let round = 0; round < ROUNDS; round++) {
  const a = await time(() => rowsOf('host'));
  const b = await time(() => rowsOf('database'));
  const c = await time(() =>
    database.query(
      'select p.name, c.amount from parent p join child c on c.year = p.year and c.code = p.code order by p.year, p.code, c.id',
      [],
      { rowMode: 'array' },
    ),
  );
  if (a.value !== PARENTS + CHILDREN || b.value !== a.value || c.value.rows.length !== CHILDREN)
    throw new Error(`${a.value} and ${b.value} rows`);
  across.push(a.seconds);
  within.push(b.seconds);
  join.push(c.seconds);
}
console.log(
  `${CHILDREN} rows streamed by the host, related by two keys to ${PARENTS} of a database (medians of ${ROUNDS})`,
);
line('one join in SQL, both in the database', median(join));
line(
  'as a report, both in the database',
  median(within),
  `${(median(within) / median(join)).toFixed(2)} times the join`,
);
line(
  'as a report, across the two sources',
  median(across),
  `${(median(across) / median(join)).toFixed(2)} times the join`,
);
await workbench.close();
await database.close();
process.exit(0);
