import { listReport, readDefinition } from '@gaveta/core/internal';
import { expect, it } from 'vitest';
import { openDemo, runAt } from './demo-runs.test-support.ts';

const demo = await openDemo();

/** Conditions over charges that a database is given, with values, blanks and small differences in all of them. */
const CONDITIONS = [
  'kind = "BUNK"',
  'kind <> "Bunk"',
  'kind < "Linen"',
  'note = ""',
  'note <> "x"',
  'CONTAINS(stay.member.name; "Á")',
  'STARTSWITH(stay.hut.name; "p")',
  'ENDSWITH(stay.hut.name; "O")',
  'UPPER(stay.hut.name) = "BRECHA DO SOL"',
  'ONEOF(kind; "BUNK"; "Linen")',
  'EXACT(kind; "bunk")',
  'NOT(EXACT(note; "paid"))',
  'EXACT(note; "")',
  'LEN(stay.member.name) > 12',
  'RIGHT(kind; 2) = "nk"',
  'MID(stay.hut.name; 2; 3) = "ec "',
  'MID(stay.hut.name; 2; 3) < "m"',
  'CONCATENATE(kind; note) = "bunk"',
  'IFBLANK(note; "none") = "none"',
  'IFBLANK(unit_price; 7) = 7',
  'ROUND(amount; 0) = amount',
  'ROUND(amount * 0.333; -1) = 10',
  'ROUND(-amount; 1) = -amount',
  'INT(amount * -0.1) = -2',
  'SIGN(amount - 20) = -1',
  'MOD(amount; 7) = 0',
  'MOD(-amount; 2.5) > 2',
  'WEEKDAY(stay.arrival) = 1',
  'WEEKDAY(stay.arrival; 2) = 6',
  'WEEKDAY(stay.arrival; 3) = 0',
  'WEEKDAY(stay.booked_at) = 7',
  'ISOWEEKNUM(stay.arrival) = 27',
  'LEFT(stay.member.name; 1) = "á"',
  'INITIAL(stay.member.name) = "A"',
  'TEXTJOIN("-"; TRUE(); kind; note) = "bunk"',
];

const charges = (filter: string): object => ({
  gaveta: 2,
  name: 'Charges',
  model: 'cumeeira',
  body: [
    {
      ...{
        id: 'charges',
        name: 'charge',
        rows: { entity: 'charge' },
        filter,
        sort: [{ by: 'amount' }, { by: 'note' }],
      },
      detail: {
        height: 5,
        items: [{ kind: 'field', id: 'f', formula: 'amount', x: 0, y: 0, width: 30, height: 5 }],
      },
    },
  ],
});

const found = async (filter: string): Promise<{ count: number; sum: number; isPushed: boolean }> => {
  const read = readDefinition(charges(filter));
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const { plan, parameters, open } = demo.planned(read.report);
  expect(plan.problems, filter).toEqual([]);
  let [count, sum] = [0, 0];
  await listReport(plan).rows(
    {
      begins: () => {},
      row: (_, [amount]) => {
        count++;
        sum += Number(String(amount ?? 0));
      },
      rowEnds: () => {},
      ends: () => {},
    },
    { open, parameters, runAt } as never,
  );
  return { count, sum: Math.round(sum * 100), isPushed: plan.levels[0]!.localFilter === null };
};

it.each(CONDITIONS)('%s holds for the same rows in the database as here', async (condition) => {
  const there = await found(condition);
  // No database knows IFERROR.
  const here = await found(`IFERROR(${condition}; FALSE)`);
  expect([there.isPushed, here.isPushed]).toEqual([true, false]);
  expect([there.count, there.sum]).toEqual([here.count, here.sum]);
});

it.each([
  'INT(amount / 3 * 3) = amount',
  'ROUND(amount / 7; 0) = 2',
  'MOD(amount; unit_price) = 0',
  'MID(kind; 1; LEN(note)) = "b"',
])('%s is worked out here, where digits that were rounded off are forgiven, and nothing fails for all rows', async (condition) => {
  expect((await found(condition)).isPushed).toBe(false);
});
