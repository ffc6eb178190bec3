import { describe, expect, it } from 'vitest';
import type { Report } from '../definition/schema.ts';
import { band, definition, field, lay, nest, type Rows, words } from '../layout/huts.test-support.ts';
import { readRegions } from '../page/regions.ts';
import { pageToMarks } from '../page/svg.ts';
import { placesIn } from './board.ts';
import { type LaidBand, laidBands, laidItemsAt, nearestInstances, reachedBands } from './laid-bands.ts';

const huts = (detail: object, more: object = {}): Report =>
  definition({
    pageHeader: band(10, words('head', 'Cumeeira', 100)),
    body: [{ id: 'huts', name: 'hut', rows: { entity: 'hut' }, detail, ...more }],
  });
const rows: Rows = {
  hut: [
    { id: 1, name: 'Alva' },
    { id: 2, name: 'A very long name that takes more than one line of its narrow box' },
    { id: 3, name: 'Cimo' },
  ],
};

const onPages = async (report: Report, of: Rows, nested: Record<string, Report> = {}): Promise<LaidBand[][]> => {
  const { pages } = await lay(report, of, nested, { regions: 'places' });
  return pages.map((page) => laidBands(report, readRegions(pageToMarks(page, (hash) => hash))));
};
const placeOf = (of: LaidBand, id: string): number[] => {
  const [, place] = placesIn(of).find(([item]) => item.id === id)!;
  return [place.x, place.y, place.width, place.height].map((length) => Math.round(length * 10) / 10);
};

describe('bands on a laid-out page', () => {
  const narrow = band(
    8,
    field('name', 'name', { width: 20, grow: true }),
    words('below', 'below', 0, { y: 5, height: 3 }),
  );

  it('come once for each row, with bands of the page, where the page shows them', async () => {
    const [[head, ...rest]] = (await onPages(huts(narrow), rows)) as [[LaidBand, ...LaidBand[]]];
    const { margins } = definition({}).page;
    expect([head.key, head.left]).toEqual(['pageHeader', expect.closeTo(margins.left, 1)]);
    expect(placeOf(head, 'head')[0]).toBeCloseTo(margins.left + 100, 1);
    expect(rest.map(({ key, rows: of }) => `${key} ${of}`)).toEqual([
      'huts/detail hut:#1',
      'huts/detail hut:#2',
      'huts/detail hut:#3',
    ]);
    for (const [i, one] of rest.entries())
      if (i > 0) expect(one.top).toBeCloseTo(rest[i - 1]!.top + rest[i - 1]!.height, 1);
  });

  it('know where an item stands that another one pushed down, and how high that one got', async () => {
    const [[, first, second]] = (await onPages(huts(narrow), rows)) as [LaidBand[]];
    const [, y, , high] = placeOf(second!, 'name');
    expect(high).toBeGreaterThan(8);
    expect(placeOf(second!, 'below')[1]).toBeCloseTo(y! + high!, 0);
    expect(placeOf(first!, 'below')[1]).toBeCloseTo(first!.top + 5, 1);
    expect(second!.height).toBeGreaterThan(first!.height + 3);
  });

  it('tell what lies at a place, panels behind what they hold', async () => {
    const panel = { kind: 'panel', id: 'panel', panel: 'p', x: 0, y: 0, width: 60, height: 8 };
    const [[, first]] = (await onPages(huts(band(8, field('name', 'name', { panel: 'p' }), panel)), rows)) as [
      LaidBand[],
    ];
    const at = { x: first!.left + 5, y: first!.top + 2 };
    expect(laidItemsAt([first!], at).map(({ item }) => item.id)).toEqual(['name', 'panel']);
    expect(laidItemsAt([first!], { ...at, x: first!.left + 90 })).toEqual([]);
  });

  it('take what a subreport shows for the subreport, whatever its items are called', async () => {
    const inner = definition({
      body: [{ id: 'huts', name: 'stay', rows: { entity: 'stay' }, detail: band(6, field('name', 'guest')) }],
    });
    const report = huts(
      band(20, field('name', 'name'), nest('inner', { y: 6, width: 80 }), words('after', 'after', 0, { y: 15 })),
    );
    const stays = { ...rows, stay: [1, 2, 3, 4].map((id) => ({ id, hut_id: 1, guest: `Guest ${id}` })) };
    const [[, first]] = (await onPages(report, stays, { inner })) as [LaidBand[]];
    expect(first!.key).toBe('huts/detail');
    const [x, y, width, height] = placeOf(first!, 's');
    expect([x, width]).toEqual([expect.closeTo(first!.left, 1), 80]);
    expect(y).toBeCloseTo(first!.top + 6, 1);
    expect(height).toBeCloseTo(4 * 6, 1);
    expect(placeOf(first!, 'after')[1]).toBeCloseTo(first!.top + 6 + 24, 1);
    expect(laidItemsAt([first!], { x: x! + 3, y: y! + 13 }).map(({ item }) => item.id)).toEqual(['s']);
  });

  it('find a subreport on a page that its band began before', async () => {
    const inner = definition({
      body: [{ id: 'stays', name: 'stay', rows: { entity: 'stay' }, detail: band(6, field('name', 'guest')) }],
    });
    const many = Array.from({ length: 90 }, (_, i) => ({ id: i + 1, hut_id: 1, guest: `Guest ${i + 1}` }));
    const report = huts(band(20, nest('inner', { x: 10, y: 6, width: 80 })));
    const pages = await onPages(report, { hut: rows.hut!.slice(0, 1), stay: many }, { inner });
    expect(pages.length).toBeGreaterThan(1);
    const cont = pages[1]!.find(({ key }) => key === 'huts/detail')!;
    expect(placeOf(cont, 's')[0]).toBeCloseTo(cont.left + 10, 1);
    expect(placesIn(cont)).toHaveLength(1);
  });

  it('leave pages as they are, but for what they tell of places', async () => {
    const report = huts(narrow);
    const marks = async (regions: true | 'places'): Promise<unknown[]> =>
      (await lay(report, rows, {}, { regions })).pages.flatMap((page) => page.marks.filter((m) => m.kind !== 'region'));
    expect(await marks('places')).toEqual(await marks(true));
  });
});

it('an item is moved among the nearest instance of each band', async () => {
  const report = huts(band(8, field('name', 'name')), { header: band(6, words('caption', 'Hut', 0)) });
  const [bands] = (await onPages(report, rows)) as [LaidBand[]];
  const second = bands.find(({ rows: of }) => of === 'hut:#2')!;
  const near = nearestInstances(bands, second);
  expect(near.map(({ key }) => key)).toEqual(['pageHeader', 'huts/header', 'huts/detail']);
  expect(near.at(-1)).toBe(second);
});

it('nothing is dropped by chance on the sheet behind everything', async () => {
  const report = {
    ...huts(band(8, field('name', 'name'))),
    pageBackground: band(200, words('mark', 'Draft', 0)),
  } as Report;
  const [bands] = (await onPages(report, rows)) as [LaidBand[]];
  expect(bands.map(({ key }) => key)).toContain('pageBackground');
  expect(reachedBands(bands).map(({ key }) => key)).not.toContain('pageBackground');
});
