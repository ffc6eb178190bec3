import { describe, expect, it } from 'vitest';
import type { FoldMark, Page } from '../page/page.ts';
import { AS_STARTED, type FoldState, foldKeyOf, turnFold } from '../shape/folds.ts';
import { band, definition, field, lay, line, nest, plan, type Rows } from './huts.test-support.ts';
import { type LayoutTrace, TraceDiffers } from './trace.ts';

const ROWS: Rows = {
  hut: [
    { id: 1, name: 'Brecha' },
    { id: 2, name: 'Lago Frio' },
    { id: 3, name: 'Pedra Longa' },
  ],
  stay: [
    { in: 1, id: 11, guest: 'Ana', nights: 2 },
    { in: 1, id: 12, guest: 'Rui', nights: 3 },
    { in: 3, id: 13, guest: 'Ana', nights: 1 },
    { in: 3, id: 14, guest: 'Bea', nights: 4 },
    { in: 3, id: 15, guest: 'Zé', nights: 5 },
  ],
  charge: [
    { in: 1, kind: 'bunk', amount: 1 },
    { in: 3, kind: 'bunk', amount: 2 },
    { in: 3, kind: 'linen', amount: 4 },
    { in: 5, kind: 'bunk', amount: 8 },
  ],
};

const stays = (more: Record<string, unknown> = {}) => ({
  id: 'stays',
  name: 'stay',
  rows: { relation: 'stays' },
  detail: line('guest', '"- " & guest'),
  ...more,
});
const huts = (inner: object[], more: Record<string, unknown> = {}) =>
  definition({
    body: [
      {
        id: 'huts',
        name: 'hut',
        rows: { entity: 'hut' },
        detail: line('name', 'name'),
        detailFooter: line('sum', '"= " & SUM(nights)'),
        drawers: inner,
        ...more,
      },
    ],
  });

/** As a report has them that shows nothing but stays. */
const STAYS: Rows = { stay: ROWS.stay!.map((row) => ({ ...row, in: 1 })) };

const folded = async (report: ReturnType<typeof definition>, folds: FoldState = AS_STARTED) => {
  const rows = report.body[0]?.name === 'stay' ? STAYS : ROWS;
  const { text, pages, result } = await lay(report, rows, {}, { folds });
  return { lines: text.flat(), text, pages, signs: pages.flatMap(signsOf), problems: result.problems };
};
const signsOf = ({ marks }: Page): FoldMark[] => marks.flatMap((mark) => (mark.kind === 'fold' ? [mark] : []));
const ALL_CLOSED: FoldState = { base: 'closed', turned: [] };
const ALL_OPEN: FoldState = { base: 'open', turned: [] };

describe('a drawer that can be folded', () => {
  it('has its sign at the row around it, and none where that has no rows', async () => {
    const report = huts([stays({ fold: {}, footer: line('count', '"n " & COUNT(stay)') })]);
    const open = await folded(report);
    expect(open.signs.map(({ label, isClosed }) => [label, isClosed])).toEqual([
      ['Brecha', false],
      ['Pedra Longa', false],
    ]);
    const closed = await folded(report, turnFold(AS_STARTED, open.signs[0]!.key));
    expect(closed.lines).toEqual([
      ...['Brecha', 'n 2', '= 5', 'Lago Frio', '= 0'],
      ...['Pedra Longa', '- Ana', '- Bea', '- Zé', 'n 3', '= 10'],
    ]);
    expect(closed.signs.map(({ isClosed }) => isClosed)).toEqual([true, false]);
  });

  it('has it in its own header where there is one, which stays when it is closed', async () => {
    const report = huts([
      stays({ fold: { closed: true, hidesFooter: true }, header: line('head', '"Stays"'), footer: line('f', '"end"') }),
    ]);
    expect((await folded(report)).lines).toEqual([
      ...['Brecha', 'Stays', '= 5', 'Lago Frio', '= 0', 'Pedra Longa', 'Stays', '= 10'],
    ]);
    expect((await folded(report, ALL_OPEN)).lines.slice(0, 6)).toEqual([
      'Brecha',
      'Stays',
      '- Ana',
      '- Rui',
      'end',
      '= 5',
    ]);
  });

  it('starts closed where its condition holds', async () => {
    const { lines } = await folded(huts([stays({ fold: { closedIf: 'SUM(nights) > 6' } })]));
    expect(lines).toEqual(['Brecha', '- Ana', '- Rui', '= 5', 'Lago Frio', '= 0', 'Pedra Longa', '= 10']);
  });

  it('counts what is closed in every total, also of the page and of drawers inside', async () => {
    const charges = { id: 'charges', name: 'charge', rows: { relation: 'charges' }, detail: line('kind', 'kind') };
    const report = definition({
      ...huts([stays({ fold: { closed: true }, drawers: [charges] })], {
        detailFooter: line('sum', 'SUM(amount) & " of " & SUM(amount; report)'),
      }),
      pageFooter: line('page', '"page " & SUM(nights) & " " & COUNT(charge)'),
      footer: line('all', '"all " & SUM(amount) & " " & COUNT(stay)'),
    });
    const sums = ({ lines }: { lines: string[] }): string[] => lines.filter((one) => /\d/.test(one));
    const [closed, open] = [await folded(report), await folded(report, ALL_OPEN)];
    expect(sums(closed)).toEqual(['1 of 15', '0 of 15', '14 of 15', 'all 15 5', 'page 15 4']);
    expect(sums(open)).toEqual(sums(closed));
    expect(open.lines).toContain('bunk');
    expect(closed.lines).not.toContain('bunk');
  });

  it('has no sign where a filter that runs here leaves no row, and one where only totals can tell', async () => {
    const kept = await folded(huts([stays({ fold: {}, filter: 'LEFT(guest; 1) = "Z"' })]));
    expect(kept.signs.map(({ label }) => label)).toEqual(['Pedra Longa']);
    const charges = { id: 'charges', name: 'charge', rows: { relation: 'charges' }, detail: line('kind', 'kind') };
    const byTotal = await folded(huts([stays({ fold: {}, filter: 'SUM(amount) > 5', drawers: [charges] })]));
    expect(byTotal.problems).toEqual([]);
    expect(byTotal.signs.map(({ label }) => label)).toEqual(['Brecha', 'Pedra Longa']);
    expect(byTotal.lines.filter((one) => one.startsWith('- '))).toEqual(['- Ana', '- Zé']);
  });

  it('says that it needs a heading where no band can have its sign', () => {
    const outermost = definition({
      body: [{ id: 'huts', name: 'hut', rows: { entity: 'hut' }, fold: {}, detail: line('n', 'name') }],
    });
    expect(plan(outermost).problems).toMatchObject([{ code: 'fold-without-heading', place: { drawer: 'huts' } }]);
    const second = huts([
      stays({ fold: {} }),
      stays({ id: 'more', name: 'more', fold: {}, detail: line('nights', 'nights') }),
    ]);
    expect(plan(second).problems).toMatchObject([{ code: 'fold-without-heading', place: { drawer: 'more' } }]);
  });
});

describe('a group that can be folded', () => {
  const GROUPS = [
    {
      name: 'long',
      by: 'nights > 2',
      fold: {},
      header: line('g', '"long " & long'),
      footer: line('gf', '"sum " & SUM(nights)'),
    },
    {
      name: 'guest',
      by: 'guest',
      fold: {},
      header: line('gg', '"of " & guest'),
      footer: line('ggf', '"each " & SUM(nights)'),
    },
  ];
  const grouped = (more: Record<string, unknown> = {}) =>
    definition({
      body: [
        {
          id: 'stays',
          name: 'stay',
          rows: { entity: 'stay' },
          groups: GROUPS.map((group) => ({ ...group, ...more })),
          detail: line('n', 'ROWNUMBER() & " " & nights'),
          footer: line('all', '"all " & SUM(nights)'),
        },
      ],
    });

  it('shows its header and footer alone, and folds inside folds are as they were when it is opened', async () => {
    const open = await folded(grouped());
    const keyOf = (label: string): string => open.signs.find((sign) => sign.label === label)!.key;
    const inner = turnFold(AS_STARTED, keyOf('of Ana'));
    const both = turnFold(inner, keyOf('long FALSE'));
    expect((await folded(grouped(), both)).lines).toEqual([
      ...['long FALSE', 'sum 3'],
      ...[
        'long TRUE',
        'of Bea',
        '3 4',
        'each 4',
        'of Rui',
        '4 3',
        'each 3',
        'of Zé',
        '5 5',
        'each 5',
        'sum 12',
        'all 15',
      ],
    ]);
    expect((await folded(grouped(), turnFold(both, keyOf('long FALSE')))).lines.slice(0, 4)).toEqual([
      ...['long FALSE', 'of Ana', 'each 3', 'sum 3'],
    ]);
    expect((await folded(grouped(), ALL_CLOSED)).lines).toEqual([
      ...['long FALSE', 'sum 3', 'long TRUE', 'sum 12', 'all 15'],
    ]);
  });

  it('comes back to the first pages, mark by mark, when everything is folded and unfolded one by one', async () => {
    const report = grouped({ keepWhole: true });
    const first = await folded(report);
    let state = AS_STARTED;
    for (const { key } of first.signs) state = turnFold(state, key);
    expect((await folded(report, state)).lines).toEqual((await folded(report, ALL_CLOSED)).lines);
    for (const { key } of [...first.signs].reverse()) state = turnFold(state, key);
    expect(state).toEqual(AS_STARTED);
    expect((await folded(report, state)).pages).toEqual(first.pages);
  });

  it('starts no page of its own while it is closed', async () => {
    const report = grouped();
    const header = { ...GROUPS[0]!.header, pageBreak: 'between' };
    const broken = { ...report, body: [{ ...report.body[0]!, groups: [{ ...GROUPS[0]!, header }] }] };
    const again = definition(broken as never);
    expect((await folded(again)).pages).toHaveLength(2);
    expect((await folded(again, ALL_CLOSED)).pages).toHaveLength(1);
  });
});

it('names what is folded in nested reports by the rows around them', async () => {
  const inner = definition({
    body: [
      {
        id: 'stays',
        name: 'stay',
        rows: { entity: 'stay' },
        fold: {},
        header: line('h', '"Stays"'),
        detail: line('s', 'guest'),
      },
    ],
  });
  const outer = definition({
    body: [
      {
        id: 'huts',
        name: 'hut',
        rows: { entity: 'hut' },
        detail: band(20, field('n', 'name'), nest('inner', { y: 6, rows: { relation: 'stays' } })),
      },
    ],
  });
  const laid = async (folds: FoldState) => (await lay(outer, ROWS, { inner }, { folds })).pages.flatMap(signsOf);
  const signs = await laid(AS_STARTED);
  expect(new Set(signs.map(({ key }) => key)).size).toBe(2);
  expect((await laid(turnFold(AS_STARTED, signs[1]!.key))).map(({ isClosed }) => isClosed)).toEqual([false, true]);
});

describe('pages that stay as they are when something is folded', () => {
  const many: Rows = { hut: [], stay: [], charge: [] };
  for (let h = 1; h <= 12; h++) {
    many.hut!.push({ id: h, name: `Hut ${h}` });
    for (let s = 1; s <= (h * 7) % 5; s++) {
      many.stay!.push({ in: h, id: many.stay!.length + 1, guest: 'ABCDE'[(s * h) % 5]!, nights: (s * h) % 7 });
      for (let c = 0; c < (s * h) % 4; c++) many.charge!.push({ in: many.stay!.length, kind: `k${c}`, amount: c + 1 });
    }
  }
  const LONG = 'A note that takes several lines of a narrow box, so that it may be cut where a page ends.';
  const charges = (more: Record<string, unknown>) => ({
    id: 'charges',
    name: 'charge',
    rows: { relation: 'charges' },
    fold: {},
    detail: line('kind', 'kind & " " & amount'),
    ...more,
  });
  const grouped = {
    groups: [
      {
        name: 'guest',
        by: 'guest',
        fold: { closedIf: 'guest = "B"' },
        keepWhole: true,
        header: line('gh', '"guest " & guest', { everyPage: true }),
        footer: line('gf', '"each " & SUM(nights)'),
      },
    ],
  };
  const page = { paper: 'custom', width: 100, height: 80, margins: { top: 5, right: 5, bottom: 5, left: 5 } };
  const footers = {
    page,
    pageFooter: band(5, field('pf', 'page.number & " of " & page.count & ": " & SUM(nights)')),
  };
  const REPORTS = {
    groups: definition({ ...huts([stays({ ...grouped, fold: {}, drawers: [charges({})] })]), ...footers }),
    kept: definition({
      ...huts([stays({ fold: {}, keepWhole: true, drawers: [charges({ keepWhole: true })] })], { keepRow: true }),
      ...footers,
    }),
    'side by side': definition({
      ...huts([
        stays({ fold: {}, header: line('h', '"Stays"'), beside: { x: 0, width: 40 }, drawers: [charges({})] }),
        stays({
          id: 'again',
          name: 'again',
          header: line('ah', '"Again"'),
          detail: line('a', 'guest'),
          fold: { closed: true },
          beside: { x: 45, width: 40 },
        }),
      ]),
      ...footers,
    }),
    columns: definition({
      ...huts([stays({ columns: { count: 2, gap: 2, order: 'down' }, drawers: [charges({})] })]),
      ...footers,
    }),
    'cut texts': definition({
      ...huts([
        stays({
          fold: {},
          detail: { ...band(20, field('n', `"${LONG} ${LONG}" & page.count`, { width: 20 })), keepWhole: false },
        }),
      ]),
      ...footers,
    }),
  };

  it.each(Object.entries(REPORTS))('are passed over: %s', async (_, report) => {
    const run = async (folds: FoldState, before: LayoutTrace | null) => {
      const { pages, result } = await lay(report, many, {}, { folds, tracing: { before } });
      return { pages, result };
    };
    let state: FoldState = AS_STARTED;
    let old = await run(state, null);
    let passed = 0;
    for (let step = 0; step < 24; step++) {
      const signs = old.pages.flatMap(signsOf);
      const next =
        step % 9 === 8
          ? { base: 'closed' as const, turned: [] }
          : turnFold(state, signs[(step * 13) % signs.length]!.key);
      const whole = await run(next, null);
      const { pages: again, result } = await run(next, old.result.trace);
      const { from } = result;
      expect(again[0]!.number).toBe(from);
      expect([...old.pages.slice(0, from - 1).map(withoutCount), ...again.map(withoutCount)]).toEqual(
        whole.pages.map(withoutCount),
      );
      expect([...result.late]).toEqual([...whole.result.late]);
      expect(result.trace).toEqual(whole.result.trace);
      passed += from - 1;
      state = next;
      old = whole;
    }
    expect(passed).toBeGreaterThan(20);
  });

  it('are not guessed at: a trace of another run is refused', async () => {
    const { result } = await lay(REPORTS.groups, many, {}, { tracing: { before: null } });
    const folds = turnFold(AS_STARTED, result.trace!.folds.at(-1)!.key);
    const fewer: Rows = { ...many, stay: many.stay!.filter((_, i) => i !== 1) };
    await expect(lay(REPORTS.groups, fewer, {}, { folds, tracing: { before: result.trace } })).rejects.toThrow(
      TraceDiffers,
    );
  });
});

/** A page without what waits for the number of pages, which changes. */
const withoutCount = ({ marks, ...page }: Page): object => ({
  ...page,
  marks: marks.filter((mark) => mark.kind !== 'text' || !/ of \d+|\d$/.test(mark.text)),
});

it('has keys that are short, whatever long values groups go by', () => {
  const long = 'x'.repeat(5000);
  const [one, other] = [`${long}1`, `${long}2`].map((value) => foldKeyOf(['hut:1', 'stays', value]));
  expect(one!.length).toBeLessThan(500);
  expect(one).not.toBe(other);
  expect(foldKeyOf(['hut:1', 'stays'])).toBe('hut:1|stays');
});
