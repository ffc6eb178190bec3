import { describe, expect, it } from 'vitest';
import type { Report } from '../definition/schema.ts';
import type { Mark, Page } from '../page/page.ts';
import { band, definition, field, lay, layPlan, nest, plan, type Rows, words } from './huts.test-support.ts';

const ROWS: Rows = {
  hut: [
    { id: 1, name: 'Lago' },
    { id: 2, name: 'Sino' },
    { id: 3, name: 'Brecha do Norte' },
  ],
};

/** A report that also speaks British English, whose pages are the other way round. */
const twoWays = (json: Record<string, unknown>): Report =>
  definition({
    page: { margins: { top: 10, right: 12, bottom: 10, left: 30 } },
    translations: [{ language: 'en-GB', texts: {}, mirrored: true }],
    ...json,
  });

/** Texts, frames and links, from top to bottom and from left to right. */
const placesOf = (pages: readonly Page[], turned: boolean): string[] =>
  pages.flatMap(({ width: paper, number, marks }) =>
    marks
      .flatMap((mark): string[] => {
        const extent = extentOf(mark);
        if (!extent) return [];
        const [x, width] = turned ? [paper - extent[0] - extent[1], extent[1]] : extent;
        const what = mark.kind === 'text' ? mark.text : mark.kind;
        return [`${number} ${mark.y.toFixed(1)} ${x.toFixed(1)} ${width.toFixed(1)} ${what}`];
      })
      .sort(),
  );

const extentOf = (mark: Mark): [number, number] | null => {
  if (mark.kind === 'text' || mark.kind === 'rectangle' || mark.kind === 'link' || mark.kind === 'fold')
    return [mark.x, mark.width];
  if (mark.kind === 'line') return [Math.min(mark.x, mark.x2), Math.abs(mark.x2 - mark.x)];
  return null;
};

/** Both ways of a report hold one another: each thing stands as far from the right as it stood from the left. */
const holds = async (report: Report, nested: Record<string, Report> = {}): Promise<void> => {
  const usual = await lay(report, ROWS, nested);
  const turned = await layPlan(plan(report, nested, 'en-GB'), ROWS);
  const places = placesOf(turned.pages, false);
  expect(places).toEqual(placesOf(usual.pages, true));
  expect(places.length).toBeGreaterThan(2);
  expect(places.join()).not.toContain('#');
};

const huts = (more: Record<string, unknown>): Record<string, unknown> => ({
  body: [{ id: 'huts', name: 'hut', rows: { entity: 'hut' }, ...more }],
});

describe('pages of a language that is read from right to left', () => {
  it('begin at the right: margins, texts, frames and what is aligned', async () => {
    await holds(
      twoWays({
        pageHeader: band(8, words('title', 'Huts', 0), words('number', 'a', 100, { look: { align: 'right' } })),
        pageFooter: band(8, {
          ...field('page', 'page.number', { x: 40 }),
          look: { padding: { left: 4, right: 1 }, border: { left: { width: 0.5 } } },
        }),
        ...huts({
          detail: band(
            9,
            field('name', 'name', { x: 5, width: 40, indent: 'id * 3' }),
            field('thousands', 'id * 1000', { x: 60, width: 30, look: { align: 'right' }, formulas: { x: '60 + id' } }),
            { kind: 'line', id: 'rule', x: 10, y: 8, width: 20, height: 0 },
            { kind: 'rectangle', id: 'frame', x: 100, y: 0, width: 7, height: 5, stroke: '#112233' },
          ),
        }),
      }),
    );
  });

  it('fill columns from the right, across and down', async () => {
    for (const order of ['across', 'down'])
      await holds(
        twoWays(huts({ columns: { count: 2, gap: 5, order }, detail: band(6, field('n', 'name', { x: 3 })) })),
      );
  });

  it('have the parts of crosstabs and panels in the other order', async () => {
    await holds(
      twoWays({
        header: band(30, {
          kind: 'crosstab',
          id: 'cross',
          ...{ x: 10, y: 0, width: 120, height: 20 },
          rows: { entity: 'hut' },
          down: [{ name: 'hut', by: 'name' }],
          across: [{ name: 'high', by: 'id > 1' }],
          cells: [{ formula: 'SUM(id)' }],
        }),
        footer: band(
          20,
          { kind: 'panel', id: 'row', ...{ x: 5, y: 0, width: 100, height: 12 }, stack: 'row', fill: '#eeeeee' },
          words('first', 'first', 8, { y: 3, width: 20 }),
          words('second', 'second', 40, { y: 3, width: 30 }),
        ),
        ...huts({ detail: band(6, field('n', 'name', {})) }),
      }),
    );
  });

  it('hold what stands beside something else, and reports inside them that speak the language too', async () => {
    const inner = twoWays(huts({ detail: band(6, field('n', 'name', { x: 12 })) }));
    await holds(
      twoWays({
        header: band(10, nest('inner', { x: 20, width: 90 })),
        ...huts({ detail: band(6, field('n', 'name', {})) }),
      }),
      {
        inner,
      },
    );
    const set = (id: string, x: number, width: number) => ({
      ...{ id, name: id, rows: { entity: 'hut' }, beside: { x, width } },
      detail: band(6, field(`${id}-n`, 'name', { x: 2 })),
    });
    await holds(twoWays({ body: [set('one', 0, 60), set('two', 70, 80)] }));
  });
});
