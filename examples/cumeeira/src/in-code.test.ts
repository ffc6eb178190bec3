import type { PGlite } from '@electric-sql/pglite';
import { beforeAll, expect, it } from 'vitest';
import { ledgerInCode } from './in-code.ts';
import { fewHuts, runOver } from './run.test-support.ts';

let database: PGlite;
beforeAll(async () => {
  database = await fewHuts();
});

const parsed = (text: string): number => Number(text.replace(/[^\d.-]/g, ''));

it('a ledger that is written in code adds up what the database adds up, at each level', async () => {
  const report = ledgerInCode();
  const charges = report.body[0]!.drawers![0]!.drawers![0]!;
  const total = charges.footer!.items.at(-1)!.id;
  const { marks, result } = await runOver(database, report, { given: { season: 2024 } });
  expect(result.allProblems).toEqual([]);
  const shown = marks.filter(({ item }) => item === total).map(({ text }) => parsed(text));
  const { rows } = await database.query<{ sum: string; stays: number }>(
    `select sum(amount)::text as sum, count(distinct stay_id)::int as stays from charge
     join stay on stay.id = stay_id where extract(year from arrival) = 2024`,
  );
  expect(shown).toHaveLength(rows[0]!.stays);
  expect(shown.reduce((sum, value) => sum + value, 0)).toBeCloseTo(Number(rows[0]!.sum), 1);
});

it('says its words in the language that it is written in', async () => {
  const { texts } = await runOver(database, ledgerInCode('pt-PT'), { given: { season: 1999 } });
  expect(texts.join(' ')).toContain('Página 1 de 1');
});
