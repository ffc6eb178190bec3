import {
  type AskedValue,
  type Explanation,
  explainReport,
  type GivenParameters,
  type Page,
  type RegionMark,
  type Report,
  readDefinition,
  runReport,
  type TextMark,
} from '@gaveta/core/internal';
import { loadEquipment } from '@gaveta/output';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { FEW_PAGES, openDemo, runAt } from './demo-runs.test-support.ts';

/** The database adds up what is shown ahead of its rows: rows that are counted here must come to the same. */
const LONGER = Number(process.env.GAVETA_LONGER ?? 1);
const demo = await openDemo();
const book = await (await loadEquipment()).book();

const pagesOf = async (report: Report, given: GivenParameters = {}): Promise<Page[]> => {
  const { plan, parameters, open } = demo.planned(report, given, true);
  const pages: Page[] = [];
  const onPage = (page: Page): void => void pages.push(page);
  await runReport({ plan, parameters, open, book, runAt, regions: true, maxPages: 12, onPage });
  return pages;
};

const explain = async (report: Report, asked: AskedValue, given: GivenParameters = {}): Promise<Explanation | null> => {
  const { plan, parameters, open } = demo.planned(report, given, true);
  return explainReport({ plan, parameters, open, book, runAt }, asked);
};

/** Values on pages, each as a viewer asks about it: by the region that follows it. */
const askedOn = (pages: readonly Page[]): { mark: TextMark; asked: AskedValue }[] =>
  pages.flatMap(({ marks, number }) =>
    marks.flatMap((mark, i) => {
      if (mark.kind !== 'text' || mark.item === undefined || !/\d/.test(mark.text)) return [];
      const region = marks
        .slice(i)
        .find((one): one is RegionMark => one.kind === 'region' && one.y <= mark.y && one.y + one.height >= mark.y - 1);
      const cell = mark.to && 'cell' in mark.to ? mark.to.cell : null;
      const { band = null, rows = null } = region ?? {};
      return [{ mark, asked: { item: mark.item, band, rows, cell, page: number } }];
    }),
  );

/** So many of a list, from all over it. */
const some = <T>(list: readonly T[], count: number): T[] =>
  list.filter((_, i) => i % Math.max(1, Math.floor(list.length / count)) === 0).slice(0, count);

it('the rows behind values of the demo’s reports come to what the database has added up', async () => {
  let totals = 0;
  for (const id of ['season-ledger', 'nights-matrix', 'board-day', 'stay-folio', 'inspection-watchlist']) {
    const given = FEW_PAGES[id] ?? {};
    const report = demo.definition(id);
    const values = askedOn(await pagesOf(report, given));
    const kinds = [...new Map(values.map((one) => [`${one.asked.item} ${one.asked.band}`, one])).values()];
    for (const { mark, asked } of some(kinds, 8 * LONGER)) {
      const found = await explain(report, asked, given);
      expect(found, `${id}: ${mark.text} ${JSON.stringify(asked)}`).not.toBeNull();
      for (const one of found!.totals) {
        totals++;
        expect(one.isSame, `${id}: ${mark.text}, ${JSON.stringify({ ...one, list: [] })}`).toBe(true);
      }
    }
  }
  expect(totals).toBeGreaterThan(15);
}, 120_000);

let ids = 0;
const shows = (...formulas: (string | null)[]) => {
  const shown = formulas.filter((one) => one !== null);
  const items = shown.map((formula, i) => {
    return { kind: 'field', id: `i${++ids}`, x: i * 41, y: 0, width: 40, height: 5, formula, format: '0.00' };
  });
  return { height: 6, items };
};

const total = fc.constantFrom('SUM', 'COUNT', 'AVERAGE', 'MIN', 'MAX', 'STDEV', 'MEDIAN', 'COUNTDISTINCT');
const ofCharges = fc.tuple(
  total,
  fc.constantFrom('amount', 'quantity', 'quantity * unit_price', 'IF(quantity > 2; amount; 0)'),
);
const ofStays = fc.tuple(total, fc.constantFrom('party_size', 'DAYS(departure; arrival)'));
const scoped = (...scopes: string[]) =>
  fc.option(fc.tuple(fc.oneof(ofCharges, ofStays), fc.constantFrom('', ...scopes)), { freq: 3 });
const shape = fc.record({
  season: fc.constantFrom(2024, 2025),
  hut: fc.integer({ min: 1, max: 24 }),
  title: scoped('report'),
  above: scoped('hut', 'report'),
  below: scoped('report'),
  group: fc.constantFrom(null, 'status', 'MONTH(arrival)', 'status & "!"'),
  groupHead: scoped('hut'),
  groupFoot: scoped('hut', 'report'),
  stay: fc.option(fc.tuple(ofCharges, fc.constantFrom('', 'hut'))),
  first: fc.option(fc.integer({ min: 1, max: 12 })),
  others: fc.boolean(),
  filter: fc.constantFrom(null, 'party_size > 1', 'SUM(amount) > 200', 'LEFT(status; 1) <> "x"'),
  chargeFilter: fc.constantFrom(null, 'quantity < 4', 'kind <> "bunk"', 'ISNUMBER(unit_price)'),
});
type Shape = typeof shape extends fc.Arbitrary<infer T> ? T : never;

const written = (one: Shape['title']): string | null =>
  one && `${one[0][0]}(${one[0][1]}${one[1] === '' ? '' : `; ${one[1]}`})`;

const randomReport = (s: Shape): Report => {
  const ofSeason = `YEAR(arrival) = ${s.season}`;
  const group = {
    name: 'kindred',
    by: s.group,
    header: shows('kindred', written(s.groupHead)),
    footer: shows('kindred', written(s.groupFoot)),
  };
  const stays = {
    id: 'stays',
    name: 'stay',
    rows: { relation: 'stays' },
    filter: s.filter === null ? ofSeason : `AND(${ofSeason}; ${s.filter})`,
    sort: [{ by: 'arrival' }],
    ...(s.first === null ? {} : { first: s.first }),
    ...(s.first !== null && s.others ? { others: shows('COUNT(stay)') } : {}),
    ...(s.group === null ? {} : { groups: [group] }),
    detail: shows('arrival', written(s.stay)),
    footer: shows('COUNT(stay)', 'SUM(amount)'),
    drawers: [
      {
        id: 'charges',
        name: 'charge',
        rows: { relation: 'charges' },
        ...(s.chargeFilter === null ? {} : { filter: s.chargeFilter }),
        detail: shows('kind', 'amount'),
      },
    ],
  };
  const huts = {
    id: 'huts',
    name: 'hut',
    rows: { entity: 'hut' },
    filter: `id = ${s.hut}`,
    header: shows('"Huts"', written(s.title)),
    detail: shows('name', written(s.above)),
    detailFooter: shows('name', written(s.below)),
    drawers: [stays],
  };
  const title = shows('"Asked"', written(s.title));
  const read = readDefinition({
    gaveta: 2,
    name: 'Asked',
    model: 'cumeeira',
    header: title,
    body: [huts],
    footer: shows('"End"', written(s.title)),
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.report;
};

it('on 100 random reports over a database: the rows that are listed come to the number that is shown', async () => {
  let totals = 0;
  await fc.assert(
    fc.asyncProperty(shape, fc.integer({ min: 0 }), async (s, pick) => {
      const report = randomReport(s);
      const values = askedOn(await pagesOf(report)).filter(({ mark }) => /^-?[\d.]+$/.test(mark.text));
      const picked = values[pick % Math.max(1, values.length)];
      if (!picked) return;
      const found = await explain(report, picked.asked);
      expect(found?.formulas.map(({ text }) => text)).toEqual([picked.mark.text]);
      for (const one of found!.totals) {
        totals++;
        expect([one.isSame, one.listText]).toEqual([true, picked.mark.text]);
        if (one.name !== 'SUM' || one.of !== 'Amount' || one.count > one.list.length) continue;
        const sum = one.list.reduce((all, { texts }) => all + Number(texts[0]), 0);
        expect(sum).toBeCloseTo(Number(picked.mark.text));
      }
    }),
    { numRuns: 100 * LONGER, seed: 20_261_129 },
  );
  expect(totals).toBeGreaterThan(30);
}, 300_000);
