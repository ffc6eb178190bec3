import { describe, expect, it } from 'vitest';
import { allBands, findItem } from '../definition/walk.ts';
import { band, definition, field, plan } from '../layout/huts.test-support.ts';
import { type BoardItem, evenOut, lineUp, sameSize } from './arrange.ts';
import {
  addColumn,
  captionFromLabel,
  columnSets,
  evenColumns,
  fitColumns,
  newColumnSet,
  removeColumn,
  reorderColumn,
  resizeColumn,
} from './columns.ts';
import { applyEdit } from './edit.ts';
import { overflows, paperEdit } from './paper.ts';
import type { Placeable } from './placing.ts';
import { MOVING, snapTo } from './snapping.ts';

const blank = definition({
  body: [{ id: 'huts', name: 'hut', rows: { entity: 'hut' }, detail: band(8) }],
});
const place = (label: string, path: string, type: Placeable['type'] = 'text'): Placeable => ({
  label,
  type,
  drawer: blank.body[0]!,
  path: [path],
});
const made = applyEdit(
  blank,
  newColumnSet(blank, {
    drawer: 'huts',
    fields: [place('Name', 'name'), place('Number', 'id', 'number')],
    totals: true,
    left: 0,
    right: 180,
  }),
);
const places = (report = made) =>
  columnSets(report)
    .get('columns')!
    .columns.map((c) => [c.name, c.x, c.width]);

describe('a column set', () => {
  it('takes the caption of a column from the label of its field, as far as it shows one', () => {
    const set = columnSets(made).get('columns')!;
    const labels: Record<string, string> = { id: 'Hut number' };
    const edit = captionFromLabel(set, 'c2', ({ formula }) => labels[formula] ?? null)!;
    const words = applyEdit(made, edit).body[0]!.header!.items.map((i) => (i.kind === 'text' ? i.content : null));
    expect(words).toEqual([['Name'], ['Hut number']]);
    expect(captionFromLabel(set, 'c1', ({ formula }) => labels[formula] ?? null)).toBeNull();
    expect(captionFromLabel(set, 'gone', () => 'Label')).toBeNull();
  });

  it('has captions over values over totals, and runs', () => {
    const kinds = [...allBands(made)].map(({ path, band: b }) => [
      path,
      b.items.map((i) => ('formula' in i ? i.formula : i.kind)),
    ]);
    expect(kinds).toEqual([
      ['body/0/header', ['text', 'text']],
      ['body/0/detail', ['name', 'id']],
      ['body/0/footer', ['SUM(id)']],
    ]);
    expect(plan(made).problems.filter((p) => p.severity === 'error')).toEqual([]);
    expect(places()).toEqual([
      ['c1', 0, 40],
      ['c2', 42, 24],
    ]);
  });

  it('is narrower than its fields want when the page is', () => {
    const fields = Array.from({ length: 8 }, (_, i) => place(`F${i}`, 'name'));
    const narrow = applyEdit(blank, newColumnSet(blank, { drawer: 'huts', fields, left: 10, right: 110 }));
    const { columns } = columnSets(narrow).get('columns')!;
    expect(columns[0]!.x).toBe(10);
    expect(columns.at(-1)!.x + columns.at(-1)!.width).toBeCloseTo(110, 0);
  });

  it('moves and gets wider as one, whichever of its items is pulled', () => {
    const value = made.body[0]!.detail!.items[1]!;
    const moved = applyEdit(made, { do: 'move', items: [value.id], dx: 8, dy: 1 });
    expect(places(moved)[1]).toEqual(['c2', 50, 24]);
    expect(findItem(moved, made.body[0]!.header!.items[1]!.id)!.item).toMatchObject({ x: 50, y: 1 });
    const wider = applyEdit(made, { do: 'resize', items: [value.id], dx: 0, dy: 0, dw: 6, dh: 0 });
    expect(wider.body[0]!.footer!.items[0]!.width).toBe(30);
  });

  it('pushes, swaps, evens, fits and closes up', () => {
    const set = columnSets(made).get('columns')!;
    expect(places(applyEdit(made, resizeColumn(set, 'c1', 50)))).toEqual([
      ['c1', 0, 50],
      ['c2', 52, 24],
    ]);
    expect(places(applyEdit(made, reorderColumn(set, 'c2', 0)))).toEqual([
      ['c2', 0, 24],
      ['c1', 29, 40],
    ]);
    expect(places(applyEdit(made, evenColumns(set)))).toEqual([
      ['c1', 0, 32],
      ['c2', 34, 32],
    ]);
    for (const right of [100, 123.45, 171.3, 186]) {
      const fitted = columnSets(applyEdit(made, fitColumns(set, right)))
        .get(set.set)!
        .columns.at(-1)!;
      expect(fitted.x + fitted.width).toBeCloseTo(right, 9);
    }
    expect(places(applyEdit(made, fitColumns(set, 130)))).toEqual([
      ['c1', 0, 80],
      ['c2', 82, 48],
    ]);
    expect(places(applyEdit(made, removeColumn(set, 'c1')))).toEqual([['c2', 0, 24]]);
  });

  it('takes one more field, in every band that it has', () => {
    const more = applyEdit(made, addColumn(made, 'columns', place('Beds', 'id', 'number'))!);
    expect(
      columnSets(more)
        .get('columns')!
        .columns[2]!.items.map((i) => ('formula' in i ? i.formula : i.kind)),
    ).toEqual(['text', 'id', 'SUM(id)']);
    expect(addColumn(made, 'gone', place('Beds', 'id'))).toBeNull();
  });
});

const at = (id: string, x: number, y: number, width: number, height: number, bandTop = 0): BoardItem => ({
  id,
  x,
  y,
  width,
  height,
  bandTop,
});

describe('arranging', () => {
  it('lines up with the first one, over bands too', () => {
    const items = [at('a', 10, 2, 20, 6), at('b', 40, 1, 10, 4, 20)];
    expect(lineUp(items, 'right')).toEqual({ do: 'place', places: { b: { x: 20 } } });
    expect(lineUp(items, 'centre')).toEqual({ do: 'place', places: { b: { x: 15 } } });
    expect(lineUp([items[0]!, at('b', 40, 1, 10, 4)], 'middle')).toEqual({ do: 'place', places: { b: { y: 3 } } });
    expect(lineUp([], 'left')).toEqual({ do: 'place', places: {} });
  });

  it('evens gaps out between the outermost two, in whatever order they were selected', () => {
    const items = [at('c', 80, 0, 10, 5), at('a', 0, 0, 10, 5), at('b', 15, 0, 20, 5)];
    expect(evenOut(items, 'across')).toEqual({ do: 'place', places: { b: { x: 35 } } });
    expect(evenOut(items.slice(0, 2), 'across')).toEqual({ do: 'place', places: {} });
    const down = [at('a', 0, 0, 5, 5), at('b', 0, 1, 5, 5, 10), at('c', 0, 5, 5, 5, 20)];
    expect(evenOut(down, 'down')).toEqual({ do: 'place', places: { b: { y: 2.5 } } });
  });

  it('gives all the size of the first one', () => {
    expect(sameSize([at('a', 0, 0, 9, 4), at('b', 0, 0, 1, 1)], 'width')).toEqual({
      do: 'place',
      places: { b: { width: 9 } },
    });
  });
});

describe('snapping', () => {
  const settings = { xs: [0, 180], ys: [0], grid: 1, reach: 1.2, edges: MOVING };
  const others = [at('a', 20, 10, 30, 6), at('b', 60, 10, 20, 6)];

  it('meets edges and middles of others, and draws the line through both', () => {
    const found = snapTo({ x: 20.8, y: 40.3, width: 11, height: 5 }, others, settings);
    expect(found.dx).toBeCloseTo(-0.8);
    expect(found.guides).toEqual([{ along: 'y', at: 20, from: 10, to: 45.3 + found.dy, kind: 'edge' }]);
    expect(found.dy).toBeCloseTo(-0.3);
  });

  it('finds gaps as wide as another one', () => {
    const found = snapTo({ x: 90.6, y: 10, width: 13, height: 6 }, others, settings);
    expect(found.dx).toBeCloseTo(-0.6);
    expect(found.guides.filter((g) => g.kind === 'gap')).toHaveLength(2);
  });

  it('falls back to the grid, and to nothing without one', () => {
    expect(snapTo({ x: 120.4, y: 55.6, width: 7, height: 3 }, [], settings)).toMatchObject({
      dx: expect.closeTo(-0.4),
      guides: [],
    });
    expect(snapTo({ x: 120.4, y: 55.6, width: 7, height: 3 }, [], { ...settings, grid: 0 })).toMatchObject({
      dx: 0,
      dy: 0,
    });
  });

  it('moves one edge alone when an item is resized', () => {
    const edges = { x: ['end'] as const, y: [] };
    const found = snapTo({ x: 5, y: 30, width: 14.5, height: 5 }, others, { ...settings, edges });
    expect([found.dx, found.dy]).toEqual([0.5, 0]);
  });
});

describe('another paper', () => {
  const wide = { ...made.page, orientation: 'landscape' as const };
  const drawn = applyEdit(made, {
    do: 'addBand',
    band: { drawer: null, band: 'pageFooter' },
    as: band(
      8,
      field('wide', '1', { width: 180 }),
      field('end', '2', { x: 150, width: 30 }),
      field('mid', '3', { x: 60, width: 20 }),
    ),
  });
  const footer = (r: typeof made) => r.pageFooter!.items.map((i) => [i.x, i.width]);

  it('leaves, scales or fits the layout', () => {
    expect(footer(applyEdit(drawn, paperEdit(drawn, wide, 'leave')))).toEqual([
      [0, 180],
      [150, 30],
      [60, 20],
    ]);
    expect(footer(applyEdit(drawn, paperEdit(drawn, wide, 'fit')))).toEqual([
      [0, 267],
      [237, 30],
      [60, 20],
    ]);
    const scaled = applyEdit(drawn, paperEdit(drawn, wide, 'scale'));
    expect(footer(scaled)[1]).toEqual([222.5, 44.5]);
    expect(scaled.body[0]!.detail!.height).toBeCloseTo(made.body[0]!.detail!.height * (267 / 180), 1);
  });

  it('says whether anything would stand past the margin', () => {
    expect(overflows(drawn, wide)).toBe(false);
    const narrow = { ...made.page, paper: 'A5' as const };
    expect(overflows(drawn, narrow)).toBe(true);
    const fitted = applyEdit(drawn, paperEdit(drawn, narrow, 'fit'));
    expect(overflows(fitted, narrow)).toBe(false);
  });
});
