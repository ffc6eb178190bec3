import { describe, expect, it } from 'vitest';
import { PAPERS, paperSize } from '../definition/schema.ts';
import { band, definition, field, lay, line, type Rows } from './huts.test-support.ts';
import { POINTS } from './prepared.ts';

const huts = (count: number): Rows => ({ hut: Array.from({ length: count }, (_, i) => ({ name: `h${i + 1}` })) });
const flat = (more: Record<string, unknown>, report: Record<string, unknown> = {}) =>
  definition({ ...report, body: [{ id: 'huts', name: 'hut', rows: { entity: 'hut' }, ...more }] });
const tall = (id: string, formula: string, height: number, more: Record<string, unknown> = {}) => ({
  ...band(height, field(id, formula)),
  ...more,
});
/** A4 with margins of 15 leaves 267 mm. */
const pagesOf = async (report: ReturnType<typeof definition>, rows: Rows) => (await lay(report, rows)).text;

describe('what stays together', () => {
  const family: Rows = {
    hut: [{ name: 'a' }, { name: 'b' }],
    stay: [1, 1, 1, 2, 2, 2].map((parent, i) => ({ in: parent, guest: `s${i}` })),
  };
  const nested = (hut: Record<string, unknown>, stays: Record<string, unknown>) =>
    definition({
      body: [
        {
          id: 'huts',
          name: 'hut',
          rows: { entity: 'hut' },
          detail: tall('h', 'name', 30),
          ...hut,
          drawers: [
            { id: 'stays', name: 'stay', rows: { relation: 'stays' }, detail: tall('s', 'guest', 40), ...stays },
          ],
        },
      ],
    });

  it('a row with its inner drawers, which would otherwise go over two pages', async () => {
    expect(await pagesOf(nested({}, {}), family)).toEqual([['a', 's0', 's1', 's2', 'b', 's3', 's4'], ['s5']]);
    expect(await pagesOf(nested({ keepRow: true }, {}), family)).toEqual([
      ['a', 's0', 's1', 's2'],
      ['b', 's3', 's4', 's5'],
    ]);
  });

  it('all rows of a drawer, and a group; what is higher than a page goes where it would have gone', async () => {
    expect(await pagesOf(nested({}, { keepWhole: true }), family)).toEqual([
      ['a', 's0', 's1', 's2'],
      ['b', 's3', 's4', 's5'],
    ]);
    const grouped = (height: number) =>
      flat({
        groups: [{ name: 'g', by: 'IF(id > 3; 2; 1)', keepWhole: true, header: tall('g', '"group"', 10) }],
        detail: tall('h', 'name', height),
      });
    const six: Rows = { hut: [1, 2, 3, 4, 5, 6].map((id) => ({ id, name: `h${id}` })) };
    expect(await pagesOf(grouped(50), six)).toEqual([
      ['group', 'h1', 'h2', 'h3'],
      ['group', 'h4', 'h5', 'h6'],
    ]);
    expect((await pagesOf(grouped(120), six)).flat().filter((t) => t !== 'group')).toEqual([
      'h1',
      'h2',
      'h3',
      'h4',
      'h5',
      'h6',
    ]);
  });

  it('a header with its first rows', async () => {
    const report = (keepWith: number) =>
      flat(
        { header: tall('cap', '"caption"', 20, { keepWith }), detail: tall('h', 'name', 60) },
        { header: tall('title', '"title"', 120) },
      );
    expect(await pagesOf(report(1), huts(3))).toEqual([['title', 'caption', 'h1', 'h2'], ['h3']]);
    expect(await pagesOf(report(3), huts(3))).toEqual([['title'], ['caption', 'h1', 'h2', 'h3']]);
  });

  it('a total with the last of its rows, and with the totals below it', async () => {
    // Six rows of 40 leave 27 of the page: the first total fits, the second does not.
    const total = (id: string, height: number, more: Record<string, unknown> = {}) =>
      tall(id, `"${id} of " & COUNT(hut)`, height, more);
    const ending = (more: Record<string, unknown>, end: Record<string, unknown>) =>
      flat({
        groups: [{ name: 'g', by: '1', header: tall('g', '"group"', 20), footer: total('part', 5, more) }],
        detail: tall('h', 'name', 40),
        footer: total('whole', 10, end),
      });
    expect(await pagesOf(ending({}, {}), huts(6))).toEqual([
      ['group', 'h1', 'h2', 'h3', 'h4', 'h5'],
      ['h6', 'part of 6', 'whole of 6'],
    ]);
    expect(await pagesOf(ending({ keepWith: 0 }, { keepWith: 0 }), huts(6))).toEqual([
      ['group', 'h1', 'h2', 'h3', 'h4', 'h5', 'h6', 'part of 6'],
      ['whole of 6'],
    ]);
    // A heading goes along with the only row below it, and stands on further pages as it did before.
    const headed = (by: string, row: number, foot: number) =>
      flat({
        groups: [{ name: 'g', by, header: tall('g', '"group"', 20, { everyPage: true }), footer: total('part', foot) }],
        detail: tall('h', 'name', row),
      });
    const rows: Rows = { hut: [1, 2, 3].map((id) => ({ id, name: `h${id}` })) };
    expect(await pagesOf(headed('id', 75, 70), { hut: rows.hut!.slice(0, 2) })).toEqual([
      ['group', 'h1', 'part of 1'],
      ['group', 'h2', 'part of 1'],
    ]);
    expect(await pagesOf(headed('id > 1', 108, 40), rows)).toEqual([
      ['group', 'h1', 'part of 1'],
      ['group', 'h2'],
      ['group', 'h3', 'part of 2'],
    ]);
    // What does not fit on one page together goes where it would have gone.
    const high = flat({ detail: tall('h', 'name', 140), footer: total('whole', 140) });
    expect(await pagesOf(high, huts(2))).toEqual([['h1'], ['h2'], ['whole of 2']]);
  });

  it('two lines of a text at least, before and after the end of a page', async () => {
    const text = Array.from({ length: 8 }, (_, i) => `line${i}`).join('\n');
    // Eight lines of 12.5 points are 35 mm; the spacer leaves room for some of them.
    const pages = async (spacer: number) => {
      const report = flat(
        { detail: tall('h', 'name', 5, { keepWhole: false }) },
        { header: tall('spacer', '"spacer"', spacer) },
      );
      return (await pagesOf(report, { hut: [{ name: text }] })).map(
        (words) => words.filter((w) => w.startsWith('line')).length,
      );
    };
    expect(await pages(267 - 20)).toEqual([4, 4]);
    expect(await pages(267 - 6)).toEqual([0, 8]);
    expect(await pages(267 - 32)).toEqual([6, 2]);
  });
});

describe('page breaks', () => {
  it('depend on a formula, on the room that is left, and on odd pages', async () => {
    const onEven = flat({ detail: tall('h', 'name', 40, { breakIf: 'MOD(ROWNUMBER(); 2) = 1' }) });
    expect(await pagesOf(onEven, huts(5))).toEqual([['h1', 'h2'], ['h3', 'h4'], ['h5']]);
    const room = flat({ detail: tall('h', 'name', 40, { breakIf: 'page.room < 100' }) });
    expect((await pagesOf(room, huts(6))).map((p) => p.length)).toEqual([5, 1]);
    const odd = flat(
      { detail: tall('h', 'name', 40, { pageBreak: 'between', breakTo: 'odd' }) },
      { pageFooter: line('n', 'page.number') },
    );
    expect(await pagesOf(odd, huts(2))).toEqual([['h1', '1'], ['2'], ['h2', '3']]);
  });

  it('leave a footer at the bottom of its page', async () => {
    const report = flat({ detail: tall('h', 'name', 40), footer: tall('f', '"sum"', 20, { atBottom: true }) });
    const { pages, text } = await lay(report, huts(6));
    expect(text).toEqual([['h1', 'h2', 'h3', 'h4', 'h5', 'h6', 'sum']]);
    const sum = pages[0]!.marks.find((m) => m.kind === 'text' && m.text === 'sum')!;
    expect(sum.y).toBeGreaterThan((15 + 267 - 20) * POINTS);
    expect((await lay(report, huts(7))).text[1]).toEqual(['h7', 'sum'].slice(0, 2));
  });
});

describe('paper', () => {
  it('has the ISO and North American sizes by name', () => {
    expect(PAPERS.A4).toEqual([210, 297]);
    expect(PAPERS.B5).toEqual([176, 250]);
    expect(PAPERS.C6).toEqual([114, 162]);
    expect(PAPERS.Letter).toEqual([215.9, 279.4]);
    expect(Object.keys(PAPERS).length).toBeGreaterThan(45);
    const page = { paper: 'A5', orientation: 'landscape' as const, margins: { top: 0, right: 0, bottom: 0, left: 0 } };
    expect(paperSize(page)).toEqual({ width: 210, height: 148 });
  });

  it('may have no end, for screens', async () => {
    const report = flat(
      { detail: tall('h', 'name', 40) },
      { page: { continuous: true }, pageFooter: line('f', 'page.number & "/" & page.count') },
    );
    const { pages } = await lay(report, huts(60));
    expect(pages.length).toBe(1);
    expect(pages[0]!.height).toBeCloseTo((15 + 60 * 40 + 5 + 15) * POINTS, 3);
    expect((await lay(report, huts(140))).pages.length).toBe(2);
  });

  it('bears its own headers on the first and on even pages, and something under and over everything', async () => {
    const report = flat(
      { detail: { ...tall('h', 'name', 40), pageBreak: 'between' } },
      {
        pageHeader: line('o', '"odd " & page.number'),
        firstPageHeader: line('fp', '"first"'),
        evenPageHeader: line('e', '"even " & page.number'),
        pageBackground: band(297, {
          kind: 'rectangle',
          id: 'bg',
          x: 0,
          y: 0,
          width: 210,
          height: 297,
          fill: '#fbf8f1',
        }),
        pageOverlay: band(297, {
          kind: 'text',
          id: 'wm',
          x: 0,
          y: 100,
          width: 210,
          height: 60,
          content: ['DRAFT'],
          look: { size: 80, turn: -45, opacity: 0.2, align: 'center', stands: 'middle' },
        }),
      },
    );
    const { text, pages } = await lay(report, huts(3));
    expect(text.map((words) => words.filter((w) => w !== 'DRAFT')[0])).toEqual(['first', 'even 2', 'odd 3']);
    for (const page of pages) {
      expect(page.marks[0]).toMatchObject({ kind: 'rectangle', x: 0, y: 0, width: 210 * POINTS });
      expect(page.marks.at(-1)).toMatchObject({ kind: 'text', text: 'DRAFT', turn: -45, opacity: 0.2 });
    }
  });
});

describe('a page header', () => {
  it('shows the row that its page begins with, also on the first page', async () => {
    const detail = { ...band(5, field('n', 'name')), pageBreak: 'between' };
    const header = (more: object = {}) =>
      flat(
        { detail },
        { pageHeader: band(5, field('h', '"of " & hut.name'), field('c', 'page.count', { x: 60 })), ...more },
      );
    const pages = [
      ['of h1', '2', 'h1'],
      ['of h2', '2', 'h2'],
    ];
    expect(await pagesOf(header(), huts(2))).toEqual(pages);
    const [first, ...others] = pages;
    const titled = header({ header: band(5, field('t', 'report.name')) });
    expect(await pagesOf(titled, huts(2))).toEqual([[...first!.slice(0, 2), 'Test', 'h1'], ...others]);
    expect(await pagesOf(header(), { hut: [] })).toEqual([['of ', '1']]);
  });
});

describe('rows in columns', () => {
  const labels = (order: string, count: number, more: Record<string, unknown> = {}) =>
    flat({ ...more, columns: { count, gap: 6, order }, detail: tall('h', 'name', 60) });
  const placed = async (report: ReturnType<typeof definition>, rows: Rows) =>
    (await lay(report, rows)).pages.map((page) =>
      page.marks.flatMap((m) =>
        m.kind === 'text' ? [`${m.text}@${Math.round(m.x / POINTS)},${Math.round(m.y / POINTS)}`] : [],
      ),
    );

  it('go across, then down', async () => {
    expect(await placed(labels('across', 3), huts(14))).toEqual([
      [
        'h1@15,18',
        'h2@77,18',
        'h3@139,18',
        'h4@15,78',
        'h5@77,78',
        'h6@139,78',
        'h7@15,138',
        'h8@77,138',
        'h9@139,138',
        'h10@15,198',
        'h11@77,198',
        'h12@139,198',
      ],
      ['h13@15,18', 'h14@77,18'],
    ]);
  });

  it('or down, then across, with what follows below the longest', async () => {
    const report = labels('down', 2, { header: line('cap', '"caption"'), footer: line('f', '"end"') });
    expect(await placed(report, huts(11))).toEqual([
      [
        'caption@15,18',
        'h1@15,23',
        'h2@15,83',
        'h3@15,143',
        'h4@15,203',
        'h5@108,23',
        'h6@108,83',
        'h7@108,143',
        'h8@108,203',
      ],
      ['h9@15,18', 'h10@15,78', 'h11@15,138', 'end@15,198'],
    ]);
  });
});

describe('what is left out', () => {
  it('is a band without values, and a band or item whose condition does not hold', async () => {
    const report = flat({
      detail: {
        ...band(10, field('n', 'name'), field('x', '"hidden"', { y: 5, showIf: 'name <> "h2"' })),
        showIf: 'name <> "h3"',
      },
      detailFooter: { ...band(5, field('v', 'secret2')), leaveOutEmpty: true },
      calculated: [{ name: 'secret2', formula: 'IF(name = "h1"; "value"; "")' }],
    });
    expect(await pagesOf(report, huts(3))).toEqual([['h1', 'hidden', 'value', 'h2']]);
  });

  it('moves up what stands below an item that shrinks, and widths follow the paper', async () => {
    const report = flat({
      detail: band(
        20,
        field('n', 'IF(name = "h1"; ""; name)', { height: 10, shrink: true }),
        field('below', '"below"', { y: 10, share: { x: 20, width: 50 } }),
      ),
    });
    const { pages } = await lay(report, huts(2));
    const below = pages[0]!.marks.filter((m) => m.kind === 'text' && m.text === 'below');
    expect(below.map((m) => Math.round(m.y / POINTS))).toEqual([18, 33]);
    expect(below.map((m) => Math.round(m.x / POINTS))).toEqual([51, 51]);
  });
});
