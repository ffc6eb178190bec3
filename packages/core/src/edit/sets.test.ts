import { expect, it } from 'vitest';
import { setOf } from '../definition/sets.ts';
import { definition } from '../layout/huts.test-support.ts';
import { bandAt, boardLayout } from './board.ts';
import { applyEdit } from './edit.ts';
import { paperEdit, roomIn } from './paper.ts';
import { addSet, isBesidePrevious, joinSet, moveInRows, putBeside } from './sets.ts';

const set = (id: string, more: object = {}) => ({ id, name: id, rows: { entity: 'hut' }, ...more });
const ids = (report: ReturnType<typeof definition>): string[] => report.body.map((d) => d.id);

it('another set of rows goes below the one it is added at, past those beside it', () => {
  const report = definition({
    body: [set('a', { beside: { x: 0, width: 80 } }), set('b', { beside: { x: 90, width: 80 } }), set('c')],
  });
  expect(ids(applyEdit(report, addSet(report, set('new'), 0, 'below')))).toEqual(['a', 'b', 'new', 'c']);
  expect(ids(applyEdit(report, addSet(report, set('new'), 2, 'below')))).toEqual(['a', 'b', 'c', 'new']);
  const first = definition({});
  expect(ids(applyEdit(first, addSet(first, set('new'), -1, 'below')))).toEqual(['new']);
});

it('sets side by side share the width of the page, however many there are', () => {
  let report = definition({ body: [set('a'), set('z')] });
  report = applyEdit(report, addSet(report, set('b'), 0, 'beside'));
  expect(report.body.map((d) => [d.id, d.beside])).toEqual([
    ['a', { x: 0, width: 87 }],
    ['b', { x: 93, width: 87 }],
    ['z', undefined],
  ]);
  report = applyEdit(report, addSet(report, set('c'), 0, 'beside'));
  expect(report.body.map((d) => [d.id, d.beside?.x, d.beside?.width])).toEqual([
    ['a', 0, 56],
    ['b', 62, 56],
    ['c', 124, 56],
    ['z', undefined, undefined],
  ]);
});

it('a set is found by any drawer inside it, and changes places with others', () => {
  const inner = { id: 'in', name: 'in', rows: { relation: 'stays' } };
  const report = definition({ body: [set('a'), set('b', { drawers: [inner] })] });
  expect([setOf(report, 'in'), setOf(report, 'a'), setOf(report, 'gone')]).toEqual([1, 0, -1]);
  const move = { do: 'moveDrawer', parent: null, at: 0, relation: null } as const;
  expect(ids(applyEdit(report, { ...move, drawer: 'b' }))).toEqual(['b', 'a']);
  // Rows that hang on others are none by themselves.
  expect(applyEdit(report, { ...move, drawer: 'in' })).toBe(report);
});

it('another paper for the pages of a set changes what stands on them alone', () => {
  const wide = (id: string) => ({
    height: 5,
    items: [{ kind: 'field', id, x: 0, y: 0, width: 180, height: 5, formula: 'name' }],
  });
  const page = { paper: 'A4', orientation: 'portrait', margins: { top: 15, right: 15, bottom: 15, left: 15 } } as const;
  const report = definition({
    footer: wide('end'),
    body: [
      set('a', { detail: wide('one') }),
      set('b', { detail: wide('two'), page }),
      set('c', { detail: wide('three') }),
    ],
  });
  const turned = applyEdit(report, paperEdit(report, { ...page, orientation: 'landscape' }, 'fit', 1));
  const widthOf = (id: string) =>
    [...turned.body.flatMap((d) => d.detail?.items ?? []), ...turned.footer!.items].find((i) => i.id === id)!.width;
  expect(['one', 'two', 'three', 'end'].map(widthOf)).toEqual([180, 267, 267, 267]);
  expect([turned.page.orientation, turned.body[1]!.page?.orientation]).toEqual(['portrait', 'landscape']);
  const beside = applyEdit(turned, addSet(turned, set('d'), 2, 'beside'));
  expect(['a', 'b', 'c', 'd'].map((drawer) => roomIn(beside, { drawer, band: 'detail' }))).toEqual([
    180, 267, 130.5, 130.5,
  ]);
});

it('a page header of a set is added to outermost drawers alone', () => {
  const report = definition({ body: [set('a', { drawers: [{ id: 'in', name: 'in', rows: { relation: 'stays' } }] })] });
  const add = (drawer: string) =>
    applyEdit(report, { do: 'addBand', band: { drawer, band: 'pageHeader' }, as: { height: 5, items: [] } });
  expect(add('a').body[0]!.pageHeader).toEqual({ height: 5, items: [] });
  expect(add('in')).toBe(report);
});

it('a set beside others brings what stands in them into their share of the width', () => {
  const detail = (id: string, more: object = {}) => ({
    height: 5,
    items: [{ kind: 'field', id, x: 0, y: 0, width: 180, height: 5, formula: 'name', ...more }],
  });
  const report = definition({ body: [set('a', { detail: detail('one') })] });
  const beside = applyEdit(report, addSet(report, set('b', { detail: detail('two') }), 0, 'beside'));
  expect(beside.body.map((d) => d.detail!.items[0]!.width)).toEqual([87, 87]);
});

it('the set of another report comes with its queries, under names and ids of its own', () => {
  const query = (name: string, entity: string) => ({
    name,
    label: name,
    steps: [{ step: 'take', from: { model: 'huts', entity } }],
  });
  const detail = {
    height: 5,
    items: [
      {
        kind: 'field',
        id: 'f',
        x: 0,
        y: 0,
        width: 40,
        height: 5,
        formula: 'name',
        column: { set: 'columns', name: 'n' },
      },
    ],
  };
  const report = definition({
    queries: [query('q', 'hut'), query('same', 'hut')],
    body: [set('q', { rows: { entity: 'q' }, detail })],
  });
  const other = definition({
    queries: [query('q', 'stay'), query('same', 'hut')],
    body: [set('q', { rows: { entity: 'q' }, detail })],
  });
  const joined = joinSet(report, other, 'below');
  expect(joined.queries!.map((q) => q.name)).toEqual(['q', 'same', 'q2']);
  const [first, second] = joined.body;
  expect(first).toEqual(report.body[0]);
  expect([second!.rows, second!.name]).toEqual([{ entity: 'q2' }, 'q2']);
  expect([second!.id, second!.detail!.items[0]!.id]).not.toContain('q');
  expect(second!.detail!.items[0]!.column!.set).not.toBe('columns');
  expect(joinSet(report, definition({}), 'below')).toBe(report);
});

const across = (report: ReturnType<typeof definition>, inner = false) =>
  (inner ? report.body[0]!.drawers! : report.body).map((d) => [d.id, d.beside?.x, d.beside?.width]);
const put = (report: ReturnType<typeof definition>, id: string, on: boolean) =>
  applyEdit(report, putBeside(report, id, on)!);

it('one switch puts a drawer side by side with the one before it, and all in the row share the width', () => {
  const wide = (id: string) => ({
    height: 5,
    items: [{ kind: 'field', id, x: 0, y: 0, width: 180, height: 5, formula: 'name' }],
  });
  let report = definition({ body: [set('a', { detail: wide('one') }), set('b', { detail: wide('two') }), set('c')] });
  expect(putBeside(report, 'a', true)).toBeNull();
  report = put(report, 'b', true);
  expect(across(report)).toEqual([
    ['a', 0, 87],
    ['b', 93, 87],
    ['c', undefined, undefined],
  ]);
  expect(report.body.map((d) => d.detail?.items[0]?.width)).toEqual([87, 87, undefined]);
  report = put(report, 'c', true);
  expect(across(report).map(([, , width]) => width)).toEqual([56, 56, 56]);
  expect(report.body.map((d) => isBesidePrevious(report, d))).toEqual([false, true, true]);
  // The one in the middle alone parts the others, and what stands in them has the whole width again.
  report = put(report, 'b', false);
  expect(across(report).map(([, , width]) => width)).toEqual([undefined, undefined, undefined]);
  expect(report.body.map((d) => d.detail?.items[0]?.width)).toEqual([180, 180, undefined]);
});

it('those side by side follow one another as they are moved, and one left alone has the whole width', () => {
  const move = { do: 'moveDrawer', parent: null, relation: null } as const;
  let report = put(definition({ body: [set('a'), set('b'), set('c')] }), 'b', true);
  report = applyEdit(report, moveInRows(report, { ...move, drawer: 'b', at: 0 }));
  expect(across(report)).toEqual([
    ['b', 0, 87],
    ['a', 93, 87],
    ['c', undefined, undefined],
  ]);
  report = applyEdit(report, moveInRows(report, { ...move, drawer: 'b', at: 2 }));
  expect(across(report).map(([id, x]) => [id, x])).toEqual([
    ['a', undefined],
    ['c', undefined],
    ['b', undefined],
  ]);
});

it('drawers inside one share what it has', () => {
  const inner = (id: string) => ({ id, name: id, rows: { relation: 'stays' } });
  let report = definition({ body: [set('a', { drawers: [inner('x'), inner('y')] }), set('b')] });
  report = put(put(report, 'b', true), 'y', true);
  expect(across(report, true)).toEqual([
    ['x', 0, 40.5],
    ['y', 46.5, 40.5],
  ]);
});

it('the board shows drawers side by side as the page does', () => {
  const band = (height: number) => ({ height, items: [] });
  const report = definition({
    header: band(10),
    body: [
      set('a', { beside: { x: 0, width: 87 }, header: band(6), detail: band(20) }),
      set('b', { beside: { x: 93, width: 87 }, detail: band(8) }),
      set('c', { detail: band(5) }),
    ],
  });
  const { bands, drawers, height } = boardLayout(report, { heading: 4, stub: 2, collapsed: new Set() });
  expect(bands.map((b) => [b.key, b.left, b.top, b.width])).toEqual([
    ['header', 0, 0, 180],
    ['a/header', 0, 14, 87],
    ['a/detail', 0, 20, 87],
    ['b/detail', 93, 14, 87],
    ['c/detail', 0, 44, 180],
  ]);
  expect(height).toBe(49);
  expect(drawers.map((d) => [d.drawer.id, d.side, d.top, d.across?.left])).toEqual([
    ['a', 0, 10, 0],
    ['b', 1, 10, 93],
    ['c', 0, 40, undefined],
  ]);
  const at = (x: number, y: number) => bandAt(bands, { x, y })?.key;
  expect([at(5, 16), at(100, 16), at(100, 30), at(5, 30), at(200, 60), at(-5, 2)]).toEqual([
    'a/header',
    'b/detail',
    'b/detail',
    'a/detail',
    'c/detail',
    'header',
  ]);
});
