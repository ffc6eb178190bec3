import type { PGlite } from '@electric-sql/pglite';
import { problemText } from '@gaveta/core';
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { type Both, CHARGE_TOTALS, CHARGES } from './charges-in-sql.test-support.ts';
import { definition, fewHuts, LONGER, lines, runOver } from './run.test-support.ts';

let database: PGlite;
beforeAll(async () => {
  database = await fewHuts();
});

const rowsOf = async (text: string): Promise<string[][]> =>
  (await database.query<string[]>(text, [], { rowMode: 'array' })).rows.map((row) => row.map((v) => String(v ?? '')));

const shown = async (report: ReturnType<typeof definition>, item: string): Promise<string[]> => {
  const { plan, result, marks } = await runOver(database, report);
  expect([...plan.problems, ...result.problems].map(problemText)).toEqual([]);
  return marks.filter((m) => m.item === item).map((m) => m.text);
};

const group = (by: string, sql: string, more: object = {}, order = sql) => ({ by, sql, order, more });
const text = (by: string, sql: string, more: object = {}) => group(by, sql, more, `${sql} collate "unicode"`);

const GROUPS = [
  text('kind', 'c.kind'),
  text('stay.status', 's.status'),
  text('stay.hut.region.name', 'r.name'),
  text('stay.hut.name', `upper(left(normalize(h.name, NFD), 1))`, { per: 'letter' }),
  group('stay.arrival', `to_char(date_trunc('month', s.arrival::timestamp), 'YYYY-MM-DD')`, { per: 'month' }),
  group('stay.arrival', `to_char(date_trunc('quarter', s.arrival::timestamp), 'YYYY-MM-DD')`, { per: 'quarter' }),
  group('stay.booked_at', `to_char(date_trunc('week', s.booked_at at time zone 'Europe/Lisbon'), 'YYYY-MM-DD')`, {
    per: 'week',
  }),
  group('amount', 'floor(c.amount / 250) * 250', { per: 'range', width: 250 }),
  group('stay.party_size', 's.party_size'),
];
const FILTERS: Both[] = [
  { formula: 'amount > 100', sql: 'c.amount > 100' },
  { formula: 'stay.party_size >= 4', sql: 's.party_size >= 4' },
  { formula: 'YEAR(stay.arrival) = 2025', sql: 'extract(year from s.arrival) = 2025' },
  { formula: 'NOT(ISBLANK(unit_price))', sql: 'c.unit_price is not null' },
  // These two run on fetched rows.
  { formula: 'ONEOF(kind; "bunk"; "linen")', sql: `c.kind in ('bunk', 'linen')` },
  { formula: 'MOD(id; 7) = 3 * 1', sql: 'mod(c.id, 7) = 3' },
];

/** Sets of rows, with conditions and totals that are put together with one another. None of them leaves no row at all. */
const SETS = [
  {
    name: 'hut',
    key: { formula: 'id', sql: 'id' },
    filters: [
      { formula: 'beds > 30', sql: 'beds > 30' },
      { formula: 'LEN(name) > 9', sql: 'length(name) > 9' },
    ],
    totals: [
      { formula: 'SUM(beds)', sql: 'sum(beds)' },
      { formula: `COUNT('hut')`, sql: 'count(*)' },
      { formula: 'MAX(altitude)', sql: 'max(altitude_m)' },
    ],
  },
  {
    name: 'stay',
    key: { formula: 'id', sql: 'id' },
    filters: [
      { formula: 'AND(party_size > 4; id < 900)', sql: 'party_size > 4 and id < 900' },
      { formula: 'AND(status = "stayed"; id < 400)', sql: `status = 'stayed' and id < 400` },
    ],
    totals: [
      { formula: 'SUM(party_size)', sql: 'sum(party_size)' },
      { formula: 'MEDIAN(party_size)', sql: 'percentile_cont(0.5) within group (order by party_size)' },
    ],
  },
  {
    name: 'charge',
    key: { formula: 'stay.id', sql: 'stay_id' },
    filters: [
      { formula: 'AND(amount > 100; stay.id < 400)', sql: 'amount > 100 and stay_id < 400' },
      { formula: 'AND(kind = "bunk"; stay.id < 400)', sql: `kind = 'bunk' and stay_id < 400` },
    ],
    totals: [
      { formula: 'SUM(amount)', sql: 'trim_scale(sum(amount))' },
      { formula: 'MAX(amount)', sql: 'trim_scale(max(amount))' },
      { formula: 'COUNT(unit_price)', sql: 'count(unit_price)' },
    ],
  },
  {
    name: 'region',
    key: { formula: 'hectares', sql: 'hectares' },
    filters: [{ formula: 'hectares > 0', sql: 'hectares > 0' }],
    totals: [
      { formula: 'SUM(hectares)', sql: 'sum(hectares)' },
      { formula: 'COUNTDISTINCT(office)', sql: 'count(distinct office)' },
    ],
  },
];

const pick = <T>(list: readonly T[], least: number, most: number) =>
  fc.uniqueArray(fc.nat(list.length - 1), { minLength: least, maxLength: most }).map((at) => at.map((i) => list[i]!));

describe('plain SQL agrees', () => {
  it('with groups, their order and their totals before and after the rows', async () => {
    const property = fc.asyncProperty(
      pick(GROUPS, 1, 2),
      pick(FILTERS, 0, 2),
      pick(CHARGE_TOTALS, 2, 3),
      async (groups, filters, totals) => {
        const joined = (names: string[]): string => names.join(' & "|" & ');
        const said = joined(totals.map((t) => `(${t.formula})`));
        const keys = groups.map((g, i) =>
          /^(month|quarter|week)$/.test((g.more as { per?: string }).per ?? '') ? `TEXT(g${i}; "yyyy-mm-dd")` : `g${i}`,
        );
        const last = groups.length - 1;
        const report = definition({
          timeZone: 'Europe/Lisbon',
          footer: lines('whole', said),
          body: [
            {
              id: 'charges',
              name: 'charge',
              rows: { entity: 'charge' },
              filter: `AND(TRUE; ${[...filters.map((f) => f.formula), 'id < 1500'].join(';')})`
                .replaceAll('id <', 'stay.id <')
                .replace('MOD(id', 'MOD(stay.id'),
              groups: groups.map((g, i) => ({
                name: `g${i}`,
                by: g.by,
                ...g.more,
                ...(i === last
                  ? {
                      header: lines('before', joined([...keys, said])),
                      footer: lines('after', joined([...keys, said])),
                    }
                  : {}),
              })),
            },
          ],
        });
        const where = [...filters.map((f) => f.sql), 's.id < 1500'].join(' and ').replace('mod(c.id', 'mod(s.id');
        const from = `${CHARGES} join member m on m.id = s.member_id where ${where}`;
        const aggregates = totals.map((t) => `coalesce(${t.sql}::text, '')`).join(', ');
        const by = groups.map((g) => g.sql).join(', ');
        const wanted = (
          await rowsOf(
            `select ${groups.map((g) => `(${g.sql})::text`).join(', ')}, ${aggregates} from ${from} group by ${by} order by ${groups.map((g) => g.order).join(', ')}`,
          )
        ).map((row) => row.join('|'));
        expect(await shown(report, 'before_0')).toEqual(wanted);
        expect(await shown(report, 'after_0')).toEqual(wanted);
        const whole = (await rowsOf(`select ${aggregates} from ${from}`)).map((row) => row.join('|'));
        expect(await shown(report, 'whole_0')).toEqual(whole);
      },
    );
    await fc.assert(property, { numRuns: 12 * LONGER, seed: 20_260_703, endOnFailure: true });
  }, 240_000);

  it('with filters, sorts, ranks and first N by a total of inner rows, with the others', async () => {
    const property = fc.asyncProperty(
      fc.integer({ min: 1, max: 8 }),
      fc.integer({ min: 0, max: 90_000 }),
      fc.boolean(),
      fc.constantFrom('amount > 0', 'kind = "bunk"', 'quantity / 2 > 1'),
      async (first, least, shown5, filter) => {
        const sqlFilter = filter.replaceAll('"', "'").replace('quantity / 2 > 1', 'quantity / 2.0 > 1');
        const report = definition({
          body: [
            {
              id: 'regions',
              name: 'region',
              rows: { entity: 'region' },
              sort: [{ by: 'name' }],
              drawers: [
                {
                  id: 'huts',
                  name: 'hut',
                  rows: { relation: 'huts' },
                  filter: `SUM(amount) > ${least}`,
                  sort: [{ by: 'SUM(amount)', descending: shown5 }],
                  first,
                  detail: lines(
                    'hut',
                    'hut.name & "|" & SUM(amount) & "|" & RANK(SUM(amount)) & "|" & ROWNUMBER() & "|" & RUNNING(SUM(amount))',
                  ),
                  others: lines('others', `COUNT('hut') & "|" & SUM(amount)`),
                  footer: lines('all', `COUNT('hut') & "|" & SUM(amount)`),
                  drawers: [
                    {
                      id: 'stays',
                      name: 'stay',
                      rows: { relation: 'stays' },
                      drawers: [{ id: 'charges', name: 'charge', rows: { relation: 'charges' }, filter }],
                    },
                  ],
                },
              ],
            },
          ],
        });
        const direction = shown5 ? 'desc' : '';
        const base = `with h as (select r.name as region, h.id, h.name, coalesce(sum(c.amount) filter (where ${sqlFilter}), 0) as total
           from region r join hut h on h.region_id = r.id left join stay s on s.hut_id = h.id left join charge c on c.stay_id = s.id
           group by r.name, h.id, h.name having coalesce(sum(c.amount) filter (where ${sqlFilter}), 0) > ${least}),
           p as (select *, row_number() over (partition by region order by total ${direction}, id) as place, rank() over (partition by region order by total desc) as rank from h)`;
        const huts = await rowsOf(
          `${base} select name, trim_scale(total), rank, place, trim_scale(sum(total) over (partition by region order by place)) from p where place <= ${first} order by region collate "unicode", place`,
        );
        expect(await shown(report, 'hut_0')).toEqual(huts.map((row) => row.join('|')));
        const others = await rowsOf(
          `${base} select count(*), trim_scale(sum(total)) from p where place > ${first} group by region order by region collate "unicode"`,
        );
        expect(await shown(report, 'others_0')).toEqual(others.map((row) => row.join('|')));
        const all = await rowsOf(
          `${base} select count(*), trim_scale(sum(total)) from p group by region order by region collate "unicode"`,
        );
        expect(await shown(report, 'all_0')).toEqual(all.map((row) => row.join('|')));
      },
    );
    await fc.assert(property, { numRuns: 5 * LONGER, seed: 20_260_704, endOnFailure: true });
  }, 240_000);

  it('with inner rows of rows that are cut to the first few', async () => {
    const report = definition({
      body: [
        {
          id: 'huts',
          name: 'hut',
          rows: { entity: 'hut' },
          sort: [{ by: 'name' }],
          drawers: [
            {
              id: 'stays',
              name: 'stay',
              rows: { relation: 'stays' },
              first: 2,
              sort: [{ by: 'arrival', descending: true }, { by: 'id' }],
              drawers: [
                {
                  id: 'charges',
                  name: 'charge',
                  rows: { relation: 'charges' },
                  sort: [{ by: 'amount', blanks: 'first' }, { by: 'kind' }],
                  detail: lines('c', 'hut.name & "|" & stay.id & "|" & kind & "|" & amount'),
                },
              ],
            },
          ],
        },
      ],
    });
    const wanted = await rowsOf(
      `with s as (select s.*, row_number() over (partition by hut_id order by arrival desc, id) as place from stay s)
       select h.name, s.id, c.kind, coalesce(trim_scale(c.amount)::text, '') from hut h join s on s.hut_id = h.id and place <= 2 join charge c on c.stay_id = s.id
       order by h.name collate "unicode", h.id, s.place, c.amount nulls first, c.kind, c.id`,
    );
    expect(await shown(report, 'c_0')).toEqual(wanted.map((row) => row.join('|')));
  });

  it('with several sets of rows, counted by name from the report and from one another', async () => {
    const property = fc.asyncProperty(pick(SETS, 2, 4), fc.nat(1000), fc.boolean(), async (sets, draw, isBeside) => {
      const drawn = sets.map((set, i) => ({
        ...set,
        filter: set.filters[(draw + i) % set.filters.length]!,
        total: set.totals[(draw * 7 + i) % set.totals.length]!,
      }));
      const named = drawn.map(({ name, total }) => `${total.formula.slice(0, -1)}; '${name}')`);
      const all = named.map((formula) => `(${formula})`).join(' & "|" & ');
      const report = definition({
        header: lines('before', all),
        body: drawn.map(({ name, key, filter, total }, i) => ({
          id: `${name}s`,
          name,
          rows: { entity: name },
          filter: filter.formula,
          sort: [{ by: key.formula }],
          ...(isBeside ? { beside: { x: 45 * i, width: 40 } } : {}),
          // Each names a total of the next one, which may come before it or after.
          header: lines(`${name}h`, named[(i + 1) % named.length]!),
          detail: lines(name, key.formula),
          footer: lines(`${name}f`, total.formula),
        })),
        footer: lines('after', all),
      });
      const { plan, result, marks, rows } = await runOver(database, report);
      const wrong = [...plan.problems, ...result.problems].filter((p) => p.severity === 'error');
      expect(wrong.map(problemText)).toEqual([]);
      expect(rows.queries).toHaveLength(drawn.length);
      const of = (item: string): string[] => marks.filter((m) => m.item === item).map((m) => m.text);
      const one = async (what: string, { name, filter }: (typeof drawn)[number]): Promise<string[]> =>
        (await rowsOf(`select ${what} from ${name} where ${filter.sql}`)).map(([value]) => value!);
      const totals = await Promise.all(drawn.map(async (set) => (await one(set.total.sql, set))[0]!));
      expect(of('before_0')).toEqual([totals.join('|')]);
      expect(of('after_0')).toEqual([totals.join('|')]);
      for (const [i, set] of drawn.entries()) {
        const ids = (await one(set.key.sql, set)).sort((a, b) => Number(a) - Number(b));
        expect(of(`${set.name}_0`)).toEqual(ids);
        expect(of(`${set.name}f_0`)).toEqual([totals[i]]);
        expect(of(`${set.name}h_0`)).toEqual([totals[(i + 1) % totals.length]]);
      }
    });
    await fc.assert(property, { numRuns: 10 * LONGER, seed: 20_261_128, endOnFailure: true });
  }, 240_000);
});
