import { describe, expect, it } from 'vitest';
import type { TextMark } from '../page/page.ts';
import { band, definition, field, lay, type Rows } from './huts.test-support.ts';

const rows = (count: number): Rows => ({
  hut: Array.from({ length: count }, (_, i) => ({ id: i + 1, name: `h${i + 1}` })),
});
const report = (more: Record<string, unknown> = {}) =>
  definition({
    pageHeader: band(10, field('ph', '"Huts of the north"')),
    pageFooter: band(8, field('pf', '"Page " & PAGENUMBER()')),
    body: [
      {
        id: 'huts',
        name: 'hut',
        rows: { entity: 'hut' },
        header: { ...band(6, field('c', '"caption"')), everyPage: true },
        detail: band(20, field('h', 'name')),
        footer: { ...band(10, field('t', '"total " & COUNT(id)')), atBottom: true },
        ...more,
      },
    ],
  });

describe('one long page without breaks', () => {
  it('has every row once and in order, and what stands on every page once', async () => {
    const { pages } = await lay(report(), rows(200), {}, { form: 'long' });
    const texts = pages.flatMap(({ marks }) => marks.filter((m): m is TextMark => m.kind === 'text'));
    const expected = ['Huts of the north', 'caption', ...rows(200).hut!.map((hut) => hut.name), 'total 200'];
    expect(texts.map(({ text }) => text)).toEqual(expected);
  });

  it('is made of strips as high as what is on them, without a gap', async () => {
    const { pages } = await lay(report(), rows(200), {}, { form: 'long' });
    expect(pages.length).toBeGreaterThan(2);
    let above = 0;
    const tops: number[] = [];
    for (const { marks, height } of pages) {
      for (const mark of marks) if (mark.kind === 'region' && mark.band.endsWith('detail')) tops.push(above + mark.y);
      above += height;
    }
    const steps = tops.slice(1).map((top, i) => top - tops[i]!);
    expect(new Set(steps.map((step) => step.toFixed(6))).size).toBe(1);
  });

  it('passes over page breaks, and restarts of numbers', async () => {
    const broken = report({
      detail: { ...band(20, field('h', 'name')), pageBreak: 'before', restartPages: true },
      keepWhole: true,
    });
    const { pages } = await lay(broken, rows(12), {}, { form: 'long' });
    expect(pages).toHaveLength(1);
    expect(pages[0]!.partNumber).toBeUndefined();
  });
});
