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
