import { describe, expect, it } from 'vitest';
import { CHART_TYPES } from '../chart/chart.ts';
import { CHART_KINDS } from '../chart/kinds.ts';
import type { Item, ItemKind, ItemOf } from '../definition/schema.ts';
import { findItem } from '../definition/walk.ts';
import { band, definition, hutModel, plan } from '../layout/huts.test-support.ts';
import { themeEdit } from './apply-theme.ts';
import { chartParts } from './chart.ts';
import { drawerEntities } from './drawers.ts';
import { applyEdit } from './edit.ts';
import { intoItem } from './into-item.ts';
import type { Placeable } from './placing.ts';
import { findTheme, THEMES } from './themes.ts';

const item = (kind: ItemKind, more: object = {}) => ({ kind, id: 'x', x: 0, y: 0, width: 80, height: 40, ...more });

/** A report with an empty item in its header, and in the detail of its huts, which hold stays. */
const reportWith = (kind: ItemKind, more: object = {}) =>
  definition({
    parameters: [{ name: 'limit', label: 'Limit', type: 'number', default: 3 }],
    header: band(45, item(kind, more)),
    body: [
      {
        id: 'huts',
        name: 'hut',
        rows: { entity: 'hut' },
        detail: band(45, { ...item(kind, more), id: 'inHut' }),
        drawers: [{ id: 'stays', name: 'stay', rows: { relation: 'stays' } }],
      },
    ],
  });

const table = (name: string, type: Placeable['type']): Placeable => ({
  label: name,
  type,
  drawer: null,
  path: [name],
  table: { model: 'huts', entity: 'stay' },
});
const NIGHTS = table('nights', 'number');
const GUEST = table('guest', 'text');
const ARRIVAL = table('arrival', 'date');

const dropped = <K extends ItemKind>(
  kind: K,
  fields: readonly [string | null, Placeable][],
  { more = {}, id = 'x' }: { more?: object; id?: string } = {},
): ItemOf<K> | null => {
  let report = reportWith(kind, more);
  for (const [part, field] of fields) {
    const around = { model: hutModel, entities: drawerEntities(report, hutModel) };
    const edit = intoItem(report, id, part, [field], around);
    if (!edit) return null;
    report = applyEdit(report, edit);
  }
  const ownProblems = plan(report).problems.filter(({ place }) => place.item === id);
  expect(ownProblems.map(({ code }) => code)).toEqual([]);
  return findItem(report, id)!.item as ItemOf<K>;
};

describe('fields dropped on a chart', () => {
  it('go where they suit: numbers are measured, the first of the others goes along, the next one splits', () => {
    const made = dropped('chart', [
      [null, NIGHTS],
      [null, ARRIVAL],
      [null, GUEST],
    ])!;
    expect(made).toMatchObject({
      rows: { entity: 'stay' },
      measures: [{ formula: 'SUM(nights)', caption: 'nights' }],
      along: { by: 'arrival', per: 'month', format: 'mmm yyyy' },
      split: { by: 'guest' },
    });
  });

  it('take the place of what stands in a part, and add to what is measured', () => {
    const made = dropped('chart', [
      ['measures', NIGHTS],
      ['measures', GUEST],
      ['along', ARRIVAL],
      ['along', GUEST],
    ])!;
    expect(made.measures.map(({ formula }) => formula)).toEqual(['SUM(nights)', 'COUNTA(guest)']);
    expect(made.along).toMatchObject({ by: 'guest', caption: 'guest' });
  });

  it('fill the parts of dots one after the other, wherever the first is dropped', () => {
    const made = dropped(
      'chart',
      [
        ['measures/2', NIGHTS],
        [null, table('id', 'number')],
        [null, GUEST],
      ],
      { more: { type: 'bubble' } },
    )!;
    expect(made.measures.map(({ formula }) => formula)).toEqual(['SUM(nights)', 'SUM(id)']);
    expect(made.along).toMatchObject({ by: 'guest' });
  });

  it('are refused where nothing can take them: other rows, pictures, values that are the same for all', () => {
    const other = { ...table('kind', 'text'), table: { model: 'huts', entity: 'charge' } };
    expect(
      dropped('chart', [
        ['measures', NIGHTS],
        ['along', other],
      ]),
    ).toBeNull();
    expect(dropped('chart', [['along', table('photo', 'picture')]])).toBeNull();
    expect(dropped('chart', [['along', { label: 'Limit', type: 'number', drawer: null, path: ['limit'] }]])).toBeNull();
    expect(dropped('chart', [['measures/4', NIGHTS]])).toBeNull();
  });

  it('each kind has a part for each of its measures, and none for what it does not take', () => {
    for (const type of CHART_TYPES) {
      const { roles, takes } = CHART_KINDS[type];
      const parts = chartParts(type).map(({ part }) => part);
      expect(parts.filter((part) => part.startsWith('measures'))).toHaveLength(roles.length);
      expect(parts.includes('along')).toBe(takes.along);
      expect(parts.includes('split')).toBe(takes.split);
      expect(parts.at(-1)).toBe('panels');
    }
  });
});

describe('fields dropped on a gauge', () => {
  it('are totalled over rows of its own, the next one is its target, then what it is held against', () => {
    const made = dropped('gauge', [
      [null, NIGHTS],
      [null, NIGHTS],
      [null, GUEST],
    ])!;
    expect(made).toMatchObject({
      rows: { entity: 'stay' },
      value: 'SUM(nights)',
      title: 'nights',
      target: 'SUM(nights)',
      compare: 'COUNTA(guest)',
    });
  });

  it('show the value of the row that it stands at, and may be held against a parameter', () => {
    const id: Placeable = { label: 'Id', type: 'number', drawer: reportWith('gauge').body[0]!, path: ['id'] };
    const limit: Placeable = { label: 'Limit', type: 'number', drawer: null, path: ['limit'] };
    const made = dropped(
      'gauge',
      [
        ['value', id],
        ['target', limit],
      ],
      { id: 'inHut' },
    )!;
    expect(made).toMatchObject({ value: 'id', target: 'limit' });
    expect(made.rows).toBeUndefined();
  });
});

describe('fields dropped on a sparkline and a map', () => {
  it('go along or are measured by their type', () => {
    const made = dropped('sparkline', [
      [null, NIGHTS],
      [null, ARRIVAL],
    ])!;
    expect(made).toMatchObject({ measure: 'SUM(nights)', along: { by: 'arrival', per: 'month' } });
  });

  it('go by their names on a map: degrees, outlines, what is measured', () => {
    const part = (name: string, type: Placeable['type']): object => {
      const made = dropped('map', [
        ['along', GUEST],
        ['shape', GUEST],
        [null, table(name, type)],
      ]);
      return made ?? {};
    };
    expect(part('nights', 'number')).toMatchObject({ measure: 'SUM(nights)', caption: 'nights' });
    const report = reportWith('map');
    const around = { model: hutModel, entities: drawerEntities(report, hutModel) };
    const settingsOf = (field: Placeable): unknown => {
      const edit = intoItem(report, 'x', null, [field], around);
      const set = edit?.do === 'all' ? edit.edits.at(-1) : edit;
      return set?.do === 'set' ? Object.keys(set.settings) : null;
    };
    expect(settingsOf(table('lon', 'number'))).toEqual(['lon', 'rows']);
    expect(settingsOf(table('latitude', 'number'))).toEqual(['lat', 'rows']);
    expect(settingsOf(table('outline', 'text'))).toEqual(['shape', 'rows']);
    expect(settingsOf(table('name', 'text'))).toEqual(['along', 'rows']);
  });
});

describe('themes', () => {
  it('give pictures of numbers their colours and type, and keep what they show', () => {
    const kinds = ['chart', 'gauge', 'sparkline', 'map'] as const;
    for (const { name } of THEMES) {
      const theme = findTheme(name)!;
      for (const kind of kinds) {
        const report = reportWith(kind);
        const after = findItem(applyEdit(report, themeEdit(report, theme)), 'x')!.item as Item;
        const [first] = theme.palette;
        expect(JSON.stringify(after)).toContain(first);
        expect(after.kind).toBe(kind);
        if ('look' in after) expect(after.look?.font).toBe(theme.styles.value.font);
      }
    }
  });
});
