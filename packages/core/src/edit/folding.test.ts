import { expect, it } from 'vitest';
import { band, definition, field, hutModel, line, plan } from '../layout/huts.test-support.ts';
import { applyEdit } from './edit.ts';
import { foldHeading } from './folding.ts';
import { mendFor } from './mends.ts';

const context = { models: [hutModel], report: () => null };
const inner = (id: string, more: Record<string, unknown> = {}) => ({
  id,
  name: id,
  rows: { relation: 'stays' },
  detail: line(`${id}_guest`, 'guest'),
  ...more,
});
const huts = (drawers: object[], more: Record<string, unknown> = {}) =>
  definition({
    body: [{ id: 'huts', name: 'hut', rows: { entity: 'hut' }, detail: line('name', 'name'), drawers, ...more }],
  });

it('a fold has its sign at its header, or at the row around, which has room for one', () => {
  const report = huts([inner('a', { header: band(5, field('h', '"A"')) }), inner('b', { fold: {} }), inner('c')]);
  expect(foldHeading(report, 'a')).toEqual({ drawer: 'a', band: 'header' });
  expect(foldHeading(report, 'b')).toEqual({ drawer: 'huts', band: 'detail' });
  expect(foldHeading(report, 'c')).toBeNull();
  expect(foldHeading(report, 'huts')).toBeNull();
  expect(foldHeading(report, 'none')).toBeNull();
});

it('a fold without a heading is mended by a header, of the drawer or of the group that it is of', () => {
  const groups = [{ name: 'initial', by: 'guest', per: 'letter', fold: {} }];
  const report = huts([inner('open_stays', { fold: {}, header: line('h', '"x"'), groups })], { fold: {} });
  const { problems } = plan(report);
  expect(problems.map(({ code, place }) => [code, place.drawer])).toEqual([
    ['fold-without-heading', 'huts'],
    ['fold-without-heading', 'open_stays'],
  ]);
  let mended = report;
  for (const problem of problems) {
    const mend = mendFor(mended, problem, context);
    expect(mend?.words).toBe('addHeader');
    mended = applyEdit(mended, mend!.edit);
  }
  expect(plan(mended).problems).toEqual([]);
  expect(mended.body[0]!.header!.items[0]).toMatchObject({ kind: 'text', content: ['Hut'] });
  expect(mended.body[0]!.drawers![0]!.groups![0]!.header!.items[0]).toMatchObject({
    kind: 'field',
    formula: 'initial',
  });
});
