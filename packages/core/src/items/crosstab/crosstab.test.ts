import { describe, expect, it } from 'vitest';
import { applyEdit } from '../../edit/edit.ts';
import { mendFor } from '../../edit/mends.ts';
import { band, definition, lay, plan } from '../../layout/huts.test-support.ts';
import type { Page, TextMark } from '../../page/page.ts';
import { AS_STARTED, type FoldState, turnFold } from '../../shape/folds.ts';

const STAYS = [
  { id: 1, guest: 'Rosa', arrival: '2025-01-10', nights: 2 },
  { id: 2, guest: 'Rosa', arrival: '2025-04-02', nights: 5 },
  { id: 3, guest: 'Bento', arrival: '2025-01-20', nights: 1 },
  { id: 4, guest: 'Bento', arrival: '2025-01-28', nights: 4 },
  { id: 5, guest: null, arrival: '2025-04-12', nights: 8 },
  { id: 6, guest: 'Zita', arrival: '2025-04-30', nights: null },
];
const rows = { stay: STAYS };

const crosstab = (more: Record<string, unknown>, own: Record<string, unknown> = {}) => ({
  kind: 'crosstab',
  id: 'x',
  x: 0,
  y: 0,
  width: 178,
  height: 20,
  rows: { entity: 'stay', ...own },
  ...more,
});
const GUEST = { name: 'guest', by: 'guest', caption: 'Guest' };
const MONTH = { name: 'month', by: 'arrival', per: 'month', format: 'mmm' };
const NIGHTS = { formula: 'SUM(nights)', format: '0' };

const report = (item: object, more: Record<string, unknown> = {}) =>
  definition({ header: band(20, item), body: [], ...more });

/** The words of a page line by line, from left to right. */
const linesOf = ({ marks }: Page): string[][] => {
  const lines = new Map<number, TextMark[]>();
  for (const mark of marks) {
    if (mark.kind !== 'text') continue;
    const top = Math.round(mark.y);
    lines.set(top, [...(lines.get(top) ?? []), mark]);
  }
  return [...lines].sort(([a], [b]) => a - b).map(([, line]) => line.sort((a, b) => a.x - b.x).map(({ text }) => text));
};

const laid = async (item: object, more: Record<string, unknown> = {}, given: Record<string, unknown[]> = rows) => {
  const { pages, result } = await lay(report(item, more), given as never);
  return { lines: pages.flatMap(linesOf), pages, problems: result.problems.map(({ code }) => code) };
};

describe('a crosstab', () => {
  it('has groups down and across, their totals, and says that a value is blank', async () => {
    const { lines, problems } = await laid(crosstab({ down: [GUEST], across: [MONTH], cells: [NIGHTS] }));
    expect(lines).toEqual([
      ['Guest', 'Jan', 'Apr', 'Total'],
      ['Bento', '5', '5'],
      ['Rosa', '2', '5', '7'],
      ['Zita', '0', '0'],
      ['(blank)', '8', '8'],
      ['Total', '7', '13', '20'],
    ]);
    expect(problems).toEqual([]);
  });

  it('shows months without rows where that is asked, those of each year in its year', async () => {
    const years = { name: 'year', by: 'arrival', per: 'year', format: 'yyyy' };
    const { lines } = await laid(
      crosstab({ across: [years, { ...MONTH, gaps: true }], cells: [NIGHTS], totalAcross: 'none' }),
      {},
      { stay: [{ ...STAYS[0], arrival: '2024-11-03' }, ...STAYS.slice(1, 3)] },
    );
    expect(lines).toEqual([
      ['2024', '2025'],
      ['Nov', 'Dec', 'Total', 'Jan', 'Feb', 'Mar', 'Apr', 'Total'],
      ['2', '2', '1', '5', '6'],
    ]);
  });

  it('keeps the first groups in an order by a total, and puts the others together exactly', async () => {
    const first = { ...GUEST, order: 'SUM(nights)', descending: true, first: 2, others: 'Others' };
    const cells = [NIGHTS, { formula: 'COUNTDISTINCT(guest)' }, { formula: 'MEDIAN(nights)' }];
    const { lines } = await laid(crosstab({ down: [first], cells }));
    expect(lines.slice(1)).toEqual([
      ['(blank)', '8', '0', '8'],
      ['Rosa', '7', '1', '3.5'],
      ['Others', '5', '2', '2.5'],
      ['Total', '20', '3', '4'],
    ]);
  });

  it('shows shares, differences, running sums and ranks of its values', async () => {
    const shows = async (what: string) =>
      (
        await laid(
          crosstab({
            down: [{ ...GUEST, gaps: false }],
            across: [MONTH],
            cells: [{ formula: 'SUM(nights)', shows: what }],
          }),
        )
      ).lines.slice(1);
    expect(await shows('row-share')).toContainEqual(['Rosa', '28.6%', '71.4%', '100.0%']);
    expect(await shows('column-share')).toContainEqual(['Rosa', '28.6%', '38.5%', '35.0%']);
    expect(await shows('whole-share')).toContainEqual(['Rosa', '10.0%', '25.0%', '35.0%']);
    expect(await shows('difference')).toContainEqual(['Rosa', '3']);
    expect(await shows('ratio')).toContainEqual(['Rosa', '250.0%']);
    expect(await shows('running')).toContainEqual(['Rosa', '2', '7', '7']);
    expect(await shows('rank')).toContainEqual(['Rosa', '2', '2', '2']);
  });

  it('works formulas of a cell out over its own rows, with its groups by name and what is around it', async () => {
    const formula = 'IF(guest = "Rosa"; -1; SUM(nights) * 10 / COUNT(stay))';
    const cells = [{ formula, caption: 'c', format: '0.0' }];
    const { lines } = await laid(
      crosstab({ down: [GUEST], cells, totalDown: 'none' }, { filter: 'NOT(ISBLANK(guest))' }),
    );
    expect(lines.slice(1)).toEqual([
      ['Bento', '25.0'],
      ['Rosa', '-1.0'],
      ['Zita', '0.0'],
    ]);
  });

  it('counts what a total counts where it stands: a hut’s stays, a group’s rows, everything', async () => {
    const inHut = (name: string) => ({
      ...crosstab({ down: [{ ...GUEST, name }], cells: [NIGHTS] }),
      rows: undefined,
    });
    const { pages } = await lay(
      definition({
        body: [
          {
            id: 'h',
            name: 'hut',
            rows: { entity: 'hut' },
            detail: band(20, inHut('who')),
            footer: band(20, { ...inHut('who'), id: 'y' }),
            drawers: [{ id: 's', name: 'stay', rows: { relation: 'stays' } }],
          },
        ],
      }),
      {
        hut: [
          { id: 1, name: 'a' },
          { id: 2, name: 'b' },
        ],
        stay: STAYS.map((stay, i) => ({ ...stay, in: i < 3 ? 1 : 2 })),
      },
    );
    const lines = pages.flatMap(linesOf);
    expect(lines.filter(([label]) => label === 'Bento')).toEqual([
      ['Bento', '1'],
      ['Bento', '4'],
      ['Bento', '5'],
    ]);
    expect(lines.filter(([label]) => label === 'Total').map(([, value]) => value)).toEqual(['8', '12', '20']);
  });

  it('goes on with its labels where it is wider than its place, and with its headings where it is longer', async () => {
    const many = Array.from({ length: 120 }, (_, i) => ({
      id: i,
      guest: `Guest ${String(i).padStart(3, '0')}`,
      arrival: '2025-01-01',
      nights: i,
    }));
    const wide = Array.from({ length: 20 }, (_, i) => ({ ...many[i]!, guest: 'Rosa', nights: i }));
    const long = await laid(crosstab({ down: [GUEST], cells: [NIGHTS] }), {}, { stay: many });
    expect(long.pages.length).toBeGreaterThan(2);
    for (const page of long.pages) expect(linesOf(page)[0]).toEqual(['Guest', 'SUM(nights)']);
    // Its last line does not stand alone.
    expect(linesOf(long.pages.at(-1)!).length).toBeGreaterThan(2);
    const across = { name: 'number', by: 'id', format: '0' };
    const parts = await laid(
      crosstab({ down: [GUEST], across: [across], cells: [NIGHTS], cellWidth: 25, width: 120 }),
      {},
      { stay: wide },
    );
    const headings = parts.lines.filter(([label]) => label === 'Guest');
    expect(headings.length).toBeGreaterThan(4);
    expect(headings.flatMap(([, ...columns]) => columns)).toEqual([
      ...Array.from({ length: 20 }, (_, i) => `${i}`),
      'Total',
    ]);
    expect(parts.lines.filter(([label]) => label === 'Rosa')).toHaveLength(headings.length);
  });

  it('puts labels into columns of their own, and says each once', async () => {
    const inner = { name: 'long', by: 'nights > 2', caption: 'Long' };
    const item = { down: [GUEST, inner], cells: [NIGHTS], labels: 'columns' };
    const { lines } = await laid(crosstab(item, { filter: 'nights > 0' }));
    expect(lines).toContainEqual(['Bento', 'FALSE', '1']);
    expect(lines).toContainEqual(['TRUE', '4']);
    expect(lines).toContainEqual(['Total Bento', '5']);
    const repeated = await laid(crosstab({ ...item, repeatLabels: true }, { filter: 'nights > 0' }));
    expect(repeated.lines).toContainEqual(['Bento', 'TRUE', '4']);
  });

  it('puts values below one another, each with its name', async () => {
    const cells = [
      { ...NIGHTS, caption: 'nights' },
      { formula: 'COUNT(stay)', caption: 'stays' },
    ];
    const { lines } = await laid(crosstab({ down: [GUEST], cells, below: true, totalDown: 'none' }));
    expect(lines.slice(1, 3)).toEqual([
      ['Bento', 'nights', '5'],
      ['stays', '2'],
    ]);
  });

  it('colours its cells from the smallest to the largest, and changes their look where a condition holds', async () => {
    const cells = [
      {
        ...NIGHTS,
        scale: { from: '#ffffff', to: '#000000' },
        highlights: [{ when: 'SUM(nights) = 7', look: { color: '#b3402e' } }],
      },
    ];
    const { pages } = await laid(crosstab({ down: [GUEST], cells, totalDown: 'none' }, { filter: 'nights > 0' }));
    const fills = pages[0]!.marks.flatMap((mark) => (mark.kind === 'rectangle' && mark.fill ? [mark.fill] : []));
    expect(fills).toEqual(['#ffffff', '#555555', '#000000']);
    const red = pages[0]!.marks.filter((mark) => mark.kind === 'text' && mark.color === '#b3402e');
    expect(red.map((mark) => (mark as TextMark).text)).toEqual(['7']);
  });

  it('leads from a cell to another report, with the values of its groups', async () => {
    const link = { report: 'stays', parameters: { guest: 'guest', month: 'MONTH(month)' } };
    const { pages } = await laid(crosstab({ down: [GUEST], across: [MONTH], cells: [{ ...NIGHTS, link }] }));
    const targets = pages[0]!.marks.flatMap((mark) => (mark.kind === 'link' ? [mark.to] : []));
    expect(targets[0]).toEqual({ report: 'stays', parameters: { guest: 'Bento', month: 1 } });
    // Of a total the group is blank.
    expect(targets.at(-1)).toEqual({ report: 'stays', parameters: { guest: null, month: null } });
    const wrong = { report: 'stays', parameters: { guest: 'gest' } };
    const { problems } = plan(report(crosstab({ down: [GUEST], cells: [{ ...NIGHTS, link: wrong }] })));
    expect(problems.map(({ code, place }) => [code, place.path])).toEqual([
      ['unknown-name', 'header/items/0/cells/0/link/parameters/guest'],
    ]);
  });

  it('says what it was told to where there are no rows', async () => {
    const { lines } = await laid(
      crosstab({ down: [GUEST], cells: [NIGHTS], empty: 'Nobody came.' }, { filter: 'FALSE' }),
    );
    expect(lines).toEqual([['Nobody came.']]);
  });
});

describe('what is wrong with a crosstab', () => {
  const found = (item: object) =>
    plan(report(item)).problems.map(({ code, place }) => [
      code,
      place.path?.replace('header/items/0/', ''),
      place.item,
    ]);

  it('is told at the part of the item that has it', () => {
    expect(found(crosstab({ down: [{ name: 'who', by: 'gest' }], cells: [NIGHTS] }))).toEqual([
      ['unknown-name', 'down/0/by', 'x'],
    ]);
    expect(found(crosstab({ down: [{ name: 'm', by: 'guest', per: 'month' }], cells: [NIGHTS] }))).toEqual([
      ['wrong-type', 'down/0/by', 'x'],
    ]);
    expect(found(crosstab({ cells: [{ formula: 'RUNNING(nights)' }] }))).toEqual([['running-in-cell', 'cells/0', 'x']]);
    expect(found(crosstab({ cells: [{ formula: 'nights' }] }))[0]?.[0]).toBe('unknown-name');
    expect(found(crosstab({ down: [GUEST, GUEST], cells: [NIGHTS] }))).toEqual([
      ['group-twice', 'header/items/0', 'x'],
    ]);
    expect(found({ ...crosstab({ cells: [NIGHTS] }), rows: { entity: 'nowhere' } })[0]?.[0]).toBe('unknown-entity');
    expect(found({ ...crosstab({ cells: [NIGHTS] }), rows: undefined })).toEqual([
      ['no-rows-to-group', 'header/items/0', 'x'],
    ]);
  });

  it('leaves the rest of the report as it is, and one wrong value the others', async () => {
    const { lines } = await laid(crosstab({ down: [GUEST], cells: [{ formula: 'SUM(nigths)' }, NIGHTS] }));
    expect(lines).toContainEqual(['Bento', '#NAME?', '5']);
  });

  it('that would have thousands of columns is refused, and mended by keeping the first ones', async () => {
    const many = Array.from({ length: 2_100 }, (_, i) => ({ id: i, guest: 'Rosa', arrival: '2025-01-01', nights: 1 }));
    const item = crosstab({ across: [{ name: 'number', by: 'id' }], cells: [NIGHTS] });
    const { result } = await lay(report(item), { stay: many });
    expect(result.problems.map(({ code, data }) => [code, data.count])).toEqual([['too-many-across', 2_101]]);
    const mend = mendFor(report(item), result.problems[0]!, { models: [], report: () => null })!;
    const mended = await lay(applyEdit(report(item), mend.edit), { stay: many });
    expect(mended.result.problems).toEqual([]);
    expect(
      mended.pages
        .flatMap(linesOf)
        .flat()
        .filter((word) => word === '19'),
    ).toHaveLength(1);
  });
});

describe('folds of a crosstab', () => {
  const foldable = (more: Record<string, unknown> = {}) =>
    crosstab({
      down: [
        { ...GUEST, fold: {} },
        { name: 'day', by: 'arrival', format: 'd mmm' },
      ],
      across: [
        { name: 'quarter', by: 'arrival', per: 'quarter', format: 'mmm', fold: { closed: true } },
        { ...MONTH, total: 'after' },
      ],
      cells: [NIGHTS],
      ...more,
    });
  const signsOf = (pages: readonly Page[]) =>
    pages.flatMap(({ marks }) => marks.flatMap((mark) => (mark.kind === 'fold' ? [mark] : [])));
  const folded = async (item: object, folds: FoldState) => {
    const { pages } = await lay(report(item), rows as never, {}, { folds });
    return { lines: pages.flatMap(linesOf), signs: signsOf(pages), pages };
  };

  it('leave the line of the totals of a group, with a sign at its label, on both axes', async () => {
    const first = await folded(foldable(), AS_STARTED);
    expect(first.signs.map(({ label, isClosed }) => `${label} ${isClosed}`)).toEqual([
      ...['Jan true', 'Apr true', 'Bento false', 'Rosa false', 'Zita false', '(blank) false'],
    ]);
    expect(first.lines.slice(0, 5)).toEqual([
      ['Jan', 'Apr', 'Total'],
      ['Guest / day'],
      ['Bento', '5', '5'],
      ['20 Jan', '1', '1'],
      ['28 Jan', '4', '4'],
    ]);
    const keyOf = (label: string): string => first.signs.find((sign) => sign.label === label)!.key;
    const turned = turnFold(turnFold(AS_STARTED, keyOf('Bento')), keyOf('Apr'));
    const { lines } = await folded(foldable(), turned);
    expect(lines.slice(0, 4)).toEqual([
      ['Jan', 'Apr', 'Total'],
      ['Guest / day', 'Apr', 'Total'],
      ['Bento', '5', '5'],
      ['Rosa', '2', '5', '5', '7'],
    ]);
    expect((await folded(foldable(), AS_STARTED)).pages).toEqual(first.pages);
  });

  it('start closed where a condition over the totals of the group holds', async () => {
    const [guest, day] = [
      { ...GUEST, fold: { closedIf: 'SUM(nights) > 6' } },
      { name: 'day', by: 'arrival' },
    ];
    const { signs } = await folded(crosstab({ down: [guest, day], cells: [NIGHTS] }), AS_STARTED);
    expect(signs.filter(({ isClosed }) => isClosed).map(({ label }) => label)).toEqual(['Rosa', '(blank)']);
  });

  it('show all totals of what is closed, also where they are left out when it is open', async () => {
    const item = foldable({
      down: [
        { ...GUEST, fold: {}, total: 'none' },
        { name: 'day', by: 'arrival' },
      ],
    });
    const { lines } = await folded(item, { base: 'closed', turned: [] });
    expect(lines.slice(2)).toEqual([
      ['Bento', '5', '5'],
      ['Rosa', '2', '5', '7'],
      ['Zita', '0', '0'],
      ['(blank)', '8', '8'],
      ['Total', '7', '13', '20'],
    ]);
  });
});

describe('the lines of a crosstab', () => {
  it('have number formats that go by the value', async () => {
    const cells = [{ formula: 'SUM(nights)', format: '[>=7]0.0" many";0' }];
    const { lines } = await laid(crosstab({ down: [GUEST], cells, totalDown: 'none' }));
    expect(lines.slice(-4)).toEqual([
      ['Bento', '5'],
      ['Rosa', '7.0 many'],
      ['Zita', '0'],
      ['(blank)', '8.0 many'],
    ]);
  });

  it('have a look by their level, on both axes', async () => {
    const look = (color: string, background?: string) => ({ look: { color, ...(background ? { background } : {}) } });
    const { pages } = await laid(
      crosstab({
        down: [
          { ...GUEST, ...look('#aa0000', '#ffeeee') },
          { name: 'day', by: 'arrival', format: 'd mmm', ...look('#00aa00') },
        ],
        across: [{ ...MONTH, ...look('#0000aa', '#eeeeff') }],
        cells: [{ ...NIGHTS, highlights: [{ when: 'SUM(nights) = 4', look: { color: '#123456' } }] }],
      }),
    );
    const { marks } = pages[0]!;
    const colors = (text: string): string[] =>
      marks.flatMap((mark) => (mark.kind === 'text' && mark.text === text ? [mark.color] : []));
    expect(colors('Bento')).toEqual(['#aa0000']);
    expect(colors('28 Jan')).toEqual(['#00aa00']);
    // Where two levels meet, the one across wins; a highlight wins over both.
    expect(colors('Jan')).toEqual(['#0000aa']);
    expect(new Set(colors('5'))).toEqual(new Set(['#0000aa', '#aa0000', '#00aa00']));
    expect(colors('4')).toContain('#123456');
    const fills = marks.flatMap((mark) => (mark.kind === 'rectangle' ? [mark.fill] : []));
    expect(fills).toContain('#ffeeee');
    expect(fills).toContain('#eeeeff');
  });

  it('say at the top of a page again whose they are, where labels stand in columns', async () => {
    const stay = Array.from({ length: 60 }, (_, i) => ({
      id: i,
      guest: i < 40 ? 'Ana' : 'Rui',
      arrival: `2025-0${(i % 9) + 1}-${10 + (i % 18)}`,
      nights: 1,
    }));
    const { pages } = await laid(
      crosstab({ down: [GUEST, { name: 'nr', by: 'id' }], cells: [NIGHTS], labels: 'columns' }),
      {},
      { stay },
    );
    const guests = pages.map((page) => linesOf(page).filter(([first]) => first === 'Ana' || first === 'Rui'));
    expect(pages.length).toBeGreaterThan(1);
    // The first line of each page below its headings.
    for (const page of pages) expect(['Ana', 'Rui']).toContain(linesOf(page)[1]![0]);
    expect(guests.flat().length).toBe(1 + pages.length);
  });
});
