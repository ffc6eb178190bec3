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
    body: {
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
