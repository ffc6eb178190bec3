import type { PGlite } from '@electric-sql/pglite';
import { PUSHABLE_FUNCTIONS, planRecipe, type Step } from '@gaveta/core/internal';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { pgliteConnection } from '../connection/pglite.ts';
import { openBlank } from '../embedded/blank.test-support.ts';
import { modelOf, number, table, text } from '../model/fields.test-support.ts';
import { RecipeDesk } from '../recipes/desk.ts';

/** A row that is not the caller's, on which whatever is done with a text or a number of it takes long. */
const HEAVY = `insert into charge values (9, 2, repeat('Ab c', 10000000), (repeat('7', 60000))::numeric, date '2024-01-01')`;

const model = modelOf('m', 'c', {
  charge: table(
    'Charge',
    {
      id: number,
      region_id: { ...number, hidden: true },
      name: text,
      amount: number,
      paid_on: { label: 'Paid on', type: 'date' },
      paid_at: { label: 'Paid at', type: 'datetime', column: 'paid_on' },
    },
    { scope: () => ({ keep: 'region_id = CLAIM("region")' }) },
  ),
});

/** Takes long where the number is long. */
const LONG = `(${Array(6).fill('amount * amount').join(' + ')})`;

/** Every function that the database may be given, each over fields of the row. */
const CONDITIONS = [
  'AND(name = "a"; OR(amount = 1; NOT(name <> "b")))',
  'ISBLANK(name & name)',
  'LEN(RIGHT(MID(CONCATENATE(name; UPPER(name & name)); 1; 90000); 9)) = ROUND(INT(SIGN(MOD(amount; 3))); 2)',
  'IFBLANK(UPPER(name & name); "a") = "A"',
  'WEEKDAY(paid_on) = ISOWEEKNUM(paid_on)',
  'EXACT(UPPER(name & name); "A")',
  'ISBLANK(IF(UPPER(name & name) = "A"; 1; BLANK()))',
  'TEXTJOIN(" "; TRUE(); name; name; name) = "a"',
  'YEAR(paid_on) = 2024',
  'QUARTER(paid_on) = 1',
  'MONTH(paid_on) = 1',
  'DAY(paid_on) = 1',
  'paid_on = DATE(2024; 1; 1)',
  'DAYS(paid_on; DATE(2020; 1; 1)) > 5',
  'PERIOD(paid_on; "month") = DATE(2024; 1; 1)',
  'PERIODHOUR(paid_at) = paid_at',
  `ABS(${LONG}) > 5`,
  `FLOOR(${LONG}; 7) > 5`,
  `RANGESTART(${LONG}; 7) > 5`,
  'UPPER(name & name) = "A"',
  'LOWER(name & name) = "a"',
  'LEFT(UPPER(name); 3) = "AB"',
  'INITIAL(UPPER(name)) = "A"',
  'CONTAINS(UPPER(name); "zz")',
  'STARTSWITH(UPPER(name); "zz")',
  'ENDSWITH(UPPER(name); "zz")',
  'ONEOF(UPPER(name); "a"; "b")',
  'OR(TRUE(); UPPER(name) = "A")',
  'AND(FALSE(); UPPER(name) = "A")',
];

let database: PGlite;
beforeAll(async () => {
  database = await openBlank();
  await database.exec(`create table charge (id int primary key, region_id int, name text, amount numeric, paid_on date);
    insert into charge values (1, 1, 'a', 10, date '2025-01-01'), (2, 1, 'b', 20, null); ${HEAVY}; analyze;`);
}, 120_000);
afterAll(() => database.close());

/** Milliseconds that counting the rows of a region takes for which something holds. */
const timeOf = async (region: number, formula: string): Promise<number> => {
  const steps: Step[] = [
    { step: 'take', from: { model: 'm', entity: 'charge' } },
    { step: 'keep', where: { formula } },
  ];
  const recipe = planRecipe(
    { name: 'r', steps },
    { models: [model.model], recipe: () => null, queries: [], parameters: [] },
  );
  expect(recipe.problems).toEqual([]);
  const desk = await RecipeDesk.open([recipe], {
    models: new Map([['m', model]]),
    connections: new Map([['c', pgliteConnection(database)]]),
    claims: { region },
    report: { name: '', language: 'en', timeZone: 'UTC', parameters: [] },
    values: {},
  });
  const from = performance.now();
  await desk.count(recipe);
  const took = performance.now() - from;
  await desk.close();
  return took;
};

it('covers every function that the database may be given', () => {
  const used = new Set(CONDITIONS.flatMap((condition) => condition.match(/\b[A-Z]+(?=\()/g) ?? []));
  expect([...PUSHABLE_FUNCTIONS].filter((name) => !used.has(name))).toEqual([]);
});

it('tells by its time of rows that the caller may see, so that the measure measures', async () => {
  await timeOf(2, 'UPPER(name & name) = "A"');
  expect(await timeOf(2, 'UPPER(name & name) = "A"')).toBeGreaterThan(200);
  expect(await timeOf(2, `ABS(${LONG}) > 5`)).toBeGreaterThan(200);
});

it.each(CONDITIONS)('no time tells of rows that are not the caller’s: %s', async (condition) => {
  const times = [];
  for (let i = 0; i < 3; i++) times.push(await timeOf(1, condition));
  expect(Math.min(...times)).toBeLessThan(100);
});
