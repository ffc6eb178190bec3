import { expect, it } from 'vitest';
import { pageSchema, type Report } from '../definition/schema.ts';
import { hutModel, lay } from '../layout/huts.test-support.ts';
import { overlapsOn } from './checks.ts';
import { columnSets, evenColumns, fitColumns, reorderColumn } from './columns.ts';
import { applyEdit } from './edit.ts';
import { type GuidedChoices, guidedReport, usualSort } from './guided.ts';
import { findTheme } from './themes.ts';

const entity = hutModel.entities.find((e) => e.name === 'stay')!;
const field = (name: string) => ({ path: [name], field: entity.fields.find((f) => f.name === name)! });
const stays = Array.from({ length: 90 }, (_, i) => ({
  id: i + 1,
  hut_id: 1,
  guest: `Guest ${i + 1}`,
  arrival: `2025-0${1 + (i % 3)}-10`,
  nights: (i % 5) + 1,
}));

/** Stays grouped by the month of their arrival. */
const guided = (totals: GuidedChoices['totals'], more: Partial<GuidedChoices> = {}) =>
  guidedReport(
    {
      title: 'Stays by month',
      source: { model: hutModel.name },
      entity: 'stay',
      fields: ['guest', 'arrival', 'nights'].map(field),
      groups: [{ path: ['arrival'], label: 'Arrival', per: 'month' }],
      totals,
      layout: 'columns',
      page: pageSchema.parse({}),
      theme: findTheme('Pine')!,
      language: 'en',
      timeZone: 'UTC',
      words: { page: 'Page', of: 'of', total: 'Total' },
      ...more,
    },
    entity,
  );

it('gives groups with their totals, and captions on every page', async () => {
  const report = guided({ nights: 'SUM' });
  const { pages } = await lay(report, { stay: stays });
  expect(pages.length).toBeGreaterThan(1);
  const all = pages.map((page) => page.marks.map((m) => (m.kind === 'text' ? m.text : '')).join(' '));
  expect(all.every((page) => page.includes('Guest') && page.includes('Nights'))).toBe(true);
  expect(all[0]).toContain('January 2025');
  const text = all.join('\n');
  const months = [0, 1, 2].map((m) => stays.filter((_, i) => i % 3 === m).reduce((sum, s) => sum + s.nights, 0));
  for (const month of months) expect(text).toContain(String(month));
  expect(text).toContain(String(months.reduce((a, b) => a + b)));
});

it('puts the words beside totals where they do not lie over one another', async () => {
  const wanted: GuidedChoices['totals'][] = [
    { nights: 'SUM' },
    { guest: 'COUNTA', nights: 'SUM' },
    { guest: 'COUNTA' },
  ];
  for (const totals of wanted) {
    const { pages } = await lay(guided(totals), { stay: stays });
    expect(overlapsOn(pages)).toEqual([]);
  }
});

it('sorts by what people expect, unless it is told otherwise', () => {
  const { source, fields } = { source: { model: 'huts' }, fields: ['nights', 'guest', 'arrival'].map(field) };
  expect(usualSort({ source, fields })).toEqual(['arrival']);
  expect(usualSort({ source, fields: fields.slice(0, 2) })).toEqual(['guest']);
  expect(usualSort({ source, fields: fields.slice(0, 1) })).toEqual(['nights']);
  expect(usualSort({ source: { queries: [] }, fields })).toBeNull();
  expect(guided({}).body[0]?.sort).toEqual([{ by: 'arrival' }]);
  expect(guided({}, { sort: { path: ['nights'], descending: true } }).body[0]?.sort).toEqual([
    { by: 'nights', descending: true },
  ]);
  expect(guided({}, { sort: null }).body[0]?.sort).toBeUndefined();
});

it('keeps a gutter where numbers end at what begins beside them, also when columns are evened out and fitted', () => {
  const gutters = (report: Report): number[] => {
    const { columns } = columnSets(report).get('columns')!;
    return columns.slice(1).map((c, i) => Number((c.x - columns[i]!.x - columns[i]!.width).toFixed(1)));
  };
  const report = guided({}, { fields: ['nights', 'guest', 'arrival', 'id'].map(field), groups: [] });
  expect(gutters(report)).toEqual([5, 2, 2]);
  const set = columnSets(report).get('columns')!;
  expect(gutters(applyEdit(report, evenColumns(set)))).toEqual([5, 2, 2]);
  expect(gutters(applyEdit(report, reorderColumn(set, 'c4', 0)))).toEqual([5, 5, 2]);
  // On narrow paper gaps leave their columns most of the room, and nothing stands past the margin.
  const narrow = applyEdit(report, fitColumns(set, 40));
  const last = columnSets(narrow).get('columns')!.columns.at(-1)!;
  expect(last.x + last.width).toBeLessThanOrEqual(40.1);
});

it('makes a crosstab: groups and texts down, a date across, numbers in the cells', async () => {
  const report = guided({ nights: 'AVERAGE' }, { layout: 'crosstab', groups: [] });
  const [item] = report.body[0]!.header!.items;
  expect(item).toMatchObject({
    kind: 'crosstab',
    down: [{ by: 'guest' }],
    across: [{ by: 'arrival', per: 'month' }],
    cells: [{ formula: 'AVERAGE(nights)' }],
  });
  const { text, result } = await lay(report, { stay: stays });
  expect(result.problems).toEqual([]);
  expect(text.flat()).toContain('Total');
  const yearly = guided(
    {},
    { layout: 'crosstab', groups: [{ path: ['arrival'], label: 'Arrival', per: 'year' }], fields: [] },
  );
  expect(yearly.body[0]!.header!.items[0]).toMatchObject({
    down: [{ by: 'arrival', per: 'year', format: 'yyyy' }],
    cells: [{ formula: 'COUNT(stay)' }],
  });
});

it('makes a chart over the groups, above the rows', async () => {
  const report = guided({ nights: 'SUM' }, { chart: true });
  const item = report.header!.items.at(-1)!;
  expect(item).toMatchObject({
    kind: 'chart',
    along: { by: 'arrival', per: 'month' },
    measures: [{ formula: 'SUM(nights)' }],
    palette: expect.any(Array),
  });
  const { pages, result } = await lay(report, { stay: stays });
  expect(result.problems).toEqual([]);
  const figure = pages[0]!.marks.find((mark) => mark.kind === 'figure');
  const months = [0, 1, 2].map((m) => stays.filter((_, i) => i % 3 === m).reduce((sum, s) => sum + s.nights, 0));
  expect(figure && 'table' in figure && figure.table.slice(1).map(([, value]) => value)).toEqual(months.map(String));
  // Without groups the texts are its places, the first ones by their total.
  const plain = guided({}, { chart: true, groups: [], fields: ['guest', 'nights'].map(field) });
  expect(plain.header!.items.at(-1)).toMatchObject({
    along: { by: 'guest', first: 20, order: 'SUM(nights)', descending: true },
  });
  expect(guided({}, { layout: 'crosstab', chart: true }).header!.items.at(-1)!.kind).toBe('chart');
});
