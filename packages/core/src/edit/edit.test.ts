import { describe, expect, it } from 'vitest';
import { findBand } from '../definition/walk.ts';
import { band, definition, field, plan } from '../layout/huts.test-support.ts';
import { problemText } from '../problems/problem.ts';
import { bandAt, boardBands, boardLayout, itemsIn } from './board.ts';
import { applyEdit, type Edit } from './edit.ts';
import { emptyHistory, record, redo, undo } from './history.ts';
import { copyItems } from './ids.ts';
import { formulaFor, itemFor, type Placeable } from './placing.ts';

const report = definition({
  header: band(10, field('title', 'report.name')),
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      header: band(6),
      detail: band(8, field('name', 'name', { y: 1 })),
      footer: band(6),
      drawers: [{ id: 'stays', name: 'stay', rows: { relation: 'stays' }, detail: band(8, field('guest', 'guest')) }],
    },
  ],
});
const huts = report.body[0]!;
const detail = { drawer: 'huts', band: 'detail' } as const;
const hutName: Placeable = { label: 'Name', type: 'text', drawer: huts, path: ['name'] };
const hutId: Placeable = { label: 'Number', type: 'number', drawer: huts, path: ['id'] };

const EDITS: Edit[] = [
  {
    do: 'add',
    band: detail,
    items: [
      { kind: 'line', id: 'l', x: 0, y: 9, width: 20, height: 0, color: '#1f2a2e', thickness: 0.2, dash: 'solid' },
    ],
  },
  { do: 'move', items: ['name', 'guest'], dx: 5, dy: 2 },
  { do: 'move', items: ['guest'], dx: 0, dy: 0, band: detail },
  { do: 'resize', items: ['name'], dx: 0, dy: 0, dw: -500, dh: 20 },
  { do: 'look', items: ['name', 'guest'], look: { bold: true, size: 14 } },
  { do: 'look', items: ['name'], look: { bold: null } },
  { do: 'set', items: ['name'], settings: { formula: 'UPPER(name)' } },
  { do: 'band', band: detail, settings: { height: 1 } },
  { do: 'remove', items: ['guest', 'gone'] },
  { do: 'report', settings: { name: 'Other' } },
];

describe('edits', () => {
  it('leave the old definition as it was, and can all be undone and redone', () => {
    const before = JSON.stringify(report);
    let history = emptyHistory(report);
    for (const edit of EDITS) history = record(history, edit.do, edit);
    const after = JSON.stringify(history.report);
    expect(JSON.stringify(report)).toBe(before);
    expect(after).not.toBe(before);
    for (const _ of EDITS) history = undo(history);
    expect(JSON.stringify(history.report)).toBe(before);
    expect(undo(history)).toBe(history);
    for (const _ of EDITS) history = redo(history);
    expect(JSON.stringify(history.report)).toBe(after);
  });

  it('keep items on the band and bands high enough for their items', () => {
    const moved = applyEdit(report, { do: 'move', items: ['name'], dx: -50, dy: 30 });
    expect(moved.body[0]!.detail).toMatchObject({ height: 36, items: [{ x: 0, y: 31 }] });
    const low = applyEdit(moved, { do: 'band', band: detail, settings: { height: 3 } });
    expect(low.body[0]!.detail!.height).toBe(36);
    const small = applyEdit(report, { do: 'resize', items: ['name'], dx: 0, dy: 0, dw: -500, dh: -500 });
    expect(small.body[0]!.detail!.items[0]).toMatchObject({ width: 1, height: 1 });
  });

  it('record nothing when nothing changed', () => {
    const history = emptyHistory(report);
    expect(record(history, 'move', { do: 'move', items: ['gone'], dx: 1, dy: 1 })).toBe(history);
  });

  it('put items before and behind others', () => {
    const three = applyEdit(report, {
      do: 'add',
      band: detail,
      items: band(0, field('b', 'name'), field('c', 'name')).items,
    });
    const order = (to: 'front' | 'forward' | 'backward' | 'back', ids: string[]) =>
      applyEdit(three, { do: 'order', items: ids, to }).body[0]!.detail!.items.map((i) => i.id);
    expect(order('front', ['name'])).toEqual(['b', 'c', 'name']);
    expect(order('forward', ['name'])).toEqual(['b', 'name', 'c']);
    expect(order('backward', ['c'])).toEqual(['name', 'c', 'b']);
    expect(order('back', ['b', 'c'])).toEqual(['b', 'c', 'name']);
    expect(applyEdit(three, { do: 'order', items: ['c'], to: 'forward' })).toBe(three);
  });

  it('leave locked items where they are', () => {
    const locked = applyEdit(report, { do: 'set', items: ['name'], settings: { locked: true } });
    expect(applyEdit(locked, { do: 'move', items: ['name'], dx: 5, dy: 5 })).toBe(locked);
  });

  it('take the place of a share of the band', () => {
    const shared = applyEdit(report, { do: 'set', items: ['name'], settings: { share: { x: 10, width: 50 } } });
    const moved = applyEdit(shared, { do: 'move', items: ['name'], dx: 5, dy: 0 }).body[0]!.detail!.items[0]!;
    expect(moved.share).toEqual({ width: 50 });
    expect(
      applyEdit(shared, { do: 'place', places: { name: { x: 1, width: 2 } } }).body[0]!.detail!.items[0],
    ).toMatchObject({ x: 1, width: 2 });
  });

  it('copy items under ids of their own', () => {
    const [a, b] = copyItems(report, [report.body[0]!.detail!.items[0]!, report.body[0]!.detail!.items[0]!], 4, 0);
    expect(new Set([a!.id, b!.id, 'name']).size).toBe(3);
    expect(a!.x).toBe(4);
  });
});

describe('the board', () => {
  const bands = boardBands(report);

  it('stacks bands in the order of the page, inner drawers inside', () => {
    expect(bands.map((b) => b.key)).toEqual(['header', 'huts/header', 'huts/detail', 'stays/detail', 'huts/footer']);
    expect(bandAt(bands, { x: 0, y: 17 })!.key).toBe('huts/detail');
    expect(bandAt(bands, { x: 0, y: 999 })!.key).toBe('huts/footer');
  });

  it('gives each drawer room for its sentence, and folds drawers and bands away', () => {
    const view = { heading: 5, stub: 2, collapsed: new Set<string>() };
    const open = boardLayout(report, view);
    expect(open.drawers.map((d) => [d.drawer.id, d.depth, d.top, d.bottom])).toEqual([
      ['huts', 0, 10, 48],
      ['stays', 1, 29, 42],
    ]);
    expect(open.bands.map((b) => b.top)).toEqual([0, 15, 21, 34, 42]);
    const folded = boardLayout(report, { ...view, collapsed: new Set(['stays', 'huts/header']) });
    expect(folded.bands.map((b) => [b.key, b.height])).toEqual([
      ['header', 10],
      ['huts/header', 2],
      ['huts/detail', 8],
      ['huts/footer', 6],
    ]);
    expect(folded.height).toBe(36);
    const outer = boardLayout(report, { ...view, collapsed: new Set(['huts']) });
    expect([outer.drawers.length, outer.bands.length]).toEqual([1, 1]);
    expect(boardLayout(report, view, { header: 20 }).bands[1]!.top).toBe(25);
  });

  it('finds the items that a marquee touches', () => {
    expect(itemsIn(bands, { x: 0, y: 16, width: 10, height: 10 })).toEqual(['name', 'guest']);
    expect(itemsIn(bands, { x: 100, y: 0, width: 10, height: 50 })).toEqual([]);
  });

  it('makes of a dropped field what its place asks for', () => {
    const drop = (what: Placeable, drawer: string | null, name: string) =>
      itemFor(report, what, { drawer, band: name } as never, { x: 0, y: 0 });
    expect(drop(hutName, 'huts', 'detail')).toMatchObject({ kind: 'field', formula: 'name' });
    expect(drop(hutName, 'stays', 'detail')).toMatchObject({ kind: 'field', formula: 'hut.name' });
    expect(drop(hutName, 'huts', 'header')).toMatchObject({ kind: 'text', content: ['Name'] });
    expect(drop(hutId, 'huts', 'footer')).toMatchObject({ kind: 'field', formula: 'SUM(id)' });
    expect(drop(hutId, null, 'header')).toMatchObject({ kind: 'field', formula: 'SUM(hut.id)' });
    expect(formulaFor({ ...hutName, path: ['first name'] }, detail)).toBe("'first name'");
  });

  it('drops only formulas that the report can run', () => {
    for (const { address } of bands) {
      const item = itemFor(report, hutId, address, { x: 0, y: 0 });
      const { problems } = plan(applyEdit(report, { do: 'add', band: address, items: [item] }));
      expect(problems.map(problemText)).toEqual([]);
    }
  });

  it('keep the places of items to one another where the first of them reaches an edge', () => {
    const two = applyEdit(report, {
      do: 'add',
      band: detail,
      items: [{ ...report.body[0]!.detail!.items[0]!, id: 'b', x: 9, y: 3 }],
    });
    const moved = applyEdit(two, { do: 'move', items: ['name', 'b'], dx: -50, dy: -50 });
    expect(findBand(moved, detail)!.items.map((i) => [i.id, i.x, i.y])).toEqual([
      ['name', 0, 0],
      ['b', 9, 2],
    ]);
  });
});
