import { describe, expect, it } from 'vitest';
import { allBands, drawersOf } from '../definition/walk.ts';
import { band, definition, field, hutModel, plan } from '../layout/huts.test-support.ts';
import { copyDrawer } from './copying.ts';
import { drawerEntities, nestingOf, newDrawer } from './drawers.ts';
import { applyEdit, type Edit } from './edit.ts';

const report = definition({
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      groups: [{ name: 'letter', by: 'name', per: 'letter', header: band(6, field('l', 'letter')) }],
      detail: band(8, field('name', 'name')),
      drawers: [{ id: 'stays', name: 'stay', rows: { relation: 'stays' }, detail: band(8, field('guest', 'guest')) }],
    },
  ],
});
const after = (...edits: Edit[]) => applyEdit(report, { do: 'all', edits });
const keys = (r: typeof report) => [...allBands(r)].map(({ path }) => path);

describe('drawers', () => {
  it('get bands and lose them, groups too', () => {
    const more = after(
      { do: 'addBand', band: { drawer: 'stays', band: 'footer' }, as: band(5) },
      { do: 'addBand', band: { drawer: 'huts', band: 'footer', group: 'letter' }, as: band(4) },
      { do: 'addBand', band: { drawer: null, band: 'pageHeader' }, as: band(4) },
      { do: 'addBand', band: { drawer: 'gone', band: 'footer' }, as: band(5) },
    );
    expect(keys(more)).toEqual([
      'pageHeader',
      'body/0/groups/0/header',
      'body/0/detail',
      'body/0/drawers/0/detail',
      'body/0/drawers/0/footer',
      'body/0/groups/0/footer',
    ]);
    const less = applyEdit(more, { do: 'removeBand', band: { drawer: 'stays', band: 'footer' } });
    expect(keys(less)).not.toContain('body/0/drawers/0/footer');
    const kept = applyEdit(report, { do: 'addBand', band: { drawer: 'huts', band: 'detail' }, as: band(99) });
    expect(kept).toBe(report);
  });

  it('are set, freed of settings, taken out and put back', () => {
    const set = after({ do: 'drawer', drawer: 'stays', settings: { filter: 'nights > 2', first: 3 } });
    expect(set.body[0]!.drawers![0]).toMatchObject({ filter: 'nights > 2', first: 3 });
    expect(
      applyEdit(set, { do: 'drawer', drawer: 'stays', settings: { filter: null } }).body[0]!.drawers![0],
    ).not.toHaveProperty('filter');
    const group = after({ do: 'group', drawer: 'huts', group: 'letter', settings: { descending: true } });
    expect(group.body[0]!.groups![0]!.descending).toBe(true);
    const bare = after({ do: 'removeDrawer', drawer: 'stays' });
    expect(bare.body).not.toHaveProperty('drawers');
    const empty = applyEdit(bare, { do: 'removeDrawer', drawer: 'huts' });
    expect(empty.body).toEqual([]);
    const back = applyEdit(empty, { do: 'addDrawer', parent: null, at: 0, drawer: report.body[0]! });
    expect(back.body).toEqual(report.body);
  });

  it('come new under a name and an id that are free', () => {
    const drawer = newDrawer(report, { relation: 'stays' }, 'stay');
    expect(drawer).toMatchObject({ id: 'stay1', name: 'stay2', rows: { relation: 'stays' } });
    const added = after({ do: 'addDrawer', parent: 'huts', at: 0, drawer });
    expect(added.body[0]!.drawers!.map((d) => d.id)).toEqual(['stay1', 'stays']);
    expect(plan(added).problems).toEqual([]);
  });

  it('are copied with all inside, every id anew', () => {
    const copy = copyDrawer(report, report.body[0]!, { models: [hutModel], report: () => null });
    const both = applyEdit(report, {
      do: 'addDrawer',
      parent: 'huts',
      at: 1,
      drawer: { ...copy, rows: { relation: 'stays' } },
    });
    const ids = [...allBands(both)].flatMap((b) => b.band.items.map((i) => i.id));
    expect(new Set(ids).size).toBe(ids.length);
    const drawers = [...drawersOf(both)].map((d) => d.drawer);
    expect(new Set(drawers.map((d) => d.id)).size).toBe(4);
    expect(new Set(drawers.map((d) => d.name)).size).toBe(4);
  });

  it('are copied with formulas that reach the copy, and columns that go their own way', () => {
    const column = { set: 'columns', name: 'c1' };
    const nested = definition({
      body: [
        {
          id: 'huts',
          name: 'hut',
          rows: { entity: 'hut' },
          drawers: [
            {
              id: 'stays',
              name: 'stay',
              rows: { relation: 'stays' },
              header: band(6, field('caption', '"Guest"', { column, panel: 'panel1' })),
              detail: band(6, field('guest', 'stay.guest & hut.name', { column, panel: 'panel1' })),
              drawers: [
                {
                  id: 'charges',
                  name: 'charge',
                  rows: { relation: 'charges' },
                  detail: band(6, field('sum', 'SUM(charge.amount; stay) & stay.guest')),
                },
              ],
            },
          ],
        },
      ],
    });
    const stays = nested.body[0]!.drawers![0]!;
    const copy = copyDrawer(nested, stays, { models: [hutModel], report: () => null });
    expect([copy.name, copy.drawers![0]!.name]).toEqual(['stay2', 'charge2']);
    expect(copy.detail!.items[0]).toMatchObject({ formula: 'stay2.guest & hut.name', column: { set: 'columns2' } });
    expect(copy.header!.items[0]).toMatchObject({ column: { set: 'columns2' }, panel: copy.detail!.items[0]!.panel });
    expect(copy.detail!.items[0]!.panel).not.toBe('panel1');
    expect(copy.drawers![0]!.detail!.items[0]).toMatchObject({ formula: 'SUM(charge2.amount; stay2) & stay2.guest' });
    const both = applyEdit(nested, { do: 'addDrawer', parent: 'huts', at: 1, drawer: copy });
    expect(plan(both).problems).toEqual([]);
  });

  it('go where a relation leads to their rows, and say why they cannot go elsewhere', () => {
    expect([...drawerEntities(report, hutModel)].map(([id, e]) => [id, e.name])).toEqual([
      ['huts', 'hut'],
      ['stays', 'stay'],
    ]);
    expect(nestingOf(report, hutModel, 'huts', 'stays')).toEqual({ ok: false, reason: 'outermost' });
    expect(nestingOf(report, hutModel, 'stays', 'stays')).toEqual({ ok: false, reason: 'inside-itself' });
    expect(nestingOf(report, null, 'stays', 'huts')).toEqual({ ok: false, reason: 'unknown-rows' });
    expect(nestingOf(report, hutModel, 'stays', 'huts')).toMatchObject({ ok: true, relations: [{ name: 'stays' }] });
    const two = after({
      do: 'addDrawer',
      parent: 'huts',
      at: 1,
      drawer: newDrawer(report, { relation: 'stays' }, 'stay'),
    });
    expect(nestingOf(two, hutModel, 'stay1', 'stays')).toEqual({ ok: false, reason: 'no-relation' });
    const first = applyEdit(two, { do: 'moveDrawer', drawer: 'stay1', parent: 'huts', at: 0, relation: 'stays' });
    expect(first.body[0]!.drawers!.map((d) => d.id)).toEqual(['stay1', 'stays']);
    expect(applyEdit(two, { do: 'moveDrawer', drawer: 'huts', parent: 'stays', at: 0, relation: 'x' })).toBe(two);
  });
});
