import { expect, it } from 'vitest';
import { band, definition, field, lay, type Rows, words } from '../layout/huts.test-support.ts';
import type { Page } from './page.ts';
import { readablePage } from './readable.ts';
import { pageToSvg } from './svg.ts';

const report = definition({
  header: band(12, words('title', 'Huts', 0, { outline: 1 })),
  pageFooter: band(6, words('foot', 'Cumeeira', 0)),
  body: [
    {
      id: 'huts',
      name: 'hut',
      rows: { entity: 'hut' },
      header: { ...band(6, words('c1', 'Hut', 0), words('c2', 'Number', 40)), everyPage: true },
      detail: band(6, field('name', 'name', { width: 30 }), field('id', 'id', { x: 40, width: 30 })),
      footer: band(8, field('all', '"In all: " & COUNT(hut)')),
    },
  ],
});
const rows = (count: number): Rows => ({
  hut: Array.from({ length: count }, (_, i) => ({ id: i + 1, name: `hut <${i + 1}>` })),
});

const html = (page: Page): string => readablePage(page, (hash) => hash);
const roles = (svg: string): string[] => [...svg.matchAll(/role="(\w+)"/g)].map(([, role]) => role!);

it('rows under captions are a table to those who have a page read, and headings have their level', async () => {
  const { pages } = await lay(report, rows(2));
  const svg = html(pages[0]!);
  expect(svg).toMatch(/role="heading" aria-level="2"[^>]*>Huts</);
  expect(roles(svg)).toEqual([
    'heading',
    'table',
    ...['row', 'columnheader', 'columnheader'],
    ...['row', 'cell', 'cell'],
    ...['row', 'cell', 'cell'],
  ]);
  expect(svg).toMatch(/aria-hidden="true"[^>]*>Cumeeira</);
});

it('goes on as a table on the next page, where captions are read no more', async () => {
  const { pages } = await lay(report, rows(60));
  const svg = html(pages[1]!);
  expect(roles(svg).filter((role) => role === 'table')).toHaveLength(1);
  expect(roles(svg)).not.toContain('columnheader');
  expect(svg).toMatch(/aria-hidden="true"[^>]*>Number</);
});

it('shows what a page shows, mark by mark in the same order', async () => {
  const { pages } = await lay(report, rows(60));
  const plain = (svg: string): string =>
    svg.replace(/<\/?g( role="\w+")?>/g, '').replace(/ (role="heading" aria-level="\d"|aria-hidden="true")/g, '');
  for (const page of pages) expect(plain(html(page))).toBe(plain(pageToSvg(page, (hash) => hash)));
});
