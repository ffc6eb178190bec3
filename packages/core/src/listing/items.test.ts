import { describe, expect, it } from 'vitest';
import { band, definition, field } from '../layout/huts.test-support.ts';
import { ALL, ROWS, shape, told } from './listing.test-support.ts';

const PLACE = { x: 0, y: 0, width: 100, height: 30 };
const OWN = { rows: { entity: 'stay' } };

/** What an item in a report’s header gives as rows, without the name of its set. */
const rowsOf = async (item: object): Promise<string[]> => {
  const report = definition({ header: band(40, { ...PLACE, id: 'x', ...item }) });
  const { lines, result } = await told(report, ALL);
  expect(result.allProblems.filter(({ severity }) => severity === 'error')).toEqual([]);
  return lines.slice(1).map((line) => line.trim());
};
const columnsOf = async (item: object): Promise<unknown> => {
  const report = definition({ header: band(40, { ...PLACE, id: 'x', ...item }) });
  return (shape((await told(report, ALL)).sets) as unknown[][])[0]![1];
};

describe('a crosstab as rows', () => {
  const crosstab = {
    ...OWN,
    kind: 'crosstab',
    down: [{ name: 'month', by: 'arrival', per: 'month', format: 'yyyy-mm' }],
    across: [{ name: 'who', by: 'guest' }],
    cells: [{ formula: 'SUM(nights)' }],
  };

  it('has one for each of its innermost groups that has rows, and none for totals', async () => {
    const rows = ['2025-07-01 | Ana | 2', '2025-07-01 | Rui | 3', '2025-08-01 | – | 4'];
    expect(await rowsOf(crosstab)).toEqual(rows);
    expect(await rowsOf({ ...crosstab, totalDown: 'before', totalAcross: 'after' })).toEqual(rows);
    expect(await rowsOf({ ...crosstab, down: [{ ...crosstab.down[0], gaps: true }] })).toEqual(rows);
  });

  it('shows everything, also what is closed', async () => {
    const down = [{ ...crosstab.down[0], fold: { closed: true } }, crosstab.across[0]];
    expect(await rowsOf({ ...crosstab, down, across: [] })).toHaveLength(3);
  });

  it('has what its cells show: shares, ranks and values side by side', async () => {
    const cells = [
      { formula: 'SUM(nights)' },
      { formula: 'SUM(nights)', shows: 'whole-share', caption: 'Share' },
      { formula: 'SUM(nights)', shows: 'rank', caption: 'Rank' },
    ];
    const alone = { ...crosstab, across: [], cells };
    expect(await rowsOf(alone)).toEqual([
      expect.stringMatching(/^2025-07-01 \| 5 \| 0\.5{5,}\d* \| 1$/),
      expect.stringMatching(/^2025-08-01 \| 4 \| 0\.4{5,}\d* \| 2$/),
    ]);
    expect(await columnsOf(alone)).toEqual([
      'month: Arrival (date)',
      'sum_nights: SUM(nights) (number)',
      'sum_nights_2: Share (number)',
      'sum_nights_3: Rank (number)',
    ]);
  });

  it('is cut as it is shown, with what is left over as one, whose name makes its column one of texts', async () => {
    const down = [{ name: 'days', by: 'arrival', first: 1, descending: true, others: 'Before' }];
    const cut = { ...crosstab, down, across: [] };
    expect(await rowsOf(cut)).toEqual(['2025-08-01 | 4', 'Before | 5']);
    expect(await columnsOf(cut)).toEqual(['days: Arrival (text)', 'sum_nights: SUM(nights) (number)']);
    expect(await rowsOf({ ...cut, down: [{ ...down[0], others: undefined }] })).toEqual(['2025-08-01 | 4']);
  });

  it('is one row where it has no groups, and gives nothing where it has no cells', async () => {
    expect(await rowsOf({ ...crosstab, down: [], across: [] })).toEqual(['9']);
    const empty = definition({ header: band(40, { ...PLACE, id: 'x', ...crosstab, cells: [] }) });
    expect((await told(empty, ALL)).sets).toEqual([]);
  });
});

describe('pictures of numbers as rows', () => {
  const along = { name: 'who', by: 'guest', caption: 'Guest' };

  it('give the groups along, by panel and split, with a column for each measure', async () => {
    const chart = {
      ...OWN,
      kind: 'chart',
      type: 'column',
      along: { name: 'month', by: 'arrival', per: 'month' },
      split: along,
      measures: [{ formula: 'SUM(nights)', caption: 'Nights' }, { formula: "COUNT('stay')" }],
    };
    expect(await rowsOf(chart)).toEqual([
      '2025-07-01 | Ana | 2 | 1',
      '2025-07-01 | Rui | 3 | 1',
      '2025-08-01 | – | 4 | 1',
    ]);
    const { along: months, ...rest } = chart;
    const panels = { ...rest, along: { ...along, first: 1, others: 'Others' }, split: undefined, panels: months };
    expect(await rowsOf(panels)).toEqual([
      'Ana | 2025-07-01 | 2 | 1',
      'Others | 2025-07-01 | 3 | 1',
      'Others | 2025-08-01 | 4 | 1',
    ]);
  });

  it('give each value and how often it is there, where they show how values are spread', async () => {
    const box = { ...OWN, kind: 'chart', type: 'box', along, measures: [{ formula: 'nights', caption: 'Nights' }] };
    expect(await rowsOf(box)).toEqual(['Ana | 2 | 1', 'Rui | 3 | 1', '– | 4 | 1']);
    expect(await columnsOf(box)).toEqual(['who: Guest (text)', 'nights: Nights (number)', 'rows: rows (number)']);
  });

  it('give a gauge’s value and what it is compared with', async () => {
    const gauge = { ...OWN, kind: 'gauge', type: 'figure', value: 'SUM(nights)', target: '10', compare: 'MAX(nights)' };
    expect(await rowsOf({ ...gauge, compareCaption: 'longest' })).toEqual(['9 | 10 | 4']);
    expect(await columnsOf({ ...gauge, compareCaption: 'longest' })).toEqual([
      'value: value (number)',
      'target: target (number)',
      'compare: longest (number)',
    ]);
  });

  it('give nothing of a sparkline, of what is not whole, and of what is not shown', async () => {
    const spark = { ...OWN, kind: 'sparkline', type: 'line', along, measure: 'SUM(nights)' };
    expect((await told(definition({ header: band(40, { ...PLACE, id: 'x', ...spark }) }), ALL)).sets).toEqual([]);
    const chart = { ...OWN, kind: 'chart', type: 'column', along, measures: [{ formula: 'SUM(nigths)' }] };
    expect((await told(definition({ header: band(40, { ...PLACE, id: 'x', ...chart }) }), ALL)).sets).toEqual([]);
    const hidden = { ...chart, measures: [{ formula: 'SUM(nights)' }], showIf: '1 = 2' };
    const { lines, sets } = await told(definition({ header: band(40, { ...PLACE, id: 'x', ...hidden }) }), ALL);
    expect([lines, sets.length]).toEqual([[], 1]);
  });

  it('stand beside a drawer in its header and footer, and not where it has no rows', async () => {
    const chart = { ...PLACE, id: 'c', kind: 'chart', type: 'column', along, measures: [{ formula: 'SUM(nights)' }] };
    const drawer = {
      id: 'stays',
      name: 'stay',
      rows: { entity: 'stay' },
      header: band(40, { ...chart, title: 'Before' }),
      detail: band(5, field('nights', 'nights')),
      footer: band(40, { ...chart, id: 'd', title: 'After' }),
    };
    const report = definition({ body: [drawer] });
    const { lines } = await told(report, ALL);
    expect(lines.filter((line) => !line.startsWith(' '))).toEqual(['before', 'stay', 'after']);
    expect((await told(report, { stay: [] })).lines).toEqual(['stay']);
    expect(shape((await told(report, ROWS)).sets)).toHaveLength(3);
  });
});
