import { describe, expect, it } from 'vitest';
import { hasSwitches } from '../../data/plan.ts';
import { applyEdit } from '../../edit/edit.ts';
import { mendFor } from '../../edit/mends.ts';
import { band, definition, lay, plan } from '../../layout/huts.test-support.ts';
import type { FigureMark, FoldMark, Mark, Page } from '../../page/page.ts';
import { AS_STARTED, type FoldState, turnFold } from '../../shape/folds.ts';
import { spreadFormula } from './plan.ts';

const STAYS = [
  { id: 1, guest: 'Rosa', arrival: '2025-01-10', nights: 2 },
  { id: 2, guest: 'Rosa', arrival: '2025-04-02', nights: 5 },
  { id: 3, guest: 'Bento', arrival: '2025-01-20', nights: 1 },
  { id: 4, guest: 'Bento', arrival: '2025-01-28', nights: 4 },
  { id: 5, guest: null, arrival: '2025-04-12', nights: 8 },
  { id: 6, guest: 'Zita', arrival: '2025-04-30', nights: -3 },
];

const chart = (more: Record<string, unknown>) => ({
  kind: 'chart',
  id: 'x',
  x: 0,
  y: 0,
  width: 170,
  height: 70,
  rows: { entity: 'stay' },
  measures: [{ formula: 'SUM(nights)', caption: 'Nights', format: '0' }],
  ...more,
});
const GUEST = { name: 'who', by: 'guest', caption: 'Guest' };
const MONTH = { name: 'month', by: 'arrival', per: 'month', format: 'mmm' };

const report = (item: object, more: Record<string, unknown> = {}) =>
  definition({ header: band(72, item), body: [], ...more });
const figureOf = (pages: readonly Page[]): FigureMark =>
  pages.flatMap(({ marks }) => marks).find((mark): mark is FigureMark => mark.kind === 'figure')!;
const tipsOf = (pages: readonly Page[]): string[] =>
  pages.flatMap(({ marks }) => marks.flatMap((mark) => ('tip' in mark && mark.tip ? [mark.tip] : [])));

const laid = async (item: object, more: Record<string, unknown> = {}, stay: object[] = STAYS) => {
  const { pages, result } = await lay(report(item, more), { stay } as never);
  const { problems } = result;
  return {
    pages,
    problems: problems.map(({ code }) => code),
    tips: tipsOf(pages),
    text: pages.flatMap(({ marks }) => marks),
  };
};

/** The numbers of a chart, as they are read aloud. */
const tableOf = async (item: object, more: Record<string, unknown> = {}, stay?: object[]) =>
  figureOf((await laid(item, more, stay)).pages).table;

describe('a chart', () => {
  it('has a place for each value along it, and says its numbers to who does not see it', async () => {
    const { pages, problems } = await laid(chart({ along: GUEST }));
    expect(problems).toEqual([]);
    const figure = figureOf(pages);
    expect(figure.alternative).toBe('Column chart of Nights: 4 values along its axis; from -3 to 8.');
    expect(figure.table).toEqual([
      ['', 'Nights'],
      ['Bento', '5'],
      ['Rosa', '7'],
      ['Zita', '-3'],
      ['(blank)', '8'],
    ]);
  });

  it('splits, sorts by a total, and puts the rest together exactly', async () => {
    const first = { ...GUEST, order: 'SUM(nights)', descending: true, first: 2, others: 'Others' };
    expect(await tableOf(chart({ along: first, split: MONTH }))).toEqual([
      ['', 'Jan', 'Feb', 'Mar', 'Apr'],
      ['(blank)', '', '', '', '8'],
      ['Rosa', '2', '', '', '5'],
      ['Others', '5', '', '', '-3'],
    ]);
    const split = { ...GUEST, order: 'SUM(nights)', descending: true, first: 1, others: 'Others' };
    expect(await tableOf(chart({ along: { ...MONTH, gaps: false }, split }))).toEqual([
      ['', '(blank)', 'Others'],
      ['Jan', '', '7'],
      ['Apr', '8', '2'],
    ]);
    // A median of what was put together is not that of its parts.
    const median = chart({ along: { ...first, first: 1 }, measures: [{ formula: 'MEDIAN(nights)', format: '0.0' }] });
    expect((await tableOf(median))[2]).toEqual(['Others', '2.0']);
  });

  it('leaves gaps in time, and fills them with nothing where it is told to', async () => {
    expect((await tableOf(chart({ along: MONTH }))).map(([label]) => label)).toEqual(['', 'Jan', 'Feb', 'Mar', 'Apr']);
    const without = chart({ along: { ...MONTH, gaps: false } });
    expect((await tableOf(without)).map(([label]) => label)).toEqual(['', 'Jan', 'Apr']);
    const { text } = await laid(chart({ type: 'line', along: MONTH }));
    // Two points alone, each a dot: nothing is known of what lies between.
    const dots = text.filter((mark: Mark) => mark.kind === 'path' && mark.fill !== undefined && mark.tip !== undefined);
    expect(dots).toHaveLength(2);
  });

  it('has small charts over one scale, with the same series in each', async () => {
    const table = await tableOf(chart({ along: { ...MONTH, gaps: false }, panels: GUEST }));
    expect(table.slice(1)).toEqual([
      ['Bento, Jan', '5'],
      ['Bento, Apr', ''],
      ['Rosa, Jan', '2'],
      ['Rosa, Apr', '5'],
      ['Zita, Jan', ''],
      ['Zita, Apr', '-3'],
      ['(blank), Jan', ''],
      ['(blank), Apr', '8'],
    ]);
    const split = await tableOf(
      chart({
        along: { ...MONTH, gaps: false },
        panels: { ...GUEST, first: 2 },
        split: { name: 'long', by: 'nights > 4' },
      }),
    );
    expect(split[0]).toEqual(['', 'FALSE', 'TRUE']);
    expect(split[4]).toEqual(['Rosa, Apr', '', '5']);
  });

  it('draws lines and zones at formulas over its rows, and colours by conditions', async () => {
    const more = {
      lines: [{ at: 'AVERAGE(nights)', caption: 'average' }],
      zones: [{ from: 'limit', caption: 'too much', color: '#b3402e' }],
      measures: [
        { formula: 'SUM(nights)', format: '0', highlights: [{ when: 'SUM(nights) > limit', color: '#123456' }] },
      ],
    };
    const parameters = [{ name: 'limit', label: 'Limit', type: 'number', default: 6 }];
    const { tips, problems, text } = await laid(chart({ along: GUEST, ...more }), { parameters });
    expect(problems).toEqual([]);
    expect(tips).toEqual(expect.arrayContaining(['average', 'too much']));
    const bars = text.filter((mark) => mark.kind === 'rectangle' && mark.fill === '#123456');
    expect(bars.map((mark) => ('tip' in mark ? mark.tip : ''))).toEqual(['Rosa: 7', '(blank): 8']);
  });

  it('shows how values are spread, whatever total was there before', async () => {
    expect(spreadFormula('SUM(nights)')).toBe('nights');
    expect(spreadFormula('AVERAGE( nights * 2 )')).toBe('nights * 2');
    expect(spreadFormula('nights')).toBe('nights');
    const box = await laid(chart({ type: 'box', measures: [{ formula: 'SUM(nights)', format: '0.00' }] }));
    expect(box.problems).toEqual([]);
    // -3, 1, 2, 4, 5, 8
    expect(box.tips).toContain('-3.00 · 1.25 · 3.00 · 4.75 · 8.00 (6)');
    const histogram = await laid(chart({ type: 'histogram', bins: 3 }));
    expect(histogram.tips).toEqual(['-5 – 0: 1', '0 – 5: 3', '5 – 10: 2']);
  });

  it('stands in the band of each row, over the rows inside it', async () => {
    const item = chart({
      along: { name: 'guest', by: 'stay.guest' },
      measures: [{ formula: 'SUM(stay.nights)', format: '0' }],
    });
    const { rows: _, ...here } = item;
    const nested = definition({
      body: [
        {
          id: 'huts',
          name: 'hut',
          rows: { entity: 'hut' },
          detail: band(72, here),
          drawers: [{ id: 'stays', name: 'stay', rows: { relation: 'stays' } }],
        },
      ],
    });
    const huts = [
      { id: 1, name: 'A' },
      { id: 2, name: 'B' },
    ];
    const { pages, result } = await lay(nested, {
      hut: huts,
      stay: [
        { in: 1, id: 1, hut_id: 1, guest: 'Rosa', nights: 2 },
        { in: 1, id: 2, hut_id: 1, guest: 'Rosa', nights: 3 },
        { in: 2, id: 3, hut_id: 2, guest: 'Bento', nights: 7 },
      ],
    } as never);
    expect(result.problems).toEqual([]);
    const tables = pages.flatMap(({ marks }) => marks.flatMap((mark) => (mark.kind === 'figure' ? [mark.table] : [])));
    expect(tables.map((table) => table.slice(1))).toEqual([[['Rosa', '5']], [['Bento', '7']]]);
  });

  it('leads from its parts to another report, or sets parameters, with the values of what is pressed', async () => {
    const to = async (onPress: object): Promise<unknown[]> => {
      const { text } = await laid(chart({ along: GUEST, onPress }));
      return text.flatMap((mark) => ('to' in mark && mark.to ? [mark.to] : []));
    };
    expect((await to({ report: 'stays', parameters: { guest: 'who', least: 'SUM(nights)' } }))[0]).toEqual({
      report: 'stays',
      parameters: { guest: 'Bento', least: 5 },
    });
    expect(await to({ set: { guest: 'who' } })).toEqual([
      { set: { guest: 'Bento' } },
      { set: { guest: 'Rosa' } },
      { set: { guest: 'Zita' } },
      { set: { guest: null } },
    ]);
  });

  it('says what is missing or wrong, at the item, and the rest of the report comes out', async () => {
    const codes = async (more: Record<string, unknown>, stay?: object[]) =>
      (await laid(chart(more), {}, stay)).problems;
    expect(plan(report(chart({ measures: [] }))).problems.map(({ code }) => code)).toEqual(['chart-without-measures']);
    expect(plan(report(chart({ measures: [{ formula: 'MAX(guest)' }] }))).problems.map(({ code }) => code)).toEqual([
      'wrong-type',
    ]);
    expect(plan(report(chart({ along: GUEST, split: GUEST }))).problems.map(({ code }) => code)).toEqual([
      'group-twice',
    ]);
    expect(await codes({ along: GUEST, scale: { log: true } })).toEqual(['log-not-positive']);
    expect(await codes({ along: GUEST, type: 'pie' })).toEqual(['slices-not-positive']);
    const overlapping = [
      { from: '0', to: '5', color: '#111111' },
      { from: '4', color: '#222222' },
    ];
    expect(await codes({ along: GUEST, zones: overlapping })).toEqual(['zones-overlap']);
    const many = Array.from({ length: 6_000 }, (_, i) => ({
      id: i,
      guest: `Guest ${i}`,
      arrival: '2025-01-01',
      nights: 1,
    }));
    expect(await codes({ along: GUEST }, many.slice(0, 300))).toEqual(['too-many-places']);
    const { problems, text } = await laid(chart({ along: GUEST }), {}, many);
    expect(problems).toEqual(['too-many-places']);
    expect(text.some((mark) => mark.kind === 'text' && mark.text.includes('6000'))).toBe(true);
    expect(await codes({ split: GUEST }, many.slice(0, 150))).toEqual(['too-many-series']);
    expect(await codes({ panels: GUEST }, many.slice(0, 150))).toEqual(['too-many-panels']);
  });

  it('offers a mend where one is sure', async () => {
    const mended = async (more: Record<string, unknown>, stay?: object[]) => {
      const before = report(chart(more));
      const { result } = await lay(before, { stay: stay ?? STAYS } as never);
      const [found] = [...plan(before).problems, ...result.problems];
      const mend = mendFor(before, found!, { models: [], report: () => null });
      if (!mend) return null;
      const after = applyEdit(before, mend.edit);
      const again = await lay(after, { stay: stay ?? STAYS } as never);
      return [mend.words, [...plan(after).problems, ...again.result.problems].map(({ code }) => code)];
    };
    const many = Array.from({ length: 400 }, (_, i) => ({
      id: i,
      guest: `Guest ${i}`,
      arrival: '2025-01-01',
      nights: 1,
    }));
    expect(await mended({ along: GUEST }, many)).toEqual(['keepFirst', []]);
    expect(await mended({ split: GUEST }, many)).toEqual(['keepFirst', []]);
    expect(await mended({ panels: GUEST }, many)).toEqual(['keepFirst', []]);
    expect(await mended({ along: GUEST, scale: { log: true } })).toEqual(['linearScale', []]);
    expect(await mended({ along: GUEST, type: 'pie' })).toEqual(['asColumns', []]);
    expect(await mended({ along: GUEST, measures: [{ formula: 'MAX(guest)' }] })).toEqual(['count', []]);
  });

  it('says so when there are no rows', async () => {
    const { text } = await laid(chart({ along: GUEST, empty: 'Nobody came.' }), {}, []);
    expect(text.some((mark) => mark.kind === 'text' && mark.text === 'Nobody came.')).toBe(true);
  });

  it('leaves out the series that its reader switched off, and stacks the others without it', async () => {
    const item = chart({ along: { ...MONTH, gaps: false }, split: { ...GUEST, first: 2 }, stack: 'stacked' });
    const stay = STAYS.filter(({ guest }) => guest !== null && guest !== 'Zita');
    const runWith = async (folds: FoldState) => {
      const { pages, result } = await lay(report(item), { stay } as never, {}, { folds });
      expect(result.problems).toEqual([]);
      const marks = pages.flatMap((page) => page.marks);
      return { switches: marks.filter((mark): mark is FoldMark => mark.kind === 'fold'), tips: tipsOf(pages) };
    };
    const first = await runWith(AS_STARTED);
    expect(first.switches.map(({ label, isClosed }) => [label, isClosed])).toEqual([
      ['Bento', false],
      ['Rosa', false],
    ]);
    expect(first.tips).toEqual(['Jan, Bento: 5', 'Jan, Rosa: 2', 'Apr, Rosa: 5']);
    const [bento] = first.switches;
    const off = turnFold(AS_STARTED, bento!.key);
    const second = await runWith(off);
    expect(second.switches.map(({ label, isClosed }) => [label, isClosed])).toEqual([
      ['Bento', true],
      ['Rosa', false],
    ]);
    expect(second.tips).toEqual(['Jan, Rosa: 2', 'Apr, Rosa: 5']);
    // Everything opened or closed leaves what is switched off as it is.
    expect((await runWith({ base: 'closed', turned: off.turned })).tips).toEqual(second.tips);
    expect((await runWith({ base: 'closed', turned: [] })).tips).toEqual(first.tips);
    const pie = chart({ type: 'pie', along: GUEST });
    expect(hasSwitches(plan(report(pie)))).toBe(true);
    expect(hasSwitches(plan(report(chart({ along: GUEST }))))).toBe(false);
    expect(hasSwitches(plan(report({ ...pie, legend: 'none' })))).toBe(false);
  });
});
