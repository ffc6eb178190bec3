import {
  CalendarDate,
  checkFormula,
  compileFormula,
  Decimal,
  Moment,
  NO_PAGE,
  type Value,
} from '@gaveta/core/internal';
import { median } from './measure.ts';

/**
 * Formulas over 100,000 rows, each against the same in plain JavaScript over plain numbers and texts, which are neither exact nor
 * checked. The median of five times.
 */
const ROWS = 100_000;
const FIELDS = {
  amount: 'number',
  rate: 'number',
  quantity: 'number',
  name: 'text',
  status: 'text',
  arrival: 'date',
} as const;
type Field = keyof typeof FIELDS;

const STATUS = ['booked', 'stayed', 'no-show', 'cancelled'];
const plain = Array.from({ length: ROWS }, (_, i) => ({
  amount: (i * 37) % 100_000,
  rate: (i % 7) * 0.05,
  quantity: i % 40,
  name: `Hut of ${i % 500}`,
  status: STATUS[i % 4]!,
  arrival: 18_000 + (i % 2000),
}));
const rows = plain.map(({ amount, rate, quantity, name, status, arrival }): Value[] => [
  1,
  Decimal.of(amount, 2),
  Decimal.of(Math.round(rate * 100), 2),
  quantity,
  name,
  status,
  CalendarDate.at(arrival),
]);

type Row = (typeof plain)[number];
const day = (at: number): Date => new Date(at * 86_400_000);
const FORMULAS: readonly (readonly [string, (row: Row) => unknown])[] = [
  ['amount * quantity', (r) => (r.amount / 100) * r.quantity],
  ['ROUND(amount * (1 + rate); 2)', (r) => Math.round((r.amount / 100) * (1 + r.rate) * 100) / 100],
  ['amount / (quantity + 3)', (r) => r.amount / 100 / (r.quantity + 3)],
  ['IF(amount > 500; "high"; "low")', (r) => (r.amount / 100 > 500 ? 'high' : 'low')],
  ['status = "stayed"', (r) => r.status === 'stayed'],
  ['AND(status <> "cancelled"; quantity > 3)', (r) => r.status !== 'cancelled' && r.quantity > 3],
  ['name < "Hut of 3"', (r) => r.name < 'Hut of 3'],
  ['UPPER(LEFT(name; 3)) & "-" & quantity', (r) => `${r.name.slice(0, 3).toUpperCase()}-${r.quantity}`],
  ['CONTAINS(name; "OF 4")', (r) => r.name.toLowerCase().includes('of 4')],
  [
    'YEAR(arrival) * 12 + MONTH(arrival)',
    (r) => day(r.arrival).getUTCFullYear() * 12 + day(r.arrival).getUTCMonth() + 1,
  ],
  ['TEXT(amount; "#,##0.00")', (r) => (r.amount / 100).toFixed(2)],
  ['quantity ^ 2', (r) => r.quantity ** 2],
];

const scope = {
  name: ([name = '']: readonly string[]) => {
    const column = Object.keys(FIELDS).indexOf(name) + 1;
    return { kind: 'field' as const, level: 0, column, type: FIELDS[name as Field] };
  },
  rows: () => {
    throw new Error('no totals here');
  },
  previous: () => {
    throw new Error('no rows before');
  },
  depth: () => {
    throw new Error('no depth');
  },
  isRowScope: () => false,
  suggestions: () => [],
};

const seconds = (work: () => void): number => {
  const times = Array.from({ length: 5 }, () => {
    const started = performance.now();
    work();
    return (performance.now() - started) / 1000;
  });
  return median(times);
};

let kept: unknown;
console.log('formulas: millions a second, the same in plain JavaScript, and the ratio');
for (const [source, inPlain] of FORMULAS) {
  const checked = checkFormula(source, scope as never);
  if (!checked.ok) throw new Error(`${source}: ${checked.problems.map(({ code }) => code).join()}`);
  const run = compileFormula(checked.formula);
  const context = {
    ...{ rows: [rows[0]!], before: [], parameters: {}, totals: { value: () => null }, page: NO_PAGE },
    report: { name: 'Bench', runAt: new Moment(0), timeZone: 'UTC', language: 'en' },
  };
  const ours = seconds(() => {
    for (const row of rows) {
      context.rows[0] = row;
      kept = run(context as never);
    }
  });
  const theirs = seconds(() => {
    for (const row of plain) kept = inPlain(row);
  });
  const millions = (time: number): string => (ROWS / time / 1e6).toFixed(2).padStart(8);
  console.log(`  ${source.padEnd(44)} ${millions(ours)} ${millions(theirs)} ${(ours / theirs).toFixed(1).padStart(7)}`);
}
if (kept === undefined) throw new Error('nothing was worked out');
