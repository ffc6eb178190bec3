import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import type { Item } from '../definition/schema.ts';
import { band, definition, field, lay, line, plan } from '../layout/huts.test-support.ts';
import { plainItem } from '../layout/preparing.ts';
import type { Page } from '../page/page.ts';
import { ITEM_LAYOUTS } from './layouts.ts';
import { ITEM_PLANS } from './plans.ts';

const rows = {
  hut: [
    { id: 1, name: 'Pedra Longa' },
    { id: 2, name: 'Casa da Brecha' },
    { id: 3, name: 'Lago Frio' },
  ],
  stay: [
    { in: 1, id: 7, nights: 2 },
    { in: 1, id: 8, nights: 9 },
    { in: 3, id: 9, nights: 4 },
    { in: 3, id: 10, nights: 4 },
    { in: 3, id: 11, nights: 1 },
  ],
};

/** Stands in for an item with rows of its own: a frame that draws a stroke for each stay of the hut around it. */
const strokes = { kind: 'rectangle', id: 'strokes', x: 60, y: 0, width: 60, height: 5 } as unknown as Item;
const strokesOn = ({ marks }: Page): number[] =>
  marks.flatMap((mark) => (mark.item === 'strokes' && mark.kind === 'line' ? [Math.round(mark.y)] : []));
const huts = (more: Record<string, unknown>) =>
  definition({ body: [{ id: 'h', name: 'hut', rows: { entity: 'hut' }, ...more }] });

describe('an item with rows of its own', () => {
  beforeAll(() => {
    vi.spyOn(ITEM_PLANS, 'rectangle').mockImplementation(({ id }, planning) => ({
      level: planning.level({ id, name: 'own', rows: { relation: 'stays' }, sort: [{ by: 'nights' }] }),
    }));
    vi.spyOn(ITEM_LAYOUTS, 'rectangle').mockImplementation(({ item, level }, common, preparing) =>
      level
        ? plainItem(common, {
            item,
            shapes: {},
            lay: ({ id }, { x, y, height }, out) => {
              for (const [i] of out.rowsOf(level).rows.entries())
                out.marks.push({
                  kind: 'line',
                  x: x + i,
                  y,
                  x2: x + i,
                  y2: y + height,
                  color: '#000000',
                  thickness: 1,
                  item: id,
                });
            },
          })
        : preparing.broken(common),
    );
  });
  afterAll(() => vi.restoreAllMocks());

  it('shows those of the row around it, at its place', async () => {
    const { pages, result } = await lay(huts({ detail: band(10, field('f', 'name'), strokes) }), rows);
    const tops = new Map<number, number>();
    for (const top of strokesOn(pages[0]!)) tops.set(top, (tops.get(top) ?? 0) + 1);
    expect([...tops.values()]).toEqual([2, 3]);
    expect(result.problems).toEqual([]);
  });

  it('has a level of its own below the row of its band, which no name of the report reaches', () => {
    const found = plan(huts({ detail: band(10, field('f', 'name'), strokes), footer: line('t', 'COUNT(nights)') }));
    expect(found.levels.map(({ item, parent }) => [item, parent?.drawer.name ?? null])).toEqual([
      [null, null],
      ['strokes', 'hut'],
    ]);
    expect(found.problems.map(({ code, place }) => [code, place.item])).toContainEqual(['unknown-name', 't']);
  });

  it('is shown as well where rows are read ahead for a total above them', async () => {
    const report = huts({ header: line('t', 'COUNT(name)'), detail: band(10, field('f', 'name'), strokes) });
    const { pages } = await lay(report, rows);
    expect(strokesOn(pages[0]!)).toHaveLength(5);
  });

  it('is refused, at the item, in the bands of pages and groups', () => {
    const grouped = huts({ groups: [{ name: 'first', by: 'LEFT(name)', header: band(10, strokes) }] });
    const paged = definition({
      pageHeader: band(10, strokes),
      body: [{ id: 'h', name: 'hut', rows: { entity: 'hut' } }],
    });
    for (const report of [grouped, paged])
      expect(plan(report).problems.map(({ code, place }) => [code, place.item])).toEqual([
        ['own-rows-not-here', 'strokes'],
      ]);
  });

  it('tells of a relation that is not there at the item', () => {
    vi.mocked(ITEM_PLANS.rectangle).mockImplementationOnce(({ id }, planning) => ({
      level: planning.level({ id, name: 'own', rows: { relation: 'guests' } }),
    }));
    const [found] = plan(huts({ detail: band(10, strokes) })).problems;
    expect(found).toMatchObject({ code: 'unknown-relation', place: { item: 'strokes' } });
  });
});
