import { createWriteStream, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { LateFill, Mark, Page } from '@gaveta/core/internal';
import { afterAll, describe, expect, it } from 'vitest';
import { loadShippedFonts } from '../../equipment.ts';
import { textMark as text } from '../../marks.test-support.ts';
import { checkConformance } from '../conformance.test-support.ts';
import { createPdfWriter } from '../pdf.ts';

const folder = mkdtempSync(join(tmpdir(), 'gaveta-structure-'));
const book = await loadShippedFonts();
afterAll(() => rmSync(folder, { recursive: true }));

const region = (band: string, rows: string, y: number, height = 14): Mark => ({
  kind: 'region',
  band,
  rows,
  x: 0,
  y,
  width: 400,
  height,
});
const caption = { as: 'header' };

let files = 0;
const written = async (pages: readonly Mark[][], late: LateFill[] = [], tagged = true) => {
  const file = join(folder, `${files++}.pdf`);
  const writer = createPdfWriter(createWriteStream(file), book, { title: 'Huts', tagged });
  for (const [i, marks] of pages.entries()) {
    const page: Page = { number: i + 1, width: 400, height: 300, marks: [...marks] };
    await writer.page(late.some((fill) => fill.page === i + 1) ? { ...page, late: true } : page);
  }
  await writer.end(late);
  return checkConformance(file);
};
const said = async (...pages: Mark[][]): Promise<string[]> => {
  const { complaints, read } = await written(pages);
  expect(complaints).toEqual([]);
  return read.map(({ type, text: words }) => `${type} ${words}`);
};

const stay = (i: number, y: number, more: Mark[] = []): Mark[] => [
  text('guest', `guest ${i}`, 10, y + 10),
  text('nights', `${i}`, 200, y + 10),
  ...more,
  region('s/detail', `hut:1/stay:${i}`, y),
];

describe('a table', () => {
  it('has the captions of its drawer as headers, and rows of the drawer and those in it, on further pages as well', async () => {
    const first = [
      text('cGuest', 'Guest', 10, 10, caption),
      text('cNights', 'Nights', 180, 10, caption),
      region('s/header', 'hut:1', 0),
      ...stay(1, 14),
      ...stay(2, 28),
    ];
    const second = [
      text('cGuest', 'Guest', 10, 10, { as: 'artifact' }),
      ...stay(3, 14),
      text('sum', '6', 198, 38),
      region('s/footer', 'hut:1', 28),
      text('after', 'The end', 10, 60),
      region('h/footer', '', 50),
    ];
    expect(await said(first, second)).toEqual([
      'TH Guest',
      'TH Nights',
      'TD guest 1',
      'TD 1',
      'TD guest 2',
      'TD 2',
      'TD guest 3',
      'TD 3',
      'TD 6',
      'P The end',
    ]);
  });

  it('has columns that no caption stands over, and a text alone over all of them', async () => {
    const marks = [
      text('cGuest', 'Guest', 30, 10, caption),
      text('cNights', 'Nights', 180, 10, caption),
      region('s/header', '', 0),
      text('no', '1', 10, 24),
      text('guest', 'Rui', 30, 24),
      text('nights', '4', 200, 24),
      region('s/detail', 'stay:1', 14),
      text('group', 'June', 10, 38),
      region('s/g/header', 'stay:2', 28),
    ];
    expect(await said(marks)).toEqual(['TH Guest', 'TH Nights', 'TD 1', 'TD Rui', 'TD 4', 'TD June']);
  });

  it('is none where nothing follows the captions, or what follows is of another drawer', async () => {
    const captions = [
      text('a', 'Guest', 10, 10, caption),
      text('b', 'Nights', 200, 10, caption),
      region('s/header', '', 0),
    ];
    expect(await said(captions)).toEqual(['P Guest', 'P Nights']);
    const other = [text('x', 'Ana', 10, 40), text('y', 'warden', 200, 40), region('w/detail', 'warden:1', 30)];
    expect(await said([...captions, ...other])).toEqual(['P Guest', 'P Nights', 'P Ana warden']);
  });

  it('has cells of a crosstab in the columns that they say', async () => {
    const cell = (words: string, column: number, y: number, part: number, more: object = {}) =>
      text('cross', words, 10 + column * 60, y, { column, part, ...more });
    const marks = [
      cell('2025', 1, 10, 0, caption),
      cell('Hut', 0, 24, 1, caption),
      cell('Jun', 1, 24, 2, caption),
      cell('Jul', 2, 24, 3, caption),
      cell('Alminhas', 0, 40, 0, caption),
      cell('7', 2, 40, 1),
    ];
    expect(await said(marks)).toEqual(['TH 2025', 'TH Hut', 'TH Jun', 'TH Jul', 'TH Alminhas', 'TD 7']);
  });
});

it('has headings without gaps, lists, figures in words, and links by what they lie over', async () => {
  const marks: Mark[] = [
    text('title', 'Huts', 10, 20, { as: 'heading' }),
    { kind: 'outline', item: 'title', level: 3, title: 'Huts', x: 10, y: 10 },
    text('f', 'Water', 10, 40, { as: 'heading', part: 0, level: 2 }),
    text('f', 'cold', 20, 55, { as: 'item', part: 1 }),
    text('f', '•', 12, 55, { as: 'label', part: 2 }),
    text('map', 'See the map', 10, 75),
    { kind: 'link', item: 'map', x: 10, y: 65, width: 60, height: 14, to: { address: 'https://b.example/' } },
    { kind: 'figure', item: 'chart', x: 10, y: 90, width: 90, height: 40, alternative: 'Nights by month', table: [] },
    { kind: 'rectangle', item: 'chart', x: 20, y: 95, width: 5, height: 20, fill: '#1f5c4d', as: 'drawing' },
    text('chart', 'July', 20, 125, { as: 'drawing' }),
    region('h/detail', 'hut:1', 0, 140),
  ];
  expect(await said(marks)).toEqual(['H1 Huts', 'H2 Water', 'Lbl •', 'LBody cold', 'Link See the map', 'Figure July']);
});

it('reads words that come late in their place', async () => {
  const slot: Mark = { kind: 'slot', item: 'of', x: 10, y: 10, width: 0, height: 14 };
  const marks = [slot, text('name', 'Alminhas', 10, 40), region('h/detail', 'hut:1', 0, 50)];
  const late = text('of', 'of 12', 10, 20);
  const { complaints, read } = await written([marks], [{ page: 1, marks: [late] }]);
  expect(complaints).toEqual([]);
  expect(read.map(({ text: words }) => words)).toEqual(['of 12', 'Alminhas']);
  expect(await said([...marks, late])).toEqual(['P of 12', 'P Alminhas']);
  expect((await written([marks], [{ page: 1, marks: [] }])).complaints).toEqual([]);
});

it('says signs that no font has, and names no rule that a file without tags keeps', async () => {
  const marks = [
    text('a', 'a\u0007b', 10, 20),
    text('b', 'up', 10, 60, { turn: -90 }),
    region('h/detail', 'hut:1', 0, 80),
  ];
  expect(await said(marks)).toEqual(['P a\u0007b', 'P up']);
  const { complaints } = await written([marks], [], false);
  expect(complaints).toEqual(
    expect.arrayContaining(['is marked', 'has everything marked, or as decoration', 'says PDF/UA-1', 'has a tree']),
  );
});

it('tags thousands of rows on many pages, in streams of objects that another program reads', async () => {
  const caps = [text('cGuest', 'Guest', 10, 10, caption), text('cNights', 'Nights', 180, 10, caption)];
  const pages = Array.from({ length: 60 }, (_, at): Mark[] => [
    ...(at === 0 ? [...caps, region('s/header', 'hut:1', 0)] : []),
    ...Array.from({ length: 40 }, (__, i) => stay(at * 40 + i + 1, 14 + i * 14)).flat(),
  ]);
  const { complaints, read } = await written(pages);
  expect(complaints).toEqual([]);
  expect(read.slice(2).map(({ text: words }) => words)).toEqual(
    Array.from({ length: 2400 }, (_, i) => [`guest ${i + 1}`, `${i + 1}`]).flat(),
  );
  expect(read.slice(2).every(({ type }) => type === 'TD')).toBe(true);
});

it('tags a band that has other texts than the one before it, and then one as before', async () => {
  const captions = [
    text('cGuest', 'Guest', 10, 10, caption),
    text('cNights', 'Nights', 180, 10, caption),
    region('s/header', 'hut:1', 0),
  ];
  const marks = [
    ...captions,
    ...stay(1, 14),
    ...stay(2, 28),
    text('nights', '3', 200, 52),
    region('s/detail', 'hut:1/stay:3', 42),
    ...stay(4, 56, [text('nights', 'more', 200, 80)]),
    ...stay(5, 84),
  ];
  expect(await said(marks)).toEqual([
    'TH Guest',
    'TH Nights',
    ...['TD guest 1', 'TD 1', 'TD guest 2', 'TD 2', 'TD 3', 'TD guest 4', 'TD 4more', 'TD guest 5', 'TD 5'],
  ]);
});

it('reads texts of one line without captions as one paragraph, with spaces between them', async () => {
  const row = (i: number, y: number): Mark[] => [
    text('kind', 'bunk', 10, y),
    text('count', `${i}`, 120, y),
    text('amount', '2.50', 200, y),
    region('c/detail', `charge:${i}`, y - 10),
  ];
  expect(await said([...row(1, 20), ...row(2, 40)])).toEqual(['P bunk 1 2.50', 'P bunk 2 2.50']);
});
