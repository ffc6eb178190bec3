import { describe, expect, it } from 'vitest';
import { planReport } from '../data/plan.ts';
import type { Report, RowGroup } from '../definition/schema.ts';
import { findDrawer, findItem } from '../definition/walk.ts';
import { band, definition, hutModel } from '../layout/huts.test-support.ts';
import type { Model } from '../model/model.ts';
import { drawerEntities } from './drawers.ts';
import { applyEdit } from './edit.ts';
import { filterByPress, isPressFilterOn, type PressedItem, type PressFilter, pressFilters } from './pressing.ts';

/** Relations the other way as well: a stay leads to its hut, a charge to its stay. */
const TO_ONE: Readonly<Record<string, { name: string; to: string; here: string }>> = {
  stay: { name: 'hut', to: 'hut', here: 'hut_id' },
  charge: { name: 'stay', to: 'stay', here: 'stay_id' },
};
const model: Model = {
  ...hutModel,
  entities: hutModel.entities.map((entity) => {
    const one = TO_ONE[entity.name];
    if (!one) return entity;
    const { name, to, here } = one;
    return {
      ...entity,
      relations: [...entity.relations, { name, label: name, to, kind: 'one' as const, on: [{ here, there: 'id' }] }],
    };
  }),
};

const reportWith = (chart: object, more: object = {}): Report =>
  definition({
    header: band(45, {
      kind: 'chart',
      id: 'c',
      x: 0,
      y: 0,
      width: 80,
      height: 40,
      type: 'column',
      measures: [{ formula: 'COUNT(id)' }],
      ...chart,
    }),
    body: [
      {
        id: 'huts',
        name: 'hut',
        rows: { entity: 'hut' },
        detail: band(5),
        drawers: [{ id: 'stays', name: 'stay', rows: { relation: 'stays' } }],
      },
      { id: 'tasks', name: 'task', rows: { entity: 'task' } },
    ],
    ...more,
  });

const offered = (report: Report): PressFilter[] =>
  pressFilters(report, 'c', { model, entities: drawerEntities(report, model) });
const chartOf = (report: Report): PressedItem => findItem(report, 'c')!.item as PressedItem;
const words = (filters: readonly PressFilter[]): string[] =>
  filters.map(({ drawer, group, formula }) => `${drawer.id} by ${group.name}: ${formula}`);
const filterOf = (report: Report, drawer: string): string | undefined => findDrawer(report, drawer)!.drawer.filter;

describe('a press that filters rows', () => {
  it('is offered for rows that have the value, by the shortest way to it', () => {
    const ofCharges = { rows: { entity: 'charge' }, along: { name: 'hut', by: 'stay.hut.name' } };
    expect(words(offered(reportWith(ofCharges)))).toEqual(['huts by hut: name', 'stays by hut: hut.name']);
    const split = { name: 'guest', by: 'stay.guest' };
    expect(words(offered(reportWith({ ...ofCharges, split })))).toContain('stays by guest: guest');
    // What a hut has many of says nothing of the hut.
    expect(words(offered(reportWith({ rows: { entity: 'stay' }, along: split })))).toEqual([]);
    expect(words(offered(reportWith({ rows: { entity: 'stay' }, along: { name: 'g', by: 'guest' } })))).toEqual([
      'stays by g: guest',
    ]);
  });

  it('is offered for a chart over the rows of its place, which are named by their drawer', () => {
    const report = reportWith({ along: { name: 'hut', by: 'hut.name' }, measures: [{ formula: 'COUNT(hut.id)' }] });
    expect(words(offered(report))).toEqual(['huts by hut: name', 'stays by hut: hut.name']);
  });

  it('is not offered where a value cannot be asked for', () => {
    const rows = { entity: 'stay' };
    for (const by of ['nights + 1', 'nights +', 'nowhere', 'hut.nowhere', 'photo', '"x"'])
      expect(offered(reportWith({ rows, along: { name: 'x', by } })), by).toEqual([]);
    expect(offered(reportWith({ rows, along: { name: 'x', by: 'arrival', per: 'hour' } }))).toEqual([]);
    expect(offered(reportWith({ rows: { entity: 'nothing' }, along: { name: 'x', by: 'id' } }))).toEqual([]);
    expect(pressFilters(reportWith({}), 'gone', { model, entities: new Map() })).toEqual([]);
  });

  it('makes a parameter that can be chosen by hand as well, and keeps the filter that was there', () => {
    let report = reportWith(
      { rows: { entity: 'stay' }, along: { name: 'hut', by: 'hut.name', caption: 'The hut' } },
      { parameters: [{ name: 'hut2', label: 'Taken', type: 'text' }] },
    );
    report = applyEdit(report, { do: 'drawer', drawer: 'huts', settings: { filter: '=id > 1' } });
    const [huts, stays] = offered(report);
    report = applyEdit(report, filterByPress(report, chartOf(report), huts!));
    expect(report.parameters.at(-1)).toEqual({
      name: 'hut3',
      label: 'The hut',
      type: 'choice',
      choicesFrom: { rows: 'hut', value: 'name' },
    });
    expect(filterOf(report, 'huts')).toBe('AND(id > 1; WITHIN(name; parameters.hut3))');
    expect(chartOf(report).onPress).toEqual({ set: { hut3: 'hut' } });
    expect(isPressFilterOn(report, chartOf(report), offered(report)[0]!)).toBe(true);
    expect(isPressFilterOn(report, chartOf(report), offered(report)[1]!)).toBe(false);
    // A second drawer goes by the same parameter; a second time nothing changes.
    report = applyEdit(report, filterByPress(report, chartOf(report), stays!));
    expect(report.parameters).toHaveLength(2);
    expect(filterOf(report, 'stays')).toBe('WITHIN(hut.name; parameters.hut3)');
    expect(applyEdit(report, filterByPress(report, chartOf(report), offered(report)[1]!))).toBe(report);
  });

  it('asks for rows of the same period, range or letter', () => {
    const groups: RowGroup[] = [
      { name: 'x', by: 'arrival', per: 'month' },
      { name: 'x', by: 'arrival' },
      { name: 'x', by: 'nights', per: 'range', width: 5 },
      { name: 'x', by: 'nights' },
      { name: 'x', by: 'guest', per: 'letter' },
    ];
    const made = groups.map((along) => {
      const before = reportWith({ rows: { entity: 'stay' }, along });
      const report = applyEdit(before, filterByPress(before, chartOf(before), offered(before)[0]!));
      expect(planReport(report, { models: [model], report: () => null }).problems).toEqual([]);
      return `${report.parameters[0]!.type}: ${filterOf(report, 'stays')}`;
    });
    expect(made).toEqual([
      'date: WITHIN(PERIOD(arrival; "month"); parameters.x)',
      'date: WITHIN(arrival; parameters.x)',
      'number: WITHIN(RANGESTART(nights; 5); parameters.x)',
      'choice: WITHIN(nights; parameters.x)',
      'text: WITHIN(INITIAL(guest); parameters.x)',
    ]);
  });
});
