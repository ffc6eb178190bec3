import { expect, it } from 'vitest';
import { findBand, findDrawer } from '../definition/walk.ts';
import { band, definition, hutModel, plan } from '../layout/huts.test-support.ts';
import { columnSets } from './columns.ts';
import { drawerEntities } from './drawers.ts';
import { columnLanding, dropFields, type Landing } from './dropping.ts';
import { applyEdit } from './edit.ts';
import { roomIn } from './paper.ts';
import type { Placeable } from './placing.ts';

const report = definition({
  body: [
    {
      id: 'stays',
      name: 'stay',
      rows: { entity: 'stay' },
      header: band(7),
      detail: band(6),
      footer: band(7),
    },
  ],
});
const stay = report.body[0]!;
const field = (name: string, type: Placeable['type'] = 'text', more: Partial<Placeable> = {}): Placeable => ({
  label: name,
  type,
  drawer: stay,
  path: [name],
  ...more,
});
const around = { model: hutModel, entities: drawerEntities(report, hutModel) };
const at = (bandName: 'header' | 'detail' | 'footer', x = 0, y = 1): Landing => ({
  address: { drawer: 'stays', band: bandName },
  x,
  y,
});
const drop = (base: typeof report, fields: Placeable[], landing: Landing, kind?: Parameters<typeof dropFields>[4]) => {
  const found = dropFields(base, fields, landing, around, kind)!;
  return { ...found, report: applyEdit(base, found.edit) };
};
const formulas = (r: typeof report, name: 'header' | 'detail' | 'footer') =>
  findBand(r, { drawer: 'stays', band: name })!.items.map((i) => ('formula' in i ? i.formula : i.kind));

it('makes a column set of several fields, and items of one', () => {
  const two = drop(report, [field('guest'), field('nights', 'number')], at('detail'));
  expect(columnSets(two.report).get('columns')!.columns).toHaveLength(2);
  expect(two.items).toHaveLength(4);
  const one = drop(report, [field('guest')], at('detail', 33, 2));
  expect(findBand(one.report, at('detail').address)!.items[0]).toMatchObject({ formula: 'guest', x: 33, y: 2 });
});

it('puts a total under the column of its field, and a field beside a set into it', () => {
  const { report: base } = drop(report, [field('guest'), field('nights', 'number')], at('detail'));
  const total = drop(base, [field('nights', 'number')], at('footer', 100));
  const [, nights] = columnSets(base).get('columns')!.columns;
  expect(findBand(total.report, at('footer').address)!.items[0]).toMatchObject({
    formula: 'SUM(nights)',
    x: nights!.x,
    width: nights!.width,
    column: { set: 'columns' },
  });
  const third = drop(base, [field('arrival', 'date')], at('detail', 120));
  expect(columnSets(third.report).get('columns')!.columns).toHaveLength(3);
  expect(formulas(third.report, 'header')).toHaveLength(3);
});

it('puts fields between the columns where they are let go, all narrower where there is no more room', () => {
  const { report: base } = drop(report, [field('guest'), field('nights', 'number')], at('detail'));
  const columns = (of: typeof report) => columnSets(of).get('columns')!.columns;
  const [guest, nights] = columns(base);
  const formulaOf = ({ items }: { items: readonly object[] }) =>
    items.flatMap((item) => ('formula' in item ? [item.formula] : []))[0];
  const landing = at('detail', nights!.x - 1);
  expect(columnLanding(base, [field('arrival', 'date')], landing)).toEqual({
    set: 'columns',
    at: 1,
    x: (guest!.x + guest!.width + nights!.x) / 2,
  });
  const three = drop(base, [field('arrival', 'date')], landing).report;
  expect(columns(three).map(formulaOf)).toEqual(['guest', 'arrival', 'nights']);
  expect(formulas(three, 'header')).toHaveLength(3);
  // Each of many more is narrower than it would like to be, and all end at the margin.
  const many = drop(three, [field('guest'), field('guest'), field('arrival', 'date')], at('detail', 0)).report;
  expect(columns(many).map(formulaOf)).toEqual(['guest', 'guest', 'arrival', 'guest', 'arrival', 'nights']);
  const more = drop(many, [field('guest')], at('header', 500)).report;
  const last = columns(more).at(-1)!;
  expect(last.x + last.width).toBeCloseTo(roomIn(more, at('detail').address), 1);
  for (const [i, column] of columns(more).entries())
    if (i > 0) expect(column.x).toBeGreaterThanOrEqual(columns(more)[i - 1]!.x + columns(more)[i - 1]!.width);
});

it('leaves alone what is let go left of a set, below its row, or in the band of a total', () => {
  const { report: made } = drop(report, [field('guest'), field('nights', 'number')], at('detail', 40));
  const guest = [field('guest')];
  expect(columnLanding(made, guest, at('detail', 20))).toBeNull();
  expect(columnLanding(made, guest, at('detail', 60, 12))).toBeNull();
  expect(columnLanding(made, guest, at('footer', 60))).toBeNull();
  expect(columnLanding(made, [field('guest', 'text', { drawer: null })], at('detail', 60))).toBeNull();
});

it('puts a total that nobody gave a place under the value that it adds up', () => {
  const { report: base } = drop(report, [field('nights', 'number')], at('detail', 55));
  const value = findBand(base, at('detail').address)!.items[0]!;
  const anywhere = { ...at('footer', 0), isAnywhere: true as const };
  const total = drop(base, [field('nights', 'number')], anywhere).report;
  expect(findBand(total, anywhere.address)!.items[0]).toMatchObject({ x: value.x, width: value.width });
  // There is one already: the next stands where there is room.
  const two = drop(total, [field('nights', 'number')], { ...anywhere, x: 90 }).report;
  expect(findBand(two, anywhere.address)!.items[1]!.x).not.toBe(value.x);
  expect(findBand(drop(base, [field('nights', 'number')], at('footer', 5)).report, anywhere.address)!.items[0]!.x).toBe(
    5,
  );
});

it('lets a total stay where it was dropped when another one stands under its column', () => {
  const { report: base } = drop(report, [field('guest'), field('nights', 'number')], at('detail'));
  const one = drop(base, [field('nights', 'number')], at('footer', 100));
  const two = drop(one.report, [field('nights', 'number')], at('footer', 40));
  const [first, second] = findBand(two.report, at('footer').address)!.items;
  expect(first).toMatchObject({ column: { set: 'columns' } });
  expect(second).toMatchObject({ x: 40, y: 1, width: 28 });
});

it('shows the text of the first row above rows, and counts them below', () => {
  const above = { address: { drawer: null, band: 'header' } as const, x: 0, y: 1 };
  const based = { ...report, header: band(10), footer: band(10) };
  expect(drop(based, [field('guest')], above).report.header!.items).toMatchObject([{ formula: 'FIRST(stay.guest)' }]);
  expect(drop(based, [field('nights', 'number')], above).report.header!.items).toMatchObject([
    { formula: 'SUM(stay.nights)' },
  ]);
  const below = { ...above, address: { drawer: null, band: 'footer' } as const };
  expect(drop(based, [field('guest')], below).report.footer!.items).toMatchObject([{ formula: 'COUNTA(stay.guest)' }]);
});

it('keeps what is dropped near the right margin inside it', () => {
  const { report: made, items } = drop(report, [field('guest')], at('detail', 165), 'barcode');
  const item = findBand(made, at('detail').address)!.items.find(({ id }) => items.includes(id))!;
  expect(item.kind).toBe('barcode');
  expect(item.x + item.width).toBeCloseTo(roomIn(made, at('detail').address), 6);
});

it('shows conditions as check marks, by themselves and as columns', () => {
  const paid = field('paid', 'boolean');
  const kinds = (r: typeof report) => findBand(r, at('detail').address)!.items.map((i) => i.kind);
  expect(kinds(drop(report, [paid], at('detail')).report)).toEqual(['check']);
  const two = drop(report, [field('guest'), paid], at('detail')).report;
  expect(kinds(two)).toEqual(['field', 'check']);
  const { report: base } = drop(report, [field('guest'), field('nights', 'number')], at('detail'));
  expect(kinds(drop(base, [paid], at('detail', 120)).report)).toEqual(['field', 'field', 'check']);
});

it('brings the drawer that related fields need', () => {
  const related = [field('kind', 'text', { relation: 'charges' }), field('amount', 'number', { relation: 'charges' })];
  const made = drop(report, related, at('detail'));
  const drawer = findDrawer(made.report, made.drawer!)!;
  expect(drawer.parent!.id).toBe('stays');
  expect(drawer.drawer.rows).toEqual({ relation: 'charges' });
  expect(drawer.drawer.detail!.items).toHaveLength(2);
  expect(plan(made.report).problems).toEqual([]);
});

it('begins a report with the table whose fields are dropped', () => {
  const table = { model: 'huts', entity: 'stay' };
  const blank = definition({ model: undefined });
  const fields = [field('guest', 'text', { drawer: null, table }), field('nights', 'number', { drawer: null, table })];
  const landing: Landing = { address: { drawer: null, band: 'header' }, x: 0, y: 0 };
  const made = drop(blank, fields, landing);
  expect(made.report).toMatchObject({ model: 'huts', body: [{ name: 'stay', rows: { entity: 'stay' } }] });
  expect(columnSets(made.report).get('columns')!.columns).toHaveLength(2);
  expect(plan(made.report).problems).toEqual([]);
  // There is one outermost drawer only.
  expect(dropFields(made.report, fields, landing, around)).toBeNull();
});

it('makes what is asked for, and nothing where nothing can be', () => {
  const made = drop(report, [field('nights', 'number')], at('detail'), 'text');
  expect(formulas(made.report, 'detail')).toEqual(['text']);
  expect(drop(report, [field('photo', 'picture')], at('detail')).report.body[0]!.detail!.items[0]!.kind).toBe(
    'picture',
  );
  expect(dropFields(report, [], at('detail'), around)).toBeNull();
  expect(
    dropFields(report, [field('guest')], { ...at('detail'), address: { drawer: 'gone', band: 'detail' } }, around),
  ).toBeNull();
});
