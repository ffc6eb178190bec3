import type { PGlite } from '@electric-sql/pglite';
import { type Page, problemText } from '@gaveta/core';
import fc from 'fast-check';
import { beforeAll, describe, expect, it } from 'vitest';
import { type Both, CHARGE_TOTALS, CHARGES } from './charges-in-sql.test-support.ts';
import { definition, fewHuts, LONGER, planOver, rowsShown, runOver } from './run.test-support.ts';

let database: PGlite;
beforeAll(async () => {
  database = await fewHuts();
});

/** A key of groups and the SQL that means the same, as text; `order` puts its values in the order of the report. */
interface Key {
  by: string;
  sql: string;
  order: string;
  more: Record<string, unknown>;
}
const key = (by: string, sql: string, more: Record<string, unknown> = {}, order = sql): Key => ({
  by,
  sql,
  order,
  more,
});
const words = (by: string, sql: string, more: Record<string, unknown> = {}): Key =>
  key(by, sql, more, `${sql} collate "unicode"`);
const period = (by: string, per: string, day: string): Key =>
  key(by, `to_char(date_trunc('${per}', ${day}), 'YYYY-MM-DD')`, { per, format: 'yyyy-mm-dd' });

const KEYS: Key[] = [
  words('kind', 'c.kind'),
  words('stay.status', 's.status'),
  words('stay.hut.region.name', 'r.name'),
  words('stay.hut.name', 'h.name'),
  words('stay.hut.name', 'upper(left(normalize(h.name, NFD), 1))', { per: 'letter' }),
  period('stay.arrival', 'year', 's.arrival::timestamp'),
  period('stay.arrival', 'month', 's.arrival::timestamp'),
  period('stay.booked_at', 'quarter', `s.booked_at at time zone 'Europe/Lisbon'`),
  key('stay.party_size', 's.party_size'),
  key('unit_price', 'floor(c.unit_price / 20) * 20', { per: 'range', width: 20, format: '0' }),
  // Blank where there is no price.
  key('unit_price', 'trim_scale(c.unit_price)', { format: '' }),
  // The database does not round as formulas do.
  key('ROUND(amount / 100)', 'trim_scale(round(coalesce(c.amount, 0) / 100))', { format: '0' }),
  key('quantity > 1', `case when c.quantity > 1 then 'TRUE' else 'FALSE' end`),
];

const TOTALS: readonly Both[] = [
  ...CHARGE_TOTALS,
  { formula: 'MAX(kind)', sql: 'max(c.kind collate "C")' },
  {
    formula: `ROUND(SUM(amount) / COUNT('charge'); 4)`,
    sql: 'trim_scale(round(coalesce(sum(c.amount), 0) / count(*), 4))',
  },
];

const FROM = `${CHARGES} join member m on m.id = s.member_id`;

const LABEL = 60;
const CELL = 6;
const EDGE = 5;
const POINTS = 72 / 25.4;

/** Where the crosstab stands, and how its instances are told apart in SQL: in the order in which they are shown. */
const PLACES = ['own', 'header', 'footer', 'row', 'group-header', 'group-footer'] as const;
type Place = (typeof PLACES)[number];

const INSTANCES: Record<Place, { sql: string; order: string } | null> = {
  own: null,
  header: null,
  footer: null,
  row: { sql: 'h.id', order: 'h.id' },
  'group-header': { sql: 'h.id', order: 'h.name collate "unicode"' },
  'group-footer': { sql: 'h.id', order: 'h.name collate "unicode"' },
};

const reportWith = (place: Place, crosstab: Record<string, unknown>) => {
  const item = { ...crosstab, kind: 'crosstab', id: 'x', x: 0, y: 0, width: 3990, height: 10 };
  const band = { height: 10, items: [item] };
  // One page holds all, so that no headings come again.
  const page = {
    paper: 'custom',
    width: 4000,
    height: 5000,
    margins: { top: EDGE, bottom: EDGE, left: EDGE, right: EDGE },
  };
  const base = { page, timeZone: 'Europe/Lisbon' };
  const charges = { id: 'c', name: 'charge', rows: { entity: 'charge' }, filter: 'stay.id < 500' };
  const groups = (name: string) => [{ name: 'at', by: 'stay.hut.name', [name]: band }];
  switch (place) {
    case 'own':
      return definition({
        ...base,
        header: {
          height: 10,
          items: [{ ...item, rows: { entity: 'charge', filter: 'stay.id < 500' } }],
        },
      });
    case 'header':
    case 'footer':
      return definition({ ...base, [place]: band, body: [charges] });
    case 'group-header':
    case 'group-footer':
      return definition({ ...base, body: [{ ...charges, groups: groups(place.slice(6)) }] });
    case 'row':
      return definition({
        ...base,
        body: [
          {
            id: 'h',
            name: 'hut',
            rows: { entity: 'hut' },
            sort: [{ by: 'id' }],
            onlyWithInner: true,
            detail: band,
            drawers: [
              {
                id: 's',
                name: 'stay',
                rows: { relation: 'stays' },
                filter: 'AND(id < 500; COUNT(charge) > 0)',
                drawers: [{ id: 'c', name: 'charge', rows: { relation: 'charges' } }],
              },
            ],
          },
        ],
      });
    default:
      return place satisfies never;
  }
};

/** The colour of what is not compared. */
const HEADING = '#ff0000';

/** The lines of the crosstabs of a report below their headings: the words of its columns of labels, then those of its columns of values. */
const linesIn = (pages: readonly Page[], labels: number): Map<number, string>[] =>
  pages.flatMap(({ marks }) => {
    const byTop = new Map<number, Map<number, string>>();
    for (const mark of marks) {
      if (mark.kind !== 'text' || mark.color === HEADING) continue;
      const middle = (mark.x + mark.width / 2) / POINTS - EDGE;
      const place =
        middle < LABEL * labels ? Math.floor(middle / LABEL) : labels + Math.floor((middle - LABEL * labels) / CELL);
      const top = Math.round(mark.y * 10);
      const line = byTop.get(top) ?? new Map<number, string>();
      line.set(place, mark.text);
      byTop.set(top, line);
    }
    return [...byTop].sort(([one], [two]) => one - two).map(([, line]) => line);
  });

const pick = <T>(list: readonly T[], least: number, most: number) =>
  fc.uniqueArray(fc.nat(list.length - 1), { minLength: least, maxLength: most }).map((at) => at.map((i) => list[i]!));

const total = fc.constantFrom('before', 'after', 'none');

interface Shape {
  place: Place;
  down: Key[];
  across: Key[];
  totals: readonly Both[];
  /** Where totals stand: of the outer group down and across, and of everything. */
  where: { down: string; across: string; totalDown: string; totalAcross: string };
}

const crosstabOf = ({ down, across, totals, where }: Shape): Record<string, unknown> => {
  const groups = (keys: Key[], name: string, at: string) =>
    keys.map(({ by, more }, i) => ({ name: `${name}${i}`, by, total: at, ...more }));
  return {
    down: groups(down, 'd', where.down),
    across: groups(across, 'a', where.across),
    cells: totals.map(({ formula }) => ({ formula, format: '' })),
    totalDown: where.totalDown,
    totalAcross: where.totalAcross,
    labels: 'columns',
    repeatLabels: true,
    labelWidth: LABEL,
    cellWidth: CELL,
    rowHeight: 3,
    look: { size: 2, padding: 0 },
    headingLook: { color: HEADING },
  };
};

/** What SQL says of the same groups: totals of each pair of them by their values, and the values in their order. */
const asked = async ({ place, down, across, totals }: Shape) => {
  const instance = INSTANCES[place] ?? { sql: `'-'`, order: '1' };
  const text = (keys: Key[]): string[] => keys.map(({ sql }) => `(${sql})::text`);
  const all = [...down, ...across];
  const rollup = (keys: Key[]): string => (keys.length > 0 ? `, rollup (${text(keys).join(', ')})` : '');
  const flags = text(all).map((sql) => `grouping(${sql})`);
  const where = `where s.id < 500`;
  const query = async (sql: string): Promise<(string | null)[][]> =>
    (await database.query<unknown[]>(sql, [], { rowMode: 'array' })).rows.map((row) =>
      row.map((value) => (value === null ? null : String(value))),
    );
  const inst = `(${instance.sql})::text`;
  const found = await query(
    `select ${[inst, ...text(all), ...flags, ...totals.map(({ sql }) => `(${sql})::text`)].join(', ')} from ${FROM} ${where} group by ${inst}${rollup(down)}${rollup(across)}`,
  );
  const cells = new Map<string, string[]>();
  for (const [of, ...row] of found) {
    const isKept = (i: number): boolean => row[all.length + i] === '0';
    const path = (from: number, keys: Key[]) =>
      keys.flatMap((_, i) => (isKept(from + i) ? [row[from + i] ?? null] : []));
    cells.set(
      JSON.stringify([of, path(0, down), path(down.length, across)]),
      row.slice(all.length * 2).map((value) => value ?? ''),
    );
  }
  const paths = async (keys: Key[]) => {
    const order = [instance.order, ...keys.map(({ order }) => `${order} nulls last`)].join(', ');
    const by = [...new Set([instance.sql, ...keys.map(({ sql }) => sql)])].filter((sql) => !/^'-'$/.test(sql));
    const grouped = by.length > 0 ? `group by ${by.join(', ')} order by ${order}` : 'limit 1';
    const rows = await query(`select ${[inst, ...text(keys)].join(', ')} from ${FROM} ${where} ${grouped}`);
    const byInstance = new Map<string, (string | null)[][]>();
    for (const [of, ...path] of rows) byInstance.set(of!, [...(byInstance.get(of!) ?? []), path]);
    return byInstance;
  };
  return { cells, down: await paths(down), across: await paths(across) };
};

/** The lines of an axis by the groups that they are of, with totals where they are to stand. */
const axis = (
  paths: (string | null)[][],
  depth: number,
  at: string,
  whole: string,
): { path: (string | null)[]; isTotal: boolean }[] => {
  if (depth === 0) return [{ path: [], isTotal: true }];
  const lines: { path: (string | null)[]; isTotal: boolean }[] = [];
  for (const [i, path] of paths.entries()) {
    const outer = path.slice(0, 1);
    const isOf = (other: (string | null)[] | undefined): boolean =>
      depth > 1 && other?.[0] === outer[0] && other !== undefined;
    if (depth > 1 && at === 'before' && !isOf(paths[i - 1])) lines.push({ path: outer, isTotal: false });
    lines.push({ path, isTotal: false });
    if (depth > 1 && at === 'after' && !isOf(paths[i + 1])) lines.push({ path: outer, isTotal: true });
  }
  const all = { path: [], isTotal: true };
  return [...(whole === 'before' ? [all] : []), ...lines, ...(whole === 'after' ? [all] : [])];
};

const word = (value: string | null | undefined): string => (value == null || value === '' ? '(blank)' : value);

/** The lines below the headings of every instance, as they are to be: labels, then the values of each column. */
const wantedOf = async (shape: Shape): Promise<string[][]> => {
  const { down, across, totals, where } = shape;
  const found = await asked(shape);
  return [...found.down.keys()].flatMap((instance) => {
    const columns = axis(found.across.get(instance) ?? [], across.length, where.across, where.totalAcross);
    return axis(found.down.get(instance)!, down.length, where.down, where.totalDown).map(({ path, isTotal }) => {
      const labels = down.map((_, i) => (i < path.length ? word(path[i]) : ''));
      if (isTotal && down.length > 0) {
        if (path.length === 0) labels[0] = 'Total';
        else labels[path.length - 1] = `Total ${labels[path.length - 1]}`;
      }
      return [
        ...labels,
        ...columns.flatMap(
          (column) => found.cells.get(JSON.stringify([instance, path, column.path])) ?? totals.map(() => ''),
        ),
      ];
    });
  });
};

const shapes = fc.record({
  place: fc.constantFrom(...PLACES),
  keys: pick(KEYS, 1, 3),
  split: fc.nat(3),
  totals: pick(TOTALS, 1, 2),
  where: fc.record({ down: total, across: total, totalDown: total, totalAcross: total }),
});

describe('a crosstab', () => {
  it.each([
    true,
    false,
  ])('says what GROUP BY with ROLLUP says, grouped by the database: %s', async (rowsFromDatabase) => {
    let grouped = 0;
    const property = fc.asyncProperty(shapes, async ({ keys, split, place, ...more }) => {
      const at = Math.min(split, keys.length, 2);
      const shape: Shape = { place, down: keys.slice(0, at), across: keys.slice(at, at + 2), ...more };
      const report = reportWith(place, crosstabOf(shape));
      const { plan, result, pages } = await runOver(database, report, { rowsFromDatabase });
      const wrong = [...plan.problems, ...result.problems].filter(({ severity }) => severity === 'error');
      expect(wrong.map(problemText)).toEqual([]);
      if (plan.levels.some(({ grouping }) => grouping !== null)) grouped++;
      const wanted = await wantedOf(shape);
      const found = linesIn(pages, shape.down.length);
      const width = Math.max(...wanted.map((line) => line.length));
      const said = found.map((line) => Array.from({ length: width }, (_, i) => line.get(i) ?? ''));
      const isSaid = (line: string[]): boolean => line.some((one) => one !== '');
      expect(said).toEqual(wanted.map((line) => [...line, ...Array(width - line.length).fill('')]).filter(isSaid));
    });
    const numRuns = (rowsFromDatabase ? 40 : 20) * LONGER;
    await fc.assert(property, { numRuns, seed: 20_261_128, endOnFailure: true });
    // Most keys and totals are known to the database.
    if (rowsFromDatabase) expect(grouped).toBeGreaterThan(numRuns / 2);
    else expect(grouped).toBe(0);
  }, 240_000);

  it('leaves as the rows of its innermost groups, as GROUP BY says them', async () => {
    const isListed = (place: Place): boolean => !place.startsWith('group');
    const property = fc.asyncProperty(shapes, async ({ keys, split, place, ...more }) => {
      fc.pre(isListed(place));
      const at = Math.min(split, keys.length, 2);
      const shape: Shape = { place, down: keys.slice(0, at), across: keys.slice(at, at + 2), ...more };
      const plan = planOver(reportWith(place, crosstabOf(shape)));
      const { cells, down, across } = await asked(shape);
      const wanted = [...down.keys()].flatMap((instance) =>
        (shape.down.length > 0 ? down.get(instance)! : [[]]).flatMap((row) =>
          (shape.across.length > 0 ? (across.get(instance) ?? []) : [[]]).flatMap((column) => {
            const found = cells.get(JSON.stringify([instance, row, column]));
            return found ? [[...row, ...column, ...found].map((one) => one ?? '')] : [];
          }),
        ),
      );
      expect(await rowsShown(database, plan, 'x')).toEqual(wanted);
    });
    await fc.assert(property, { numRuns: 15 * LONGER, seed: 20_261_129, endOnFailure: true });
  }, 240_000);
});
