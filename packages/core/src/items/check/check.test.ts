import { describe, expect, it } from 'vitest';
import { band, definition, field, lay, plan } from '../../layout/huts.test-support.ts';
import type { ShapeMark } from '../../page/page.ts';
import { checkShape } from './shape.ts';

const check = (more: Record<string, unknown> = {}) => ({
  kind: 'check',
  id: 'c',
  x: 10,
  y: 1,
  width: 20,
  height: 5,
  formula: 'nights > 2',
  ...more,
});
const report = (...items: unknown[]) =>
  definition({ body: [{ id: 'stays', name: 'stay', rows: { entity: 'stay' }, detail: band(7, ...items) }] });
const rows = {
  stay: [
    { id: 1, guest: 'Ana', nights: 3 },
    { id: 2, guest: 'Rui', nights: 1 },
  ],
};
const shapes = async (...items: unknown[]): Promise<ShapeMark[]> => {
  const { pages } = await lay(report(...items), rows);
  return pages[0]!.marks.filter((m): m is ShapeMark => m.kind === 'shape');
};
/** Whether a point lies in an odd number of polygons, which is what is filled. */
const isFilled = (polygons: ShapeMark['polygons'], x: number, y: number): boolean => {
  const inside = (p: readonly number[]): boolean => {
    let odd = false;
    for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) {
      const [ax, ay, bx, by] = [p[i]!, p[i + 1]!, p[j]!, p[j + 1]!];
      if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) odd = !odd;
    }
    return odd;
  };
  return polygons.filter(inside).length % 2 === 1;
};

describe('a check mark', () => {
  it('is the sign in its frame where its condition holds, the frame where not, and nothing where it is blank', async () => {
    const [ana, rui, ...more] = await shapes(check());
    expect(more).toEqual([]);
    // Before the first row there is none: its mark is blank.
    expect(await shapes(check({ formula: 'PREVIOUS(nights > 2)' }))).toHaveLength(1);
    expect([ana!.alternative, rui!.alternative]).toEqual(['TRUE', 'FALSE']);
    // A square in the middle of its box: 5 mm of 20 mm.
    const mm = 72 / 25.4;
    expect(ana!.width).toBeCloseTo(5 * mm);
    expect(ana!.height).toBeCloseTo(5 * mm);
    expect(ana!.x - rui!.x).toBe(0);
    expect(ana!.scale * 24).toBeCloseTo(ana!.width);
    expect(isFilled(ana!.polygons, 1.8, 12)).toBe(true);
    expect(isFilled(ana!.polygons, 10, 15)).toBe(true);
    expect(isFilled(rui!.polygons, 10, 15)).toBe(false);
  });

  it('has a sign, a colour and a frame, which formulas may decide on', async () => {
    for (const [sign, x, y] of [
      ['tick', 10.4, 16],
      ['cross', 12, 12],
      ['dot', 12, 12],
    ] as const) {
      expect(isFilled(checkShape(sign, false), x, y), sign).toBe(true);
      expect(isFilled(checkShape(sign, true), 21, 21), sign).toBe(false);
    }
    // Where nothing is to be seen there is no mark.
    expect(await shapes(check({ frame: false }))).toHaveLength(1);
    const formulas = { color: 'IF(nights > 2; "#1f5c4d"; "#b3402e")', sign: '"cross"' };
    const marks = await shapes(check({ formulas }));
    expect(marks.map((m) => m.color)).toEqual(['#1f5c4d', '#b3402e']);
    expect(marks[0]!.polygons.at(-1)).toEqual(checkShape('cross', false)[0]);
  });

  it('needs a condition', () => {
    expect(plan(report(check({ formula: 'guest' }))).problems).toMatchObject([
      { code: 'wrong-type', place: { item: 'c' }, data: { where: { phrase: 'a-check-mark' } } },
    ]);
    expect(plan(report(field('a', 'guest'), check())).problems).toEqual([]);
  });
});
