import type { PGlite } from '@electric-sql/pglite';
import type { FigureMark } from '@gaveta/core';
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { CHARGE_TOTALS, CHARGES } from './charges-in-sql.test-support.ts';
import { definition, fewHuts, LONGER, rowsShown, runOver } from './run.test-support.ts';

let database: PGlite;
beforeAll(async () => {
  database = await fewHuts();
});

/** What a chart goes along or is split by, and the SQL that means the same, as text. */
interface Key {
  by: string;
  sql: string;
  more: Record<string, unknown>;
}
const ALONG: readonly Key[] = [
  { by: 'kind', sql: 'c.kind', more: {} },
  { by: 'stay.hut.name', sql: 'h.name', more: {} },
  {
    by: 'stay.arrival',
    sql: `to_char(date_trunc('month', s.arrival::timestamp), 'YYYY-MM-DD')`,
    more: { per: 'month', format: 'yyyy-mm-dd', gaps: false },
  },
  { by: 'stay.party_size', sql: 's.party_size', more: { format: '0' } },
  {
    by: 'unit_price',
    sql: 'floor(c.unit_price / 20) * 20',
    more: { per: 'range', width: 20, format: '0', gaps: false },
  },
];
const SPLIT: readonly Key[] = [
  { by: 'stay.status', sql: 's.status', more: {} },
  { by: 'stay.hut.region.name', sql: 'r.name', more: {} },
  { by: 'quantity > 1', sql: `case when c.quantity > 1 then 'TRUE' else 'FALSE' end`, more: {} },
];
const FROM = `${CHARGES} join member m on m.id = s.member_id`;
const BLANK = '(blank)';

const place = fc.constantFrom('own' as const, 'header' as const, 'footer' as const);
const shape = fc.record({
  place,
  along: fc.constantFrom(...ALONG),
  split: fc.option(fc.constantFrom(...SPLIT)),
  panels: fc.option(fc.constantFrom(...SPLIT), { freq: 3 }),
  total: fc.constantFrom(...CHARGE_TOTALS),
  first: fc.option(fc.integer({ min: 1, max: 4 }), { freq: 2 }),
  type: fc.constantFrom('column', 'bar', 'line', 'area'),
});
type Shape = typeof shape extends fc.Arbitrary<infer S> ? S : never;

const EMPTY = 'Nothing';

const reportWith = ({ place, along, split, panels, total, first, type }: Shape) => {
  const group = (name: string, key: Key | null) => (key ? { [name]: { name, by: key.by, ...key.more } } : {});
  const item = {
    kind: 'chart',
    id: 'x',
    x: 0,
    y: 0,
    width: 180,
    height: 100,
    type,
    ...group('split', split),
    ...group('panels', panels === split ? null : panels),
    along: { name: 'along', by: along.by, ...along.more, ...(first ? { first, others: 'Others' } : {}) },
    measures: [{ formula: total.formula, format: '' }],
    empty: EMPTY,
  };
  const base = { timeZone: 'Europe/Lisbon' };
  const rows = { entity: 'charge', filter: 'stay.id < 400' };
  if (place === 'own') return definition({ ...base, header: { height: 110, items: [{ ...item, rows }] } });
  const charges = { id: 'c', name: 'charge', rows: { entity: 'charge' }, filter: 'stay.id < 400' };
  return definition({ ...base, [place]: { height: 110, items: [item] }, body: [charges] });
};

/** What SQL says of the same groups: values by panel, place and series. */
const asked = async ({ along, split, panels, total, first }: Shape): Promise<Map<string, string>> => {
  const own = panels === split ? null : panels;
  const text = (key: Key | null): string => (key ? `coalesce((${key.sql})::text, '${BLANK}')` : `''`);
  // Those that come first in the order of the report: numbers by their size, texts by their letters, what is blank last.
  const order = along.by === 'kind' || along.by === 'stay.hut.name' ? `(${along.sql}) collate "unicode"` : along.sql;
  const kept = first
    ? `case when (${along.sql}) in (select k from (select distinct (${along.sql}) as k, ${order} as o from ${FROM} where s.id < 400 and (${along.sql}) is not null) d order by o limit ${first}) then ${text(along)} else 'Others' end`
    : text(along);
  const { rows } = await database.query<string[]>(
    `select ${text(own)}, ${kept}, ${text(split)}, (${total.sql})::text from ${FROM} where s.id < 400 group by 1, 2, 3`,
    [],
    { rowMode: 'array' },
  );
  return new Map(rows.map(([panel, at, series, value]) => [`${panel}|${at}|${series}`, value ?? '']));
};

describe('charts', () => {
  it('show the totals that SQL finds of the same groups, the others put together included', async () => {
    await fc.assert(
      fc.asyncProperty(shape, async (of) => {
        const { plan, pages, result } = await runOver(database, reportWith(of));
        expect(result.allProblems.filter(({ severity }) => severity === 'error')).toEqual([]);
        const figure = pages.flatMap(({ marks }) => marks).find((mark): mark is FigureMark => mark.kind === 'figure')!;
        const wanted = await asked(of);
        const [captions, ...rows] = figure.table;
        const hasPanels = of.panels !== null && of.panels !== of.split;
        const found = new Map<string, string>();
        for (const [label, ...values] of rows) {
          const cut = hasPanels ? label!.indexOf(', ') : -1;
          const [panel, at] = cut < 0 ? ['', label!] : [label!.slice(0, cut), label!.slice(cut + 2)];
          for (const [i, value] of values.entries()) {
            const series = of.split ? captions![i + 1]! : '';
            if (value !== '') found.set(`${panel}|${at}|${series}`, value);
          }
        }
        const isValue = ([, value]: [string, string]): boolean => value !== '';
        const inSql = Object.fromEntries([...wanted].filter(isValue).sort());
        expect(Object.fromEntries([...found].sort())).toEqual(inSql);
        const listed = (await rowsShown(database, plan, 'x')).map((row): [string, string] => {
          const value = row.pop()!;
          const [at, ...others] = row.map((one) => one || BLANK);
          const panel = hasPanels ? others.shift() : '';
          return [`${panel}|${at}|${others[0] ?? ''}`, value];
        });
        expect(Object.fromEntries(listed.filter(isValue).sort())).toEqual(inSql);
      }),
      { numRuns: 40 * LONGER, seed: 16 },
    );
  }, 120_000);
});
