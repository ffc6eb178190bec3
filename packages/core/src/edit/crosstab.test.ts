import { describe, expect, it } from 'vitest';
import type { ItemOf } from '../definition/schema.ts';
import { findItem } from '../definition/walk.ts';
import { band, definition, hutModel, plan } from '../layout/huts.test-support.ts';
import { moveGroup } from './crosstab.ts';
import { drawerEntities } from './drawers.ts';
import { applyEdit } from './edit.ts';
import { intoItem } from './into-item.ts';
import { groupPer, itemFields } from './item-fields.ts';
import type { Placeable } from './placing.ts';

const crosstab = (more: object = {}) => ({ kind: 'crosstab', id: 'x', x: 0, y: 0, width: 178, height: 20, ...more });
const report = definition({
  header: band(30, crosstab()),
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      detail: band(30, crosstab({ id: 'inHut' })),
      drawers: [{ id: 'stays', name: 'stay', rows: { relation: 'stays' } }],
    },
  ],
});
const around = { model: hutModel, entities: drawerEntities(report, hutModel) };
const [hut] = report.body;
const stay = hut!.drawers![0]!;
const field = (name: string, type: Placeable['type'], more: Partial<Placeable> = {}): Placeable => ({
  label: name,
  type,
  drawer: stay,
  path: [name],
  ...more,
});
const dropped = (id: string, part: Parameters<typeof intoItem>[2], ...fields: Placeable[]) => {
  const edit = intoItem(report, id, part, fields, around);
  if (!edit) return null;
  const after = applyEdit(report, edit);
  return { item: findItem(after, id)!.item as ItemOf<'crosstab'>, problems: plan(after).problems, after };
};
/** The other crosstab is empty still, and says so. */
const wrong = (made: ReturnType<typeof dropped>) =>
  made!.problems.filter(({ code }) => code !== 'crosstab-without-cells').map(({ code }) => code);

describe('fields dropped into a crosstab', () => {
  it('go where they suit: numbers are counted, days go across by month, everything else down', () => {
    const made = dropped('x', null, field('guest', 'text'), field('arrival', 'date'), field('nights', 'number'));
    expect(made!.item.down).toEqual([{ name: 'guest', by: 'stay.guest', caption: 'guest' }]);
    expect(made!.item.across).toMatchObject([{ name: 'arrival', by: 'stay.arrival', per: 'month' }]);
    expect(made!.item.cells).toMatchObject([{ formula: 'SUM(stay.nights)' }]);
    expect(wrong(made)).toEqual([]);
  });

  it('go to the part that they are dropped on, each under a name of its own', () => {
    const made = dropped('x', 'down', field('nights', 'number'), field('nights', 'number'));
    expect(made!.item.down.map(({ name }) => name)).toEqual(['nights', 'nights2']);
    expect(dropped('x', 'cells', field('guest', 'text'))!.item.cells[0]!.formula).toBe('COUNTA(stay.guest)');
  });

  it('bring their rows along where it is empty: a table’s, or those of the row around it', () => {
    const charge = field('kind', 'text', { drawer: null, table: { model: 'huts', entity: 'charge' } });
    expect(dropped('x', 'down', charge)!.item.rows).toEqual({ entity: 'charge' });
    const own = field('guest', 'text', { drawer: hut!, relation: 'stays' });
    const made = dropped('inHut', 'down', own);
    expect(made!.item).toMatchObject({ rows: { relation: 'stays' }, down: [{ by: 'guest' }] });
    expect(wrong(made)).toEqual([]);
    // Then it takes no others.
    const filled = applyEdit(report, intoItem(report, 'inHut', 'down', [own], around)!);
    expect(intoItem(filled, 'inHut', 'down', [charge], around)).toBeNull();
  });

  it('are refused when they mean nothing there', () => {
    expect(dropped('x', 'down', field('photo', 'picture'))).toBeNull();
    expect(dropped('x', 'down', field('season', 'number', { drawer: null }))).toBeNull();
    expect(intoItem(report, 'nothing', 'down', [field('guest', 'text')], around)).toBeNull();
  });

  it('are offered as formulas reach them, those of the row that each leads to as well', () => {
    const offered = itemFields(report, 'inHut', around, [hut!, stay]).map(({ formula }) => formula);
    expect(offered).toContain('name');
    expect(offered).toContain('stay.nights');
    expect(offered).not.toContain('stay.photo');
  });
});

describe('groups of a crosstab', () => {
  const item = crosstab({
    down: [
      { name: 'a', by: 'a' },
      { name: 'b', by: 'b' },
    ],
    across: [{ name: 'c', by: 'c' }],
  }) as unknown as ItemOf<'crosstab'>;
  const names = ({ down, across }: Pick<typeof item, 'down' | 'across'>) =>
    [down, across].map((g) => g.map((x) => x.name));

  it('change their order, and from one axis to the other', () => {
    expect(names(moveGroup(item, { part: 'down', at: 0 }, { part: 'down', at: 1 }))).toEqual([['b', 'a'], ['c']]);
    expect(names(moveGroup(item, { part: 'down', at: 1 }, { part: 'across', at: 0 }))).toEqual([['a'], ['b', 'c']]);
    expect(names(moveGroup(item, { part: 'down', at: 9 }, { part: 'across', at: 0 }))).toEqual([['a', 'b'], ['c']]);
  });

  it('go by other periods with a format that suits, and lose what another way of grouping had', () => {
    const monthly = { name: 'm', by: 'arrival', per: 'month' as const, format: 'mmm yyyy' };
    expect(groupPer(monthly, 'year')).toEqual({ name: 'm', by: 'arrival', per: 'year', format: 'yyyy' });
    expect(groupPer(monthly, 'value')).toEqual({ name: 'm', by: 'arrival' });
    expect(groupPer({ name: 'n', by: 'nights' }, 'range')).toEqual({
      name: 'n',
      by: 'nights',
      per: 'range',
      width: 10,
    });
  });
});
