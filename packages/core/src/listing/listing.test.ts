import { describe, expect, it } from 'vitest';
import { band, definition, field, nest, plan } from '../layout/huts.test-support.ts';
import { listReport } from '../run/list-report.ts';
import { ALL, ROWS, shape, told } from './listing.test-support.ts';

const text = (id: string, content: unknown[], more: object = {}) => ({
  kind: 'text',
  id,
  content,
  x: 0,
  y: 0,
  width: 60,
  height: 5,
  ...more,
});

const STAYS = {
  id: 'stays',
  name: 'stay',
  rows: { relation: 'stays' },
  detail: band(5, field('guest', 'guest'), field('nights', 'nights', { x: 70 })),
};
const HUTS = {
  id: 'huts',
  name: 'hut',
  rows: { entity: 'hut' },
  detail: band(5, field('name', 'name'), field('sum', 'SUM(stay.nights)', { x: 70 })),
  drawers: [STAYS],
};
describe('the rows that a report shows', () => {
  it('are those of its drawers, with what is inside each row after it', async () => {
    const { lines, sets, result } = await told(definition({ body: [HUTS] }), ROWS);
    expect(shape(sets)).toEqual([
      [
        'hut',
        ['name: Name (text)', 'sum_stay_nights: SUM(stay.nights) (number)'],
        [['stay', ['guest: Guest (text)', 'nights: Nights (number)']]],
      ],
    ]);
    expect(lines).toEqual([
      'hut',
      '  Brecha | 5',
      '    stay',
      '      Ana | 2',
      '      Rui | 3',
      '  Lagoa | 4',
      '    stay',
      '      – | 4',
    ]);
    expect(result).toMatchObject({ rows: 5, complete: true, allProblems: [] });
  });

  it('have the captions of their columns, the words before a formula, and each formula once', () => {
    const caption = text('c', ['Who came'], { column: { set: 's', name: 'who' } });
    const detail = band(
      5,
      field('guest', 'guest', { column: { set: 's', name: 'who' } }),
      field('again', 'guest', { x: 20 }),
      text('says', ['Nights in all: ', { formula: 'nights * 2' }, { formula: 'IF(nights = 1; " night"; " nights")' }], {
        x: 70,
      }),
      field('page', 'page.number', { x: 90 }),
    );
    const report = definition({
      body: [{ id: 'a', name: 'myStay', rows: { entity: 'stay' }, header: band(5, caption), detail }],
    });
    expect(shape(listReport(plan(report)).sets)).toEqual([
      ['myStay', ['who: Who came (text)', 'nights: Nights (number)']],
    ]);
  });

  it('have what their groups show of them in front, but for totals, and nothing of what is hidden', async () => {
    const report = definition({
      body: [
        {
          ...STAYS,
          rows: { entity: 'stay' },
          groups: [
            {
              name: 'month',
              by: 'arrival',
              per: 'month',
              header: band(5, field('m', 'month'), field('s', 'SUM(nights)', { x: 60 })),
            },
          ],
          detail: band(
            5,
            field('guest', 'guest', { showIf: 'nights > 2' }),
            field('nights', 'nights', { x: 70, highlights: [{ when: 'nights = 4', hide: true }] }),
          ),
        },
      ],
    });
    const { lines } = await told(report, ALL);
    expect(lines).toEqual(['stay', '  2025-07-01 | – | 2', '  2025-07-01 | Rui | 3', '  2025-08-01 | – | –']);
  });

  it('leave out rows whose band is hidden, and what such a band says of a row with others inside it', async () => {
    const hidden = { highlights: [{ when: 'nights = 3', hide: true }] };
    const flat = definition({
      body: [{ ...STAYS, rows: { entity: 'stay' }, detail: { ...STAYS.detail, ...hidden } }],
    });
    expect((await told(flat, ALL)).lines).toEqual(['stay', '  Ana | 2', '  – | 4']);
    const shown = definition({ body: [{ ...HUTS, detail: { ...HUTS.detail, showIf: 'name = "Lagoa"' } }] });
    expect((await told(shown, ROWS)).lines).toEqual([
      'hut',
      '  – | –',
      '    stay',
      '      Ana | 2',
      '      Rui | 3',
      '  Lagoa | 4',
      '    stay',
      '      – | 4',
    ]);
  });

  it('are the first ones where only those are shown, and all of what is closed', async () => {
    const first = definition({ body: [{ ...STAYS, rows: { entity: 'stay' }, first: 2, others: band(5) }] });
    expect((await told(first, ALL)).lines).toEqual(['stay', '  Ana | 2', '  Rui | 3']);
    const closed = definition({
      body: [
        {
          ...STAYS,
          rows: { entity: 'stay' },
          groups: [{ name: 'g', by: 'guest', header: band(5, field('g', 'g')), fold: { closed: true } }],
        },
      ],
    });
    expect((await told(closed, ALL)).lines).toHaveLength(4);
  });

  it('hold those of nested reports inside their rows', async () => {
    const inner = definition({
      name: 'Inner',
      parameters: [{ name: 'least', label: 'Least', type: 'number', default: 0 }],
      body: [{ ...STAYS, rows: { entity: 'stay' }, filter: 'nights >= least' }],
    });
    const outer = definition({
      body: [
        {
          ...HUTS,
          drawers: [],
          detail: band(
            15,
            field('name', 'name'),
            nest('inner', { y: 6, rows: { relation: 'stays' }, links: { least: '3' } }),
          ),
        },
      ],
    });
    const { lines } = await told(outer, ROWS, { inner });
    expect(lines).toEqual(['hut', '  Brecha', '    stay', '      Rui | 3', '  Lagoa', '    stay', '      – | 4']);
  });

  it('hold the groups that crosstabs and charts show where they stand: beside drawers, or inside a row', async () => {
    const place = { x: 0, y: 6, width: 100, height: 30 };
    const crosstab = {
      ...place,
      kind: 'crosstab',
      id: 'byMonth',
      down: [{ name: 'month', by: 'arrival', per: 'month', caption: 'Month' }],
      across: [{ name: 'day', by: 'arrival' }],
      cells: [{ formula: 'SUM(nights)', caption: 'Nights' }],
    };
    const chart = {
      ...place,
      kind: 'chart',
      id: 'c',
      type: 'column',
      title: 'Nights by guest',
      along: { name: 'who', by: 'guest', first: 1, others: 'Others' },
      measures: [{ formula: 'SUM(nights)' }],
    };
    const gauge = { ...place, kind: 'gauge', id: 'g', type: 'bar', value: 'nights * 2' };
    const stays = { ...STAYS, detail: band(40, field('guest', 'guest'), gauge) };
    const inner = definition({
      body: [{ ...HUTS, detail: band(40, field('name', 'name'), crosstab), drawers: [stays] }],
    });
    const beside = definition({
      header: band(40, chart),
      body: [{ ...stays, rows: { entity: 'stay' }, footer: band(40, { ...crosstab, showIf: 'COUNT(stay) > 5' }) }],
      footer: band(40, { ...chart, id: 'd', title: 'Again' }),
    });
    const listed = await told(inner, ROWS);
    expect(shape(listed.sets)).toEqual([
      [
        'hut',
        ['name: Name (text)'],
        [
          ['byMonth', ['month: Month (date)', 'day: Arrival (date)', 'sum_nights: Nights (number)']],
          ['stay', ['guest: Guest (text)', 'nights: Nights (number)']],
        ],
      ],
    ]);
    expect(listed.lines).toEqual([
      'hut',
      '  Brecha',
      '    byMonth',
      '      2025-07-01 | 2025-07-01 | 2',
      '      2025-07-01 | 2025-07-02 | 3',
      '    stay',
      '      Ana | 4',
      '      Rui | 6',
      '  Lagoa',
      '    byMonth',
      '      2025-08-01 | 2025-08-01 | 4',
      '    stay',
      '      – | 8',
    ]);
    expect((await told(beside, ALL)).lines).toEqual([
      'nights_by_guest',
      '  Ana | 2',
      '  Others | 7',
      'stay',
      '  Ana | 4',
      '  Rui | 6',
      '  – | 8',
      'again',
      '  Ana | 2',
      '  Others | 7',
    ]);
  });

  it('end when nobody wants them any more, and none is told of a drawer without rows', async () => {
    const gone = AbortSignal.abort(new Error('gone'));
    await expect(told(definition({ body: [HUTS] }), ROWS, {}, gone)).rejects.toThrow('gone');
    expect((await told(definition({ body: [HUTS] }), {})).lines).toEqual(['hut']);
    expect((await told(definition({ body: [] }), {})).lines).toEqual([]);
  });
});
