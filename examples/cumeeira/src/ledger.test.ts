import type { PGlite } from '@electric-sql/pglite';
import { planReport, plansOf, problemText, type Report, readDefinition, readParameters } from '@gaveta/core';
import { type Claims, pgliteConnection } from '@gaveta/server';
import { beforeAll, describe, expect, it } from 'vitest';
import { cumeeiraModel, demoReports } from './index.ts';
import { definition, demoDatabase, OFFICE, runOver } from './run.test-support.ts';

let database: PGlite;
const reports = new Map<string, Report>();

beforeAll(async () => {
  database = await demoDatabase();
  for (const { id, definition } of await demoReports()) {
    const read = readDefinition(definition);
    if (read.ok) reports.set(id, read.report);
  }
});

const run = (report: Report, given: Record<string, string | number> = {}, claims: Claims = OFFICE) =>
  runOver(database, report, { given, claims, nested: reports });

const sql = async <T>(text: string, values: unknown[] = []): Promise<T[]> =>
  (await database.query<T>(text, values)).rows;

/** The season ledger's item that shows `formula` in the band `key`. */
const itemShowing = (report: Report, band: string, formula: string): string => {
  let found = '';
  const visit = (node: unknown, at: string): void => {
    if (typeof node !== 'object' || node === null) return;
    if ('kind' in node && 'formula' in node && 'id' in node && node.formula === formula && at.endsWith(band))
      found = String(node.id);
    for (const [key, value] of Object.entries(node))
      visit(value, /^\d+$/.test(key) || key === 'items' ? at : `${at}/${key}`);
  };
  visit(report, '');
  return found;
};

describe('the season ledger', () => {
  it('shows the same subtotals as SQL, to the last digit, hut by hut', async () => {
    const report = reports.get('season-ledger')!;
    const { marks } = await run(report, { season: 2025 });
    const expected = await sql<{ total: string }>(
      `select to_char(coalesce(sum(c.amount), 0), 'FM999,999,990.00') as total from hut h join region r on r.id = h.region_id
       left join stay s on s.hut_id = h.id and extract(year from s.arrival) = 2025 left join charge c on c.stay_id = s.id
       group by r.name, r.id, h.name, h.id order by r.name collate "unicode", r.id, h.name collate "unicode", h.id`,
    );
    const item = itemShowing(report, 'drawers/detailFooter', 'SUM(amount)');
    expect(item).not.toBe('');
    expect(marks.filter((m) => m.item === item).map((m) => m.text)).toEqual(expected.map((r) => r.total));
  });

  it('lists every charge of the season once', async () => {
    const { result } = await run(reports.get('season-ledger')!, { season: 2024 });
    const [counts] = await sql<{ n: number }>(
      `select (4 + 24 + count(distinct s.id) + count(c.id))::int as n from stay s left join charge c on c.stay_id = s.id where extract(year from s.arrival) = 2024`,
    );
    expect(result.rows).toBe(counts!.n);
    expect(result.problems).toEqual([]);
  });

  it('needs one query for each level, however many rows there are', async () => {
    const { rows, result } = await run(reports.get('season-ledger')!);
    expect(rows.queries.length).toBe(4);
    expect(result.rows).toBeGreaterThan(10_000);
  });

  it('shows a warden the rows of their region alone, and nothing when the claim is missing', async () => {
    const report = reports.get('season-ledger')!;
    const { texts } = await run(report, {}, { role: 'warden', region: 2 });
    expect(texts).toContain('Encosta Sul');
    expect(texts).not.toContain('Alto Norte');
    const [expected] = await sql<{ total: string }>(
      `select to_char(sum(c.amount), 'FM999,999,990.00') as total from charge c join stay s on s.id = c.stay_id join hut h on h.id = s.hut_id
       where h.region_id = 2 and extract(year from s.arrival) = 2025`,
    );
    expect(texts).toContain(expected!.total);
    expect((await run(report, {}, { role: 'warden' })).result.rows).toBe(0);
    expect((await run(report, {}, { role: 'warden', region: '2 or 1=1' })).result.rows).toBe(0);
  });

  it('keeps the first rows of each parent in the database, and those alone', async () => {
    const item = {
      kind: 'field',
      id: 'n',
      x: 0,
      y: 0,
      width: 170,
      height: 5,
      formula: 'hut.name & " " & arrival & " " & stay.id',
    };
    const report = definition({
      body: [
        {
          id: 'h',
          name: 'hut',
          rows: { entity: 'hut' },
          sort: [{ by: 'beds', descending: true }],
          drawers: [
            {
              id: 's',
              name: 'stay',
              rows: { relation: 'stays' },
              filter: 'party_size > 2',
              sort: [{ by: 'arrival', descending: true }],
              first: 3,
              detail: { height: 5, items: [item] },
            },
          ],
        },
      ],
    });
    const { texts } = await run(report);
    const expected = await sql<{ line: string }>(
      `select h.name || ' ' || s.arrival || ' ' || s.id as line from hut h cross join lateral (
         select * from stay where hut_id = h.id and party_size > 2 order by arrival desc, id limit 3) s
       order by h.beds desc, h.id, s.arrival desc, s.id`,
    );
    expect(texts).toEqual(expected.map((r) => r.line));
  });

  it('says which parameter is wrong', () => {
    const { problems } = readParameters(reports.get('season-ledger')!, {
      season: 'soon',
      saeson: 1,
    });
    expect(problems.map((p) => p.code).sort()).toEqual(['unknown-parameter', 'wrong-parameter']);
    expect(problems.map(problemText).join(' ')).toContain('Did you mean season?');
  });
});

describe('the warden roster', () => {
  it('brings wardens, certificates and flights of every hut with one query for each drawer', async () => {
    const { rows, texts } = await run(reports.get('warden-roster')!);
    expect(rows.queries.length).toBe(4);
    const names = await sql<{ name: string }>('select name from warden order by name');
    const item = itemShowing(reports.get('roster-wardens')!, 'body/detail', 'name');
    expect(item).not.toBe('');
    for (const { name } of names) expect(texts.join(' ')).toContain(name);
    const [flights] = await sql<{ cost: string }>(
      `select to_char(sum(f.cost), 'FM999,990.00') as cost from flight f join hut h on h.id = f.hut_id where h.name = 'Casa da Brecha'`,
    );
    expect(texts).toContain(flights!.cost);
  });

  it('gives the same rows when a link cannot run in the database', async () => {
    const pushed = reports.get('warden-roster')!;
    const local: Report = JSON.parse(JSON.stringify(pushed).replaceAll('"hut":"id"', '"hut":"ROUNDUP(id * 1.0; 0)"'));
    const [a, b] = [await run(pushed), await run(local)];
    expect([...plansOf(b.plan)].some((p) => p.roots[0]?.level.localFilter)).toBe(true);
    expect(b.texts).toEqual(a.texts);
  });
});

describe('trouble with data', () => {
  const small = (body: object): Report => {
    const still = { kind: 'text', id: 't', x: 0, y: 0, width: 50, height: 5, content: ['Still here'] };
    return definition({ header: { height: 8, items: [still] }, body: [body] });
  };
  const huts = small({ id: 'h', name: 'hut', rows: { entity: 'hut' }, detail: { height: 6, items: [] } });

  it('names a connection that is missing, and lays out the rest', async () => {
    const { result, texts } = await runOver(database, huts, { connections: new Map() });
    expect(result.problems.map(problemText)).toEqual([
      'The connection “cumeeira” is not configured. Add it to the options of createGaveta: connections: { cumeeira: … }.',
    ]);
    expect(texts).toContain('Still here');
  });

  it('says when the database is away', async () => {
    const away = pgliteConnection(() => Promise.reject(new Error('connection refused')));
    const { result } = await runOver(database, huts, { connections: new Map([['cumeeira', away]]) });
    expect(result.problems[0]).toMatchObject({
      code: 'connection-failed',
      data: { name: 'cumeeira', detail: 'connection refused' },
    });
  });

  it('keeps a query that fails to its own drawer', async () => {
    const report = small({
      id: 'h',
      name: 'hut',
      rows: { entity: 'hut' },
      filter: 'opened_on > DATE(9999999; 1; 1)',
      detail: { height: 6, items: [] },
    });
    const { result, texts } = await run(report);
    expect(result.problems[0]).toMatchObject({ code: 'query-failed', place: { drawer: 'h' } });
    expect(texts).toContain('Still here');
  });

  it('tells of a filter that gives an error for some rows, and keeps the other drawers', async () => {
    const item = { kind: 'field', id: 'n', x: 0, y: 0, width: 50, height: 5, formula: 'name' };
    const late = {
      id: 's',
      name: 'stay',
      rows: { relation: 'stays' },
      filter: 'arrival > DATE(id * 1000000; 1; 1)',
      detail: { height: 5, items: [] },
    };
    const { result, texts } = await run(
      small({ id: 'h', name: 'hut', rows: { entity: 'hut' }, detail: { height: 6, items: [item] }, drawers: [late] }),
    );
    expect(result.problems).toMatchObject([{ code: 'filter-error', place: { drawer: 's' }, data: { error: '#NUM!' } }]);
    expect(texts).toContain('Lago Frio');
  });

  it('refuses hidden fields', () => {
    const report = small({
      id: 'm',
      name: 'member',
      rows: { entity: 'member' },
      detail: { height: 6, items: [{ kind: 'field', id: 'f', x: 0, y: 0, width: 50, height: 5, formula: 'email' }] },
    });
    expect(planReport(report, { models: [cumeeiraModel.model], report: () => null }).problems[0]).toMatchObject({
      code: 'hidden-field',
      place: { item: 'f' },
    });
  });
});
