import type { Sketch } from '@gaveta/core/internal';
import { generateTables } from '@gaveta-examples/cumeeira';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Session } from '../access/session.ts';
import { call, closeData, MAKER, OFFICE, openData, WARDEN } from './data-api.test-support.ts';

beforeAll(openData, 120_000);
afterAll(closeData);

const sketch = (more: Partial<Sketch>): Sketch => ({
  ...{
    sketch: 1,
    name: 'Nights',
    language: 'en',
    timeZone: 'UTC',
    from: { model: 'cumeeira', entity: 'stay' },
    rows: false,
  },
  ...{ columns: [], groups: [], only: [], order: [] },
  ...more,
});
const byRegion = sketch({
  columns: [
    { name: 'stays', total: 'COUNT' },
    { name: 'charged', field: 'charges.amount', inner: 'SUM', total: 'SUM' },
  ],
  groups: [
    { name: 'region', field: 'hut.region.name' },
    { name: 'hut', field: 'hut.name' },
  ],
  order: [{ by: 'stays', descending: true }],
});
const lines = async (of: object, windows: object[], who: Session = MAKER, more: object = {}) =>
  (await call(who, 'post', '/sketch/lines', { of: { sketch: of }, windows, ...more })).body;

describe('the lines of a sketch', () => {
  it('come level by level, with their totals, how many lines lie inside, and the end', async () => {
    const { failure, windows, end } = await lines(byRegion, [{ at: [] }]);
    expect(failure).toBeNull();
    const [{ fields, lines: regions, inside }] = windows;
    expect(fields.map((f: { name: string }) => f.name)).toEqual(['region', 'stays', 'charged']);
    const { stay, charge, hut } = generateTables(1);
    expect([end.inside, Number(end.line[0])]).toEqual([regions.length, stay!.length]);
    const cents = (amount: unknown): number => Math.round(Number(amount) * 100);
    const all = charge!.reduce((sum, row) => sum + cents(row.at(-1)), 0);
    expect(cents(end.line[1])).toBe(all);
    const stays = regions.map((line: unknown[]) => Number(line[1]));
    expect(stays).toEqual([...stays].sort((a, b) => b - a));
    const inner = await lines(
      byRegion,
      regions.map(([region]: unknown[]) => ({ at: [region] })),
    );
    for (const [i, { lines: huts }] of inner.windows.entries()) {
      expect(huts).toHaveLength(inside[i]);
      expect(huts.reduce((sum: number, line: unknown[]) => sum + Number(line[2]), 0)).toBe(stays[i]);
    }
    // A hut without stays is no line.
    expect(inside.reduce((a: number, b: number) => a + b, 0)).toBe(hut!.length - 1);
  });

  it('are rows from a place on, in one order whatever was asked before', async () => {
    const list = sketch({
      rows: true,
      columns: [
        { name: 'day', field: 'arrival' },
        { name: 'hut', field: 'hut.name' },
      ],
    });
    const [all, part] = (
      await lines(list, [
        { at: [], most: 40 },
        { at: [], from: 30, most: 10 },
      ])
    ).windows;
    expect(all.fields.map((f: { name: string }) => f.name)).toEqual(['day', 'hut']);
    expect(part.lines).toEqual(all.lines.slice(30));
  });

  it('have what goes across: each value’s totals on each line and at the end, and no more than can be read', async () => {
    const crossed = { ...byRegion, across: { name: 'year', field: 'arrival', per: 'year' as const } };
    const asked = [{ at: [] }, { at: [], levels: 2, most: 500 }, { at: [null] }];
    const { windows, across } = await lines(crossed, asked, MAKER, { across: true });
    expect(across.fields.map((f: { name: string }) => f.name)).toEqual(['year', 'stays', 'charged']);
    const years = across.lines.map(([year]: string[]) => year);
    expect(years).toEqual([...years].sort());
    const latest = { ...crossed, order: [...crossed.order, { by: 'year', descending: true }] };
    const turned = await lines(latest, [], MAKER, { across: true });
    expect(turned.across.lines.map(([year]: string[]) => year)).toEqual(years.toReversed());
    const [regions, huts, none] = windows;
    /** Stays of the lines across that have a value at a place; the last group stands before its year. */
    const staysOf = (of: { lines: unknown[][] }, at: number, value: unknown, last: number): number =>
      of.lines.filter((line) => line[at] === value).reduce((all, line) => all + Number(line[last + 2]), 0);
    for (const [region, stays] of regions.lines) {
      expect(staysOf(regions.across, 0, region, 0)).toBe(Number(stays));
      expect(staysOf(huts.across, 0, region, 1)).toBe(Number(stays));
    }
    for (const [year, stays] of across.lines) expect(staysOf(regions.across, 1, year, 0)).toBe(Number(stays));
    expect(none.across.lines).toEqual([]);
    const byDay = { ...crossed, across: { name: 'day', field: 'arrival', per: 'day' } };
    const days = await lines(byDay, [{ at: [] }], MAKER, { across: true });
    // Also where only some lines are asked for.
    expect((await lines(byDay, [{ at: [] }])).failure.problem.code).toBe('sketch-too-wide');
    expect([days.windows, days.failure.problem.code]).toEqual([null, 'sketch-too-wide']);
    expect(days.failure.detail).toContain('More than 100 values');
    const rows = await call(MAKER, 'post', '/sketch/lines', {
      of: { sketch: { ...crossed, rows: true } },
      windows: [],
    });
    expect(rows.status).toBe(400);
  });

  it('say what is gone instead of showing other rows', async () => {
    const wrong = { ...byRegion, only: [{ field: 'hut.rooms', is: 'greater', to: { value: 3 } }] };
    const { failure, windows, problems } = await lines(wrong, [{ at: [] }]);
    expect([windows, problems.length]).toEqual([null, 1]);
    expect(failure.detail).toContain('“hut.rooms”');
  });

  it('are for those who design, within their rows', async () => {
    const asked = { of: { sketch: byRegion }, windows: [] };
    expect((await call(WARDEN, 'post', '/sketch/lines', asked)).status).toBe(403);
    const warden: Session = { ...WARDEN, rights: ['design', 'view'] };
    const own = await lines(byRegion, [{ at: [] }], warden);
    expect(own.windows[0].lines).toHaveLength(1);
    expect(Number(own.end.line[0])).toBeLessThan(Number((await lines(byRegion, [], OFFICE)).end.line[0]));
  });

  it('are refused with the place where the sketch is none', async () => {
    const { status, body } = await call(MAKER, 'post', '/sketch/lines', {
      of: { sketch: { ...byRegion, groups: [{}] } },
      windows: [],
    });
    expect(status).toBe(400);
    expect(body.detail).toContain('sketch.groups.0');
  });
});

describe('what a field of a sketch holds', () => {
  const values = async (field: string, more: object = {}) =>
    (await call(MAKER, 'post', '/sketch/values', { of: { sketch: { ...byRegion, ...more } }, field })).body;

  it('is said among the rows that the other conditions keep', async () => {
    const { stay } = generateTables(1);
    const status = stay![0]!.findIndex(
      (cell: unknown) => cell === 'stayed' || cell === 'booked' || cell === 'cancelled',
    );
    const only = [{ field: 'status', is: 'equal', to: { value: 'stayed' } }];
    const all = (await values('status', { only })).found;
    expect(all.values.reduce((sum: number, { count }: { count: number }) => sum + count, 0)).toBe(stay!.length);
    expect(all.bins).toEqual([]);
    expect(status).toBeGreaterThan(-1);
    const nights = (await values('nights', { only })).found;
    const stayed = all.values.find(({ value }: { value: string }) => value === 'stayed').count;
    expect(nights.bins.reduce((a: number, b: number) => a + b, 0) + nights.blanks).toBe(stayed);
    expect(Number(nights.least)).toBeLessThan(Number(nights.most));
  });

  it('also what many rows add up to in each row, and not what is worked out on lines', async () => {
    const asked = { of: { sketch: byRegion }, column: 'charged' };
    const { found } = (await call(MAKER, 'post', '/sketch/values', asked)).body;
    expect([found.field.type, found.bins.length]).toEqual(['number', 24]);
    expect(found.bins.reduce((a: number, b: number) => a + b, found.blanks)).toBe(generateTables(1).stay!.length);
    const lined = { ...byRegion, columns: [...byRegion.columns, { name: 'each', ofLine: 'charged / stays' }] };
    for (const body of [
      { of: { sketch: lined }, column: 'each' },
      { ...asked, column: 'gone' },
    ])
      expect((await call(MAKER, 'post', '/sketch/values', body)).body.code).toBe('not-in-sketch');
    expect((await call(MAKER, 'post', '/sketch/values', { ...asked, field: 'nights' })).status).toBe(400);
  });

  it('also where the field is of other rows, or of days', async () => {
    expect((await values('hut.region.name')).found.distinct).toBe(4);
    const days = (await values('arrival')).found;
    expect(days.least).toMatch(/^\d{4}-\d\d-\d\d$/);
    expect(days.bins.length).toBeGreaterThan(1);
  });
});

describe('a stored sketch', () => {
  const save = async (of: object = byRegion) => (await call(MAKER, 'post', '/sketches', { sketch: of })).body;

  it('is listed as one, saved in revisions, and given to who reads it', async () => {
    const made = await save();
    expect(made).toMatchObject({ kind: 'sketch', name: 'Nights', revision: 1 });
    const listed = (await call(WARDEN, 'get', '/reports')).body;
    expect(listed.find(({ id }: { id: string }) => id === made.id)).toMatchObject({ kind: 'sketch' });
    const other = { ...byRegion, name: 'Stays' };
    const put = (base: number) => call(MAKER, 'put', `/sketches/${made.id}`, { sketch: other, base });
    expect((await put(1)).body).toMatchObject({ revision: 2, name: 'Stays' });
    expect((await put(1)).body.code).toBe('conflict');
    const { sketch: read, reach } = (await call(WARDEN, 'get', `/sketches/${made.id}`)).body;
    expect(read).toEqual(other);
    // No more of the model than it names.
    expect(
      reach.map((at: { way: string[]; fields: { name: string }[] }) => [
        at.way.join('.'),
        at.fields.map((f) => f.name),
      ]),
    ).toEqual([
      ['', []],
      ['hut', ['name']],
      ['charges', ['amount']],
      ['hut.region', ['name']],
    ]);
    expect((await call(WARDEN, 'put', `/sketches/${made.id}`, { sketch: other, base: 2 })).status).toBe(403);
  });

  it('is read by others within their rows, sorted and filtered by what it shows', async () => {
    const { id } = await save();
    const read = async (more: object) =>
      (await call(WARDEN, 'post', '/sketch/lines', { of: { stored: id, ...more }, windows: [{ at: [] }] })).body;
    const own = await read({});
    expect(own.windows[0].lines).toHaveLength(1);
    const none = { field: 'hut.name', is: 'equal', to: { value: 'Nowhere' } };
    expect((await read({ only: [none] })).windows[0].lines).toEqual([]);
    expect((await read({ only: [{ ...none, field: 'member.email' }] })).code).toBe('not-in-sketch');
    expect((await read({ only: [{ formula: 'TRUE()' }] })).code).toBe('not-in-sketch');
    const many = { column: 'stays', is: 'greater', to: { value: 1e6 } };
    expect((await read({ only: [{ ...many, of: 'region' }] })).windows[0].lines).toEqual([]);
    for (const other of [{ column: 'rate' }, { of: 'tier' }])
      expect((await read({ only: [{ ...many, of: 'region', ...other }] })).code).toBe('not-in-sketch');
    const asked = { of: { stored: id }, field: 'member.email' };
    expect((await call(WARDEN, 'post', '/sketch/values', asked)).body.code).toBe('not-in-sketch');
  });

  it('runs as the report of it, with the same totals', async () => {
    const { id } = await save();
    const { end } = await lines(byRegion, []);
    const run = (await call(MAKER, 'post', '/runs', { report: id })).body;
    const finished = async (): Promise<{ status: string }> => {
      const { body } = await call(MAKER, 'get', `/runs/${run.id}`);
      return body.status === 'running' || body.status === 'queued' ? finished() : body;
    };
    expect(await finished()).toMatchObject({ status: 'done' });
    const pages = JSON.stringify((await call(MAKER, 'get', `/runs/${run.id}/pages?from=1&count=9`)).body);
    const shown = new Intl.NumberFormat('en').format(Number(end.line[0]));
    expect(pages).toContain(`"${shown}"`);
  });

  it('is no report to be saved as one, and no sketch where a report is meant', async () => {
    const { id } = await save();
    const report = { gaveta: 2, name: 'Other' };
    expect((await call(MAKER, 'put', `/reports/${id}`, { definition: report, base: 1 })).body.code).toBe(
      'unknown-report',
    );
    const made = (await call(MAKER, 'post', '/reports', { definition: report })).body;
    expect((await call(MAKER, 'get', `/sketches/${made.id}`)).body.code).toBe('unknown-sketch');
  });

  it('is worked on in a draft of one’s own', async () => {
    const key = 'sketch-draft-1';
    expect((await call(MAKER, 'get', `/sketches/${key}/draft`)).body).toBeNull();
    await call(MAKER, 'put', `/sketches/${key}/draft`, { sketch: byRegion, base: 0 });
    expect((await call(MAKER, 'get', `/sketches/${key}/draft`)).body).toMatchObject({
      kind: 'sketch',
      sketch: byRegion,
    });
    const warden: Session = { ...WARDEN, rights: ['design', 'view'] };
    expect((await call(warden, 'get', `/sketches/${key}/draft`)).body).toBeNull();
  });
});
