import type { Sketch } from '@gaveta/core/internal';
import { generateTables } from '@gaveta-examples/cumeeira';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Session } from '../access/session.ts';
import { call, closeData, MAKER, OFFICE, openData, WARDEN } from './data-api.test-support.ts';

beforeAll(openData, 120_000);
afterAll(closeData);

const sketch = (more: Partial<Sketch>): Sketch => ({
  ...{ sketch: 1, name: 'Nights', from: { model: 'cumeeira', entity: 'stay' }, rows: false },
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
const lines = async (of: object, windows: object[], who: Session = MAKER) =>
  (await call(who, 'post', '/sketch/lines', { sketch: of, windows })).body;

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

  it('say what is gone instead of showing other rows', async () => {
    const wrong = { ...byRegion, only: [{ field: 'hut.rooms', is: 'greater', to: { value: 3 } }] };
    const { failure, windows, problems } = await lines(wrong, [{ at: [] }]);
    expect([windows, problems.length]).toEqual([null, 1]);
    expect(failure.detail).toContain('“hut.rooms”');
  });

  it('are for those who design, within their rows', async () => {
    expect((await call(WARDEN, 'post', '/sketch/lines', { sketch: byRegion, windows: [] })).status).toBe(403);
    const warden: Session = { ...WARDEN, rights: ['design', 'view'] };
    const own = await lines(byRegion, [{ at: [] }], warden);
    expect(own.windows[0].lines).toHaveLength(1);
    expect(Number(own.end.line[0])).toBeLessThan(Number((await lines(byRegion, [], OFFICE)).end.line[0]));
  });

  it('are refused with the place where the sketch is none', async () => {
    const { status, body } = await call(MAKER, 'post', '/sketch/lines', {
      sketch: { ...byRegion, groups: [{}] },
      windows: [],
    });
    expect(status).toBe(400);
    expect(body.detail).toContain('sketch.groups.0');
  });
});
