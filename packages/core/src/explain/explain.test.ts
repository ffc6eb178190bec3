import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readParameters } from '../data/parameters.ts';
import type { Report } from '../definition/schema.ts';
import { band, definition, field, lay, nest, plan, type Rows, rowsOf } from '../layout/huts.test-support.ts';
import { testBook } from '../layout/shipped.test-support.ts';
import type { Page } from '../page/page.ts';
import { askedOf, shownNumber, textsOf } from './asked.test-support.ts';
import { explainReport } from './explain-report.ts';
import type { AskedValue, Explanation } from './explanation.ts';

const explain = (report: Report, rows: Rows, asked: AskedValue, nested: Record<string, Report> = {}) =>
  explainReport(
    {
      plan: plan(report, nested),
      book: testBook,
      open: () => ({ source: rowsOf(rows) }),
      parameters: readParameters(report, {}).values,
    },
    asked,
  );

/** Huts with two stays each, with so many charges of 1, 2, 3 … */
const family = (huts: readonly (readonly number[])[]): Rows => {
  const rows: Rows = { hut: [], stay: [], charge: [] };
  for (const [h, stays] of huts.entries()) {
    rows.hut!.push({ id: h + 1, name: `hut ${h + 1}` });
    for (const count of stays) {
      const stay = rows.stay!.push({
        id: rows.stay!.length + 1,
        in: h + 1,
        guest: `guest ${count}`,
        nights: count + 1,
      });
      for (let i = 1; i <= count; i++)
        rows.charge!.push({ id: rows.charge!.length + 1, in: stay, kind: i % 2 ? 'bunk' : 'linen', amount: i * 1.25 });
    }
  }
  return rows;
};

let ids = 0;
const shows = (...formulas: (string | null | false)[]) => {
  const all = formulas.filter((one) => typeof one === 'string');
  return band(6, ...all.map((one, i) => field(`i${++ids}`, one, { x: i * 41, width: 40 })));
};

/** The value of an item in its first place on the pages, and where it comes from. */
const firstOf = async (report: Report, rows: Rows, source: string, nested: Record<string, Report> = {}) => {
  const { pages } = await lay(report, rows, nested);
  const item = JSON.stringify([report, nested]).match(new RegExp(`"id":"(i\\d+)"[^{}]*"formula":"${source}"`))?.[1];
  for (const page of pages) {
    const mark = textsOf(page).find((one) => one.item === item);
    if (mark) return { mark, page, found: await explain(report, rows, askedOf(page, mark), nested) };
  }
  throw new Error(`no page shows ${source}`);
};

const HUTS = { id: 'huts', name: 'hut', rows: { entity: 'hut' } };
const STAYS = { id: 'stays', name: 'stay', rows: { relation: 'stays' } };
const CHARGES = { id: 'charges', name: 'charge', rows: { relation: 'charges' } };

describe('a value', () => {
  const rows = family([[2, 3], [1], []]);
  const report = definition({
    parameters: [
      { name: 'least', label: 'Least', type: 'number', default: '1' },
      { name: 'unread', label: 'Unread', type: 'number' },
    ],
    header: shows('"All: " & SUM(amount)'),
    body: [
      {
        ...HUTS,
        detail: shows('name', 'SUM(amount) / SUM(amount; report)'),
        drawers: [
          {
            ...STAYS,
            filter: 'nights > least',
            detail: shows('guest', 'nights'),
            drawers: [{ ...CHARGES, detail: shows('kind', 'amount') }],
          },
        ],
      },
    ],
  });

  it('of a total: the rows that it counts, what pages show of them, and what cut them', async () => {
    const { mark, found } = await firstOf(report, rows, 'SUM\\(amount\\) / SUM\\(amount; report\\)');
    expect(found!.formulas).toMatchObject([{ text: mark.text, totals: [0, 1], fields: [] }]);
    const [own, whole] = found!.totals;
    expect(own).toMatchObject({
      name: 'SUM',
      of: 'Amount',
      drawer: 'Charges',
      scope: { kind: 'row', drawer: 'Hut' },
      text: '11.25',
      listText: '11.25',
      isSame: true,
      count: 5,
      filled: 5,
    });
    expect(own!.columns.map(({ label }) => label)).toEqual(['Amount', 'Guest (Stay)', 'Nights (Stay)', 'Kind']);
    expect(own!.list[2]).toEqual({
      texts: ['1.25', 'guest 3', '4', 'bunk'],
      rows: 'hut:#1/stay:#2/charge:#3',
    });
    expect(whole).toMatchObject({ scope: { kind: 'set', drawer: 'Hut' }, count: 6, text: '12.50' });
    expect(found!.around).toEqual([{ drawer: 'Hut', name: 'hut 1' }]);
    expect(found!.cuts).toEqual([{ kind: 'filter', drawer: 'Stays', formula: 'nights > least' }]);
    expect(found!.parameters).toEqual(['least']);
  });

  it('of a field: the row that it is of', async () => {
    const { found } = await firstOf(report, rows, 'nights');
    expect(found).toMatchObject({
      formulas: [{ source: 'nights', text: '3', fields: [{ label: 'Nights', drawer: 'Stay', text: '3' }] }],
      totals: [],
      around: [
        { drawer: 'Hut', name: 'hut 1' },
        { drawer: 'Stay', name: 'guest 2' },
      ],
    });
  });

  it('that no page has is null', async () => {
    const asked = { item: 'nowhere', band: 'huts/detail', rows: 'hut:#1', cell: null, page: 1 };
    expect(await explain(report, rows, asked)).toBeNull();
    const { page, mark } = await firstOf(report, rows, 'nights');
    expect(await explain(report, rows, { ...askedOf(page, mark), rows: 'hut:#9/stay:#1' })).toBeNull();
  });

  it('of a running total: the rows so far', async () => {
    const running = definition({
      body: [{ ...HUTS, detail: shows('name'), drawers: [{ ...STAYS, detail: shows('RUNNING(nights)') }] }],
    });
    const { pages } = await lay(running, rows);
    const last = textsOf(pages[0]!).filter(({ text }) => /^\d+$/.test(text))[1]!;
    const found = await explain(running, rows, askedOf(pages[0]!, last));
    expect(found!.totals).toMatchObject([{ name: 'RUNNING', text: '7', listText: '7', count: 2 }]);
  });

  it('at the foot of a page: the rows that stand on it', async () => {
    const many = family(Array.from({ length: 90 }, () => [1]));
    const paged = definition({
      pageFooter: shows('SUM(amount)'),
      body: [
        {
          ...HUTS,
          detail: shows('name'),
          drawers: [{ ...STAYS, detail: shows('guest'), drawers: [{ ...CHARGES, detail: shows('amount') }] }],
        },
      ],
    });
    const { pages } = await lay(paged, many);
    for (const page of pages.slice(0, 3)) {
      const foot = textsOf(page).at(-1)!;
      const found = await explain(paged, many, askedOf(page, foot));
      expect(found!.totals).toMatchObject([
        { scope: { kind: 'page' }, text: foot.text, listText: foot.text, isSame: true },
      ]);
    }
  });

  it('of a nested report: in the instance that it stands in', async () => {
    const inner = definition({
      name: 'Inner',
      body: [{ ...STAYS, rows: { entity: 'stay' }, detail: shows('guest', 'nights'), footer: shows('SUM(nights)') }],
    });
    const outer = definition({
      body: [
        {
          ...HUTS,
          detail: {
            ...shows('name'),
            height: 40,
            items: [...shows('name').items, nest('inner', { y: 10, width: 120, rows: { relation: 'stays' } })],
          },
        },
      ],
    });
    const { pages } = await lay(outer, rows, { inner });
    const sums = pages.flatMap((page) =>
      textsOf(page)
        .filter(({ item }) => item === inner.body[0]!.footer!.items[0]!.id)
        .map((mark) => ({ page, mark })),
    );
    expect(sums.map(({ mark }) => mark.text)).toEqual(['7', '2']);
    for (const { page, mark } of sums) {
      const found = await explain(outer, rows, askedOf(page, mark), { inner });
      expect(found).toMatchObject({
        report: 'Inner',
        totals: [{ text: mark.text, listText: mark.text, isSame: true }],
      });
    }
  });
});

it('a cell of a crosstab, and of its totals: the rows of its groups', async () => {
  const rows = family([[2, 3, 2], [1, 3], []]);
  const crosstab = {
    kind: 'crosstab',
    id: 'cross',
    x: 0,
    y: 0,
    width: 170,
    height: 30,
    down: [{ name: 'hut', by: 'name' }],
    across: [{ name: 'guest', by: 'guest' }],
    cells: [{ formula: 'SUM(amount)', caption: 'Amount' }],
  };
  const report = definition({
    body: [
      {
        ...HUTS,
        detail: shows('name'),
        drawers: [{ ...STAYS, detail: shows('guest'), drawers: [{ ...CHARGES, detail: shows('kind', 'amount') }] }],
      },
    ],
    footer: band(40, crosstab),
  });
  const { pages } = await lay(report, rows);
  const cells = pages.flatMap((page) =>
    textsOf(page)
      .filter((mark) => mark.to)
      .map((mark) => ({ page, mark })),
  );
  expect(cells.length).toBeGreaterThan(8);
  const seen: Explanation[] = [];
  for (const { page, mark } of cells) {
    const found = (await explain(report, rows, askedOf(page, mark)))!;
    expect(found.formulas[0]!.text).toBe(mark.text);
    expect(found.totals).toMatchObject([{ listText: found.totals[0]!.text, isSame: true }]);
    const sum = found.totals[0]!.list.reduce((all, { texts }) => all + Number(texts[0]), 0);
    expect(sum).toBeCloseTo(shownNumber(mark.text));
    seen.push(found);
  }
  const inner = seen.find(({ groups }) => groups.length === 2)!;
  expect(inner.groups.map(({ label }) => label)).toEqual(['Name', 'Guest']);
  expect(seen.at(-1)!.totals[0]!.count).toBe(rows.charge!.length);
});

it('a part of a chart, beside others in its band: the rows of its groups', async () => {
  const rows = family([[2, 3, 2], [1, 3], []]);
  const chart = (id: string, x: number, by: string, formula: string) => ({
    kind: 'chart',
    id,
    type: 'column',
    x,
    y: 0,
    width: 80,
    height: 50,
    along: { name: 'along', by },
    measures: [{ formula }],
  });
  const charts = [chart('left', 0, 'name', 'SUM(amount)'), chart('right', 90, 'guest', 'COUNT(charge)')];
  const report = definition({
    body: [
      {
        ...HUTS,
        detail: shows('name'),
        drawers: [{ ...STAYS, detail: shows('guest'), drawers: [{ ...CHARGES, detail: shows('kind', 'amount') }] }],
      },
    ],
    footer: band(60, ...charts),
  });
  const { pages } = await lay(report, rows);
  const [page] = pages as [Page];
  const parts = page.marks.flatMap((mark) =>
    mark.kind === 'rectangle' && mark.to && 'cell' in mark.to
      ? [{ item: mark.item!, cell: mark.to.cell, tip: mark.tip! }]
      : [],
  );
  expect(new Set(parts.map(({ item }) => item))).toEqual(new Set(['left', 'right']));
  for (const { item, cell, tip } of parts) {
    const found = await explain(report, rows, { item, band: 'footer', rows: '', cell, page: 1 });
    expect(`${found!.groups[0]!.text}: ${found!.totals[0]!.listText}`).toBe(tip);
    expect(found!.totals[0]!.isSame).toBe(true);
  }
});

const total = fc.constantFrom('SUM', 'COUNT', 'AVERAGE', 'MIN', 'MAX', 'STDEV', 'MEDIAN', 'COUNTDISTINCT');
const ofCharges = fc.tuple(total, fc.constantFrom('amount', 'amount * 2', 'IF(amount > 2; amount; 0)'));
const ofStays = fc.tuple(total, fc.constantFrom('nights', 'nights + 1'));
const scoped = (...scopes: string[]) =>
  fc.option(fc.tuple(fc.oneof(ofCharges, ofStays), fc.constantFrom('', ...scopes)), { freq: 2 });
const shape = fc.record({
  huts: fc.array(fc.array(fc.integer({ min: 0, max: 5 }), { maxLength: 6 }), { minLength: 1, maxLength: 4 }),
  title: scoped('report'),
  hut: scoped('hut', 'report'),
  hutFoot: scoped('report'),
  group: fc.constantFrom(null, 'nights', 'LEFT(guest; 7)'),
  groupHead: scoped('hut'),
  groupFoot: scoped('hut', 'report', 'alike'),
  stay: scoped('hut'),
  first: fc.option(fc.integer({ min: 1, max: 4 })),
  groupFirst: fc.option(fc.integer({ min: 1, max: 2 }), { freq: 4 }),
  others: fc.boolean(),
  filter: fc.constantFrom(undefined, 'nights > 2', 'SUM(amount) > 3'),
  chargeFilter: fc.constantFrom(undefined, 'amount < 4', 'kind = "bunk"'),
  sort: fc.constantFrom(undefined, '-SUM(amount)', 'nights'),
  running: fc.boolean(),
});
type Shape = typeof shape extends fc.Arbitrary<infer T> ? T : never;

const written = (one: Shape['title']): string | null =>
  one && `${one[0][0]}(${one[0][1]}${one[1] === '' ? '' : `; ${one[1]}`})`;

const randomReport = (s: Shape): Report =>
  definition({
    header: shows('"Asked"', written(s.title)),
    footer: shows('"End"', written(s.title)),
    body: [
      {
        ...HUTS,
        header: shows('"Huts"', written(s.title)),
        detail: shows('name', written(s.hut)),
        detailFooter: shows('name', written(s.hutFoot)),
        drawers: [
          {
            ...STAYS,
            ...(s.filter ? { filter: s.filter } : {}),
            ...(s.sort ? { sort: [{ by: s.sort }] } : {}),
            ...(s.first === null ? {} : { first: s.first }),
            ...(s.others && (s.first !== null || (s.group !== null && s.groupFirst !== null))
              ? { others: shows('COUNT(stay)') }
              : {}),
            ...(s.group === null
              ? {}
              : {
                  groups: [
                    {
                      name: 'alike',
                      by: s.group,
                      ...(s.groupFirst === null ? {} : { first: s.groupFirst }),
                      header: shows('alike', written(s.groupHead)),
                      footer: shows('alike', written(s.groupFoot)),
                    },
                  ],
                }),
            detail: shows('guest', written(s.stay), s.running && 'RUNNING(nights)'),
            footer: shows('COUNT(stay)', 'SUM(amount)'),
            drawers: [
              { ...CHARGES, ...(s.chargeFilter ? { filter: s.chargeFilter } : {}), detail: shows('kind', 'amount') },
            ],
          },
        ],
      },
    ],
  });

it('on 400 random reports: the rows that are listed come to the number that is shown', async () => {
  let listed = 0;
  await fc.assert(
    fc.asyncProperty(shape, fc.integer({ min: 0 }), async (s, pick) => {
      const report = randomReport(s);
      const rows = family(s.huts);
      const { pages } = await lay(report, rows);
      const numbers = pages.flatMap((page: Page) =>
        textsOf(page)
          .filter(({ text }) => /^-?[\d.]+$/.test(text))
          .map((mark) => ({ page, mark })),
      );
      for (const step of [0, 7, 19]) {
        const picked = numbers[(pick + step) % Math.max(1, numbers.length)];
        if (!picked) return;
        const { page, mark } = picked;
        const found = await explain(report, rows, askedOf(page, mark));
        expect(found?.formulas.map(({ text }) => text)).toEqual([mark.text]);
        for (const one of found!.totals) {
          expect([one.isSame, one.listText]).toEqual([true, mark.text]);
          if (one.name !== 'SUM' || one.of !== 'Amount') continue;
          listed++;
          const sum = one.list.reduce((all, { texts }) => all + Number(texts[0]), 0);
          expect(sum).toBeCloseTo(shownNumber(mark.text));
        }
      }
    }),
    { numRuns: 400, seed: 20_261_129 },
  );
  expect(listed).toBeGreaterThan(100);
}, 120_000);
