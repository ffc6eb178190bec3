import type { Mark, Page, RegionMark } from '@gaveta/core/internal';
import { XMLValidator } from 'fast-xml-parser';
import { strFromU8, unzipSync } from 'fflate';
import { expect, it } from 'vitest';
import { loadEquipment } from '../equipment.ts';
import { textMark as text } from '../marks.test-support.ts';
import { collecting } from '../sink.test-support.ts';

const equipment = await loadEquipment();

const PIXEL = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAIAAACQd1PeAAAADElEQVR4nGNgYGAAAAAEAAH2FzhVAAAAAElFTkSuQmCC';

/** `widths`: of pages, where they are not 400 points wide. */
const slides = async (pages: Mark[][], options: Record<string, unknown> = {}, widths: number[] = []) => {
  const output = equipment.output('pptx');
  if (output?.takes !== 'pages') throw new Error('no output');
  const { sink, bytes } = collecting();
  const run = {
    title: 'Huts & more',
    language: 'en',
    author: 'Inês',
    book: await equipment.book(),
    pages: (async function* (): AsyncGenerator<Page> {
      for (const [i, marks] of pages.entries()) yield { number: i + 1, width: widths[i] ?? 400, height: 300, marks };
    })(),
    late: () => [],
    pictures: async () => Buffer.from(PIXEL, 'base64'),
    options,
  };
  await output.write(run, sink, new AbortController().signal);
  const parts = Object.entries(unzipSync(bytes()));
  const held = new Map(parts.map(([name, data]) => [name, strFromU8(data)]));
  for (const [name, xml] of held) if (/xml|rels$/.test(name)) expect(XMLValidator.validate(xml), name).toBe(true);
  return held;
};

const rows: Mark[] = [
  text('title', 'Huts', 10, 20),
  text('c1', 'Guest', 10, 40, { as: 'header' }),
  text('c2', 'Nights', 180, 40, { as: 'header' }),
  { kind: 'region', band: 's/header', rows: '', x: 0, y: 30, width: 400, height: 14 },
  text('guest', 'Rui <a> & b', 10, 54),
  text('nights', '4', 205, 54),
  { kind: 'region', band: 's/detail', rows: 'stay:1', x: 0, y: 44, width: 400, height: 14 },
];

it('is a slide for each page, with tables and texts that can be changed', async () => {
  const held = await slides([rows, [text('a', 'again\u0000', 10, 20)]]);
  const slide = held.get('ppt/slides/slide1.xml')!;
  expect(slide.match(/<a:tr /g)).toHaveLength(2);
  expect([...slide.matchAll(/<a:t>([^<]*)</g)].map(([, words]) => words)).toEqual([
    'Guest',
    'Nights',
    'Rui &lt;a&gt; &amp; b',
    '4',
    'Huts',
  ]);
  expect(held.get('ppt/slides/slide2.xml')).toContain('<a:t>again\uFFFD</a:t>');
  expect(held.get('ppt/presentation.xml')).toContain('<p:sldSz cx="5080000" cy="3810000"/>');
  expect(held.get('docProps/core.xml')).toContain('<dc:creator>Inês<');
});

it('has each text by itself where no tables are wanted, and only the pages that are', async () => {
  const held = await slides([[], rows], { tables: false, from: 2 });
  expect([...held.keys()].filter((name) => name.startsWith('ppt/slides/slide'))).toEqual(['ppt/slides/slide1.xml']);
  const slide = held.get('ppt/slides/slide1.xml')!;
  expect(slide).not.toContain('<a:tbl>');
  expect(slide.match(/txBox="1"/g)).toHaveLength(5);
});

it('shows pictures, and charts as drawings with a picture beside, by their words', async () => {
  const marks: Mark[] = [
    {
      kind: 'picture',
      x: 10,
      y: 10,
      width: 40,
      height: 30,
      picture: 'x',
      alternative: 'A “hut”',
      window: { x: 10, y: 0, width: 20, height: 30 },
    },
    { kind: 'figure', item: 'c', x: 60, y: 10, width: 90, height: 40, alternative: 'Nights', table: [] },
    { kind: 'rectangle', item: 'c', x: 70, y: 15, width: 5, height: 20, fill: '#1f5c4d', as: 'drawing' },
    text('up', 'up', 20, 100, { turn: -90 }),
    { kind: 'line', x: 10, y: 200, x2: 90, y2: 200, color: '#1f2a2e', thickness: 1 },
  ];
  const held = await slides([marks]);
  const slide = held.get('ppt/slides/slide1.xml')!;
  expect(slide).toContain('descr="A “hut”"');
  expect(slide).toContain('<a:srcRect l="25000" t="0" r="25000" b="0"/>');
  expect(slide).toContain('descr="Nights"');
  expect(slide).toContain('rot="16200000"');
  expect([...held.keys()].filter((name) => name.startsWith('ppt/media')).sort()).toEqual([
    'ppt/media/picture1.png',
    'ppt/media/picture2.png',
    'ppt/media/picture3.svg',
  ]);
});

const band = (words: string, y: number, more: object = {}): Mark[] => [
  text(words, words, 10, y + 10, more),
  { kind: 'region', band: 's/detail', rows: words, x: 0, y, width: 400, height: 30 },
];
const beginning = ([words, region]: Mark[]): Mark[] => [words!, { ...(region as RegionMark), begins: true }];

it('begins a slide with each of the outermost groups, and goes on where there is room', async () => {
  const footer = text('page', 'Foot', 10, 280, { as: 'artifact' });
  const pages = [
    [text('head', 'Head', 10, 12, { as: 'artifact' }), ...band('Title', 30), footer],
    [
      ...beginning(band('North', 30)),
      ...band('Brecha', 60),
      ...beginning(band('South', 90)),
      ...band('Urze', 230),
      footer,
    ],
    [...band('Captions', 30, { as: 'artifact' }), ...band('Lagoa', 60), ...band('Cova', 120), footer],
    [text('rest', 'Rest', 10, 60), footer],
  ];
  const held = await slides(pages, { slides: 'groups', tables: false });
  const words = [...held]
    .filter(([name]) => /slides\/slide\d+\.xml$/.test(name))
    .map(([, xml]) => [...xml.matchAll(/<a:t>([^<]*)</g)].map(([, said]) => said));
  expect(words).toEqual([
    ['Head', 'Title', 'Foot'],
    ['North', 'Brecha', 'Foot'],
    ['South', 'Urze', 'Lagoa', 'Foot'],
    ['Cova', 'Foot'],
    ['Rest', 'Foot'],
  ]);
});

it('makes a page smaller that is larger than the first, since all slides have one size', async () => {
  const wide = [text('wide', 'Wide', 700, 20, { size: 10 }), ...rows];
  const held = await slides([[text('a', 'First', 10, 20)], wide], {}, [400, 800]);
  expect(held.get('ppt/presentation.xml')).toContain('<p:sldSz cx="5080000" cy="3810000"/>');
  const [box] = held.get('ppt/slides/slide2.xml')!.split('<a:t>Wide<')[0]!.split('<p:sp>').slice(-1);
  expect(box).toContain('sz="500"');
  expect(box).toContain(`<a:off x="${350 * 12_700}"`);
});
