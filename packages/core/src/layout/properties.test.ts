import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { RegionMark } from '../page/page.ts';
import { band, definition, field, lay, type Rows } from './huts.test-support.ts';
import { POINTS } from './prepared.ts';

const height = fc.integer({ min: 4, max: 90 });
const bands = fc.record({
  hutDetail: height,
  hutFooter: fc.option(height),
  header: fc.option(height),
  everyPage: fc.boolean(),
  stay: height,
  stayFooter: fc.option(height),
  charge: height,
  breaks: fc.constantFrom('none', 'between', 'before', 'after'),
  pageHeader: fc.option(fc.integer({ min: 4, max: 40 })),
  pageFooter: fc.option(fc.integer({ min: 4, max: 40 })),
});
/** Children of each hut, and of each of its stays. */
const family = fc.array(fc.array(fc.integer({ min: 0, max: 5 }), { maxLength: 5 }), { minLength: 1, maxLength: 8 });

const reportOf = (b: typeof bands extends fc.Arbitrary<infer T> ? T : never) => {
  const optional = (name: string, h: number | null, formula = `"${name}"`) =>
    h === null ? {} : { [name]: band(h, field(name, formula)) };
  return definition({
    ...optional('pageHeader', b.pageHeader),
    ...optional('pageFooter', b.pageFooter, '"end of " & page.number & " of " & page.count'),
    body: [
      {
        id: 'huts',
        name: 'hut',
        rows: { entity: 'hut' },
        detail: { ...band(b.hutDetail, field('h', 'name')), pageBreak: b.breaks },
        ...(b.hutFooter === null ? {} : { detailFooter: band(b.hutFooter, field('hf', '"after " & name')) }),
        drawers: [
          {
            id: 'stays',
            name: 'stay',
            rows: { relation: 'stays' },
            ...(b.header === null
              ? {}
              : { header: { ...band(b.header, field('sh', '"stays"')), everyPage: b.everyPage } }),
            detail: band(b.stay, field('s', 'guest')),
            ...(b.stayFooter === null ? {} : { footer: band(b.stayFooter, field('sf', '"guests " & COUNT(stay)')) }),
            drawers: [
              {
                id: 'charges',
                name: 'charge',
                rows: { relation: 'charges' },
                detail: band(b.charge, field('c', 'kind')),
              },
            ],
          },
        ],
      },
    ],
  });
};

const rowsOf = (huts: number[][]): { rows: Rows; expected: string[] } => {
  const rows = { hut: [] as Rows[string], stay: [] as Rows[string], charge: [] as Rows[string] };
  const expected: string[] = [];
  huts.forEach((guests, h) => {
    rows.hut.push({ name: `hut${h}` });
    expected.push(`hut${h}`);
    for (const charges of guests) {
      const stay = rows.stay.push({ in: h + 1, guest: `stay${rows.stay.length}` });
      expected.push(`stay${stay - 1}`);
      for (let i = 0; i < charges; i++) {
        expected.push(`charge${rows.charge.length}`);
        rows.charge.push({ in: stay, kind: `charge${rows.charge.length}` });
      }
    }
  });
  return { rows, expected };
};

it('on any report: every row once and in order, nothing outside the page, no bands over one another', async () => {
  await fc.assert(
    fc.asyncProperty(bands, family, async (b, huts) => {
      const report = reportOf(b);
      const { rows, expected } = rowsOf(huts);
      const { text, pages, result } = await lay(report, rows);
      expect(text.flat().filter((w) => /^(hut|stay|charge)\d/.test(w))).toEqual(expected);
      expect(result.rows).toBe(expected.length);
      if (b.pageFooter !== null)
        expect(text.map((words) => words.at(-1))).toEqual(pages.map((p) => `end of ${p.number} of ${pages.length}`));
      for (const page of pages) {
        const body = { top: 15 * POINTS, bottom: page.height - 15 * POINTS };
        const regions = page.marks.filter((m): m is RegionMark => m.kind === 'region').sort((p, q) => p.y - q.y);
        for (const [i, region] of regions.entries()) {
          expect(region.y).toBeGreaterThanOrEqual(body.top - 0.01);
          expect(region.y + region.height).toBeLessThanOrEqual(body.bottom + 0.01);
          const before = regions[i - 1];
          if (before) expect(region.y).toBeGreaterThanOrEqual(before.y + before.height - 0.01);
        }
        for (const mark of page.marks) {
          expect(mark.x).toBeGreaterThanOrEqual(0);
          expect(mark.y).toBeLessThanOrEqual(page.height);
        }
      }
    }),
    { numRuns: 120, seed: 20_260_701 },
  );
});

const looks = fc.record({
  group: fc.constantFrom(null, 'letter', 'value'),
  keepGroup: fc.boolean(),
  everyPage: fc.boolean(),
  keepWith: fc.integer({ min: 0, max: 4 }),
  keepRow: fc.boolean(),
  keepWhole: fc.boolean(),
  columns: fc.constantFrom(null, { count: 2, gap: 4, order: 'across' }, { count: 3, gap: 2, order: 'down' }),
  beside: fc.boolean(),
  atBottom: fc.boolean(),
  cut: fc.boolean(),
  breakTo: fc.constantFrom(null, 'odd', 'even'),
  detail: fc.integer({ min: 4, max: 120 }),
  inner: fc.integer({ min: 4, max: 100 }),
  words: fc.integer({ min: 1, max: 120 }),
});

it('on any report with groups, keeps, columns and drawers side by side: the same', async () => {
  await fc.assert(
    fc.asyncProperty(looks, family, async (l, huts) => {
      const inner = (id: string, x: number, filter: string) => ({
        id,
        name: id,
        rows: { relation: 'stays' },
        filter,
        ...(l.keepWhole ? { keepWhole: true } : {}),
        ...(l.beside ? { beside: { x, width: 40 } } : {}),
        header: { ...band(8, field(`${id}h`, '"caption"', { width: 40 })), everyPage: l.everyPage },
        detail: { ...band(l.inner, field(`${id}d`, 'guest', { width: 40 })), keepWhole: !l.cut },
      });
      const report = definition({
        pageHeader: band(8, field('ph', '"page " & page.number')),
        body: [
          {
            id: 'huts',
            name: 'hut',
            rows: { entity: 'hut' },
            ...(l.keepRow ? { keepRow: true } : {}),
            ...(l.columns ? { columns: l.columns } : {}),
            header: { ...band(10, field('cap', '"huts"', { width: 40 })), keepWith: l.keepWith },
            ...(l.group
              ? {
                  groups: [
                    {
                      name: 'g',
                      by: 'name',
                      per: l.group,
                      keepWhole: l.keepGroup,
                      header: {
                        ...band(9, field('gh', '"group " & COUNT(hut)', { width: 40 })),
                        everyPage: l.everyPage,
                        pageBreak: 'between',
                        ...(l.breakTo ? { breakTo: l.breakTo } : {}),
                      },
                      footer: { ...band(7, field('gf', '"end of group"', { width: 40 })), atBottom: l.atBottom },
                    },
                  ],
                }
              : {}),
            detail: {
              ...band(
                l.detail,
                field('h', 'name', { width: 40 }),
                field('w', `REPT("word ", ${l.words})`, { y: 5, width: 40 }),
              ),
              keepWhole: !l.cut,
            },
            drawers: [inner('left', 0, 'MOD(LEN(guest); 2) = 0'), inner('right', 44, 'MOD(LEN(guest); 2) = 1')],
          },
        ],
      });
      const { rows, expected } = rowsOf(huts);
      const { text, pages, result } = await lay(report, rows);
      expect(result.problems).toEqual([]);
      const seen = text.flat().filter((w) => /^(hut|stay)\d/.test(w));
      expect([...seen].sort()).toEqual(expected.filter((w) => !w.startsWith('charge')).sort());
      expect(text.flat().join(' ').match(/word/g)?.length).toBe(l.words * huts.length);
      for (const page of pages) {
        const bottom = page.height - 15 * POINTS;
        const marks = page.marks.filter((m): m is RegionMark => m.kind === 'region');
        for (const [i, mark] of marks.entries()) {
          expect(mark.x).toBeGreaterThanOrEqual(15 * POINTS - 0.01);
          expect(mark.y).toBeGreaterThanOrEqual(15 * POINTS - 0.01);
          expect(mark.y + mark.height).toBeLessThanOrEqual(bottom + 0.01);
          for (const other of marks.slice(i + 1)) {
            const across = Math.min(mark.x + 40, other.x + 40) - Math.max(mark.x, other.x);
            const down = Math.min(mark.y + mark.height, other.y + other.height) - Math.max(mark.y, other.y);
            if (across > 0.01) expect(down).toBeLessThanOrEqual(0.01);
          }
        }
      }
    }),
    { numRuns: 150, seed: 20_260_705, endOnFailure: true },
  );
}, 120_000);
