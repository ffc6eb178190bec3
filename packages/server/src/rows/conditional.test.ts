import { type Mark, type Page, readDefinition, runReport } from '@gaveta/core/internal';
import { loadShippedFonts } from '@gaveta/output';
import { expect, it } from 'vitest';
import { demoDatabase } from '../services/huts.test-support.ts';
import { openDemo, runAt } from './demo-runs.test-support.ts';

const demo = await openDemo();

/** Each total with the SQL that says the same of one hut. */
const TOTALS: Record<string, [formula: string, sql: string]> = {
  stayed: ['COUNTIF(stay.status; "STAYED")', `count(distinct s.id) filter (where s.status = 'stayed')`],
  others: ['COUNTIF(stay.status; "<>stayed")', `count(distinct s.id) filter (where s.status <> 'stayed')`],
  large: ['SUMIF(charge.amount; ">=100")', 'coalesce(sum(c.amount) filter (where c.amount >= 100), 0)'],
  bunks: ['SUMIF(charge.kind; "bunk"; charge.amount)', `coalesce(sum(c.amount) filter (where c.kind = 'bunk'), 0)`],
  wood: [
    'SUMIFS(charge.amount; charge.kind; "firewood"; charge.quantity; ">1")',
    `coalesce(sum(c.amount) filter (where c.kind = 'firewood' and c.quantity > 1), 0)`,
  ],
  wild: ['COUNTIF(charge.kind; "*board")', `count(c.id) filter (where c.kind like '%board')`],
  most: ['MAXIFS(charge.amount; charge.kind; "linen")', `max(c.amount) filter (where c.kind = 'linen')`],
  early: [
    'COUNTIFS(stay.arrival; "<2025-07-01"; stay.status; "stayed")',
    `count(distinct s.id) filter (where s.arrival < date '2025-07-01' and s.status = 'stayed')`,
  ],
  blank: ['COUNTBLANK(charge.note)', `count(c.id) filter (where coalesce(c.note, '') = '')`],
  second: [
    'LARGE(charge.amount; 2)',
    `(array_agg(c.amount order by c.amount desc) filter (where c.amount is not null))[2]`,
  ],
  ninth: ['PERCENTILE(charge.amount; 0.9)', 'percentile_cont(0.9) within group (order by c.amount)'],
  alike: ['CORREL(charge.quantity; charge.amount)', 'corr(c.quantity, c.amount)'],
  squares: ['SUMSQ(charge.quantity)', 'coalesce(sum(c.quantity * c.quantity), 0)'],
  whole: ['SMALL(charge.amount; 1; report)', '(select min(amount) from charge)'],
  exact: [
    'SUM(IF(EXACT(charge.kind; "bunk"); charge.amount; 0))',
    `coalesce(sum(c.amount) filter (where c.kind = 'bunk'), 0)`,
  ],
  unlike: [
    'COUNT(IF(NOT(EXACT(charge.note; "paid")); 1; BLANK()))',
    `count(c.id) filter (where c.note is distinct from 'paid')`,
  ],
  empty: ['COUNT(IF(EXACT(charge.note; ""); 1; BLANK()))', `count(c.id) filter (where coalesce(c.note, '') = '')`],
  all: ['COUNTIF(charge.kind; "bunk"; report)', `(select count(*) from charge where kind = 'bunk')`],
};

const huts = (formulas: readonly string[]): object => ({
  gaveta: 2,
  name: 'Criteria',
  model: 'cumeeira',
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      sort: [{ by: 'id' }],
      detail: {
        height: 5,
        items: formulas.map((formula, i) => ({
          ...{ kind: 'field', id: `f${i}`, formula, x: i * 15, y: 0, width: 15, height: 5, format: '0.#####' },
        })),
      },
      drawers: [
        {
          id: 'stays',
          name: 'stay',
          rows: { relation: 'stays' },
          drawers: [{ id: 'charges', name: 'charge', rows: { relation: 'charges' } }],
        },
      ],
    },
  ],
});

it('totals of what meets criteria, and functions of what all rows have, say what SQL says, and are left to the database where it can', async () => {
  const read = readDefinition(huts(Object.values(TOTALS).map(([formula]) => formula)));
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const { plan, parameters, open } = demo.planned(read.report);
  expect(plan.problems.filter(({ severity }) => severity === 'error')).toEqual([]);
  const marks: Mark[] = [];
  const onPage = (page: Page): void => void marks.push(...page.marks);
  await runReport({ plan, book: await loadShippedFonts(), parameters, open, runAt, onPage });
  const columns = Object.values(TOTALS).map(([, sql], i) => `${sql} as f${i}`);
  const { rows } = await (await demoDatabase()).query<Record<string, string | null>>(`
    select h.id, ${columns.join(', ')} from hut h left join stay s on s.hut_id = h.id left join charge c on c.stay_id = s.id
    group by h.id order by h.id`);
  expect(rows.length).toBeGreaterThan(20);
  for (const [i, name] of Object.keys(TOTALS).entries()) {
    // Of no values there is no second one: the hut without stays says so.
    const shown = marks.flatMap((mark) =>
      mark.kind === 'text' && mark.item === `f${i}` && !mark.text.startsWith('#') ? [Number(mark.text)] : [],
    );
    const expected = rows.flatMap((row) => (row[`f${i}`] === null ? [] : [Number(row[`f${i}`])]));
    expect([name, shown.length]).toEqual([name, expected.length]);
    for (const [row, one] of shown.entries()) expect(one, `${name} ${row}`).toBeCloseTo(expected[row]!, 4);
  }
  // Those with wildcards, and those that need every value, are told here; all others come with the rows.
  const here = plan.totals.filter(({ column, name }) => column === 0 && name !== 'LIST');
  expect(here).toHaveLength(1);
});
