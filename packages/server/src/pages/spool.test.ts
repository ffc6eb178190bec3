import { findOnPage, type Page } from '@gaveta/core/internal';
import { describe, expect, it } from 'vitest';
import { writeWords } from './page-words.ts';
import { PageSpool, writePage } from './spool.ts';

const page = (number: number, late = false): Page => ({
  number,
  width: 595,
  height: 842,
  marks: [
    {
      kind: 'text',
      x: 1,
      y: 2,
      text: `página ${number} يوسف`,
      font: 'Source Sans 3/400',
      size: 9,
      color: '#000000',
      width: 20,
    },
  ],
  ...(late ? { late: true as const } : {}),
});

const add = (spool: PageSpool, ...pages: Page[]): Promise<void> => {
  const written = pages.map(writePage);
  const words = pages.map(writeWords);
  const headers = pages.map(({ width, height, late = false }, i) => ({
    length: written[i]!.length,
    words: words[i]!.length,
    width,
    height,
    late,
  }));
  return spool.add(Buffer.concat(written), Buffer.concat(words), headers);
};

const read = async (spool: PageSpool, number: number): Promise<Page | null> => {
  const written = await spool.page(number);
  return written && (JSON.parse(written.toString()) as Page);
};

it('gives pages back in any order, while more are being added', async () => {
  const spool = await PageSpool.open();
  for (let n = 1; n <= 30; n++) {
    await add(spool, page(n));
    expect(await read(spool, Math.ceil(n / 2))).toEqual(page(Math.ceil(n / 2)));
  }
  expect(spool.count).toBe(30);
  expect(await read(spool, 31)).toBeNull();
  expect(await read(spool, 0)).toBeNull();
  await spool.close();
});

it('adds what waited for the number of pages once it is known', async () => {
  const spool = await PageSpool.open();
  await add(spool, page(1, true), { ...page(2, true), marks: [] }, { ...page(3), late: true });
  expect(await read(spool, 1)).toEqual(page(1, true));
  const [mark] = page(9).marks;
  spool.fill([{ page: 1, marks: [mark!] }]);
  const filled = await read(spool, 1);
  expect(filled!.marks.map((m) => m.kind === 'text' && m.text)).toEqual(['página 1 يوسف', 'página 9 يوسف']);
  expect(filled!.late).toBeUndefined();
  // A page with nothing else on it, and one to which nothing comes after all.
  spool.fill([
    { page: 2, marks: [mark!, mark!] },
    { page: 3, marks: [] },
  ]);
  expect((await read(spool, 2))!.marks).toEqual([mark, mark]);
  expect(await read(spool, 3)).toEqual(page(3));
  await spool.close();
});

it('begins with the pages of another one, without what waited there, and keeps the notes of its own run', async () => {
  const before = await PageSpool.open();
  await before.add(Buffer.alloc(0), Buffer.alloc(0), [], [{ hash: 'early', data: Buffer.from('png') }]);
  await add(before, page(1, true), page(2));
  await before.add(Buffer.alloc(0), Buffer.alloc(0), [], [{ hash: 'late', data: Buffer.from('jpg') }]);
  await add(before, page(3));
  before.fill([{ page: 1, marks: page(9).marks }]);
  await before.keepTrace(Buffer.from('notes'));
  const spool = await PageSpool.open();
  await spool.take(before, 2);
  await add(spool, page(4));
  expect([spool.count, await read(spool, 2), await read(spool, 3)]).toEqual([3, page(2), page(4)]);
  // The number of pages is another one, and comes with the end of the run.
  expect(await read(spool, 1)).toEqual(page(1, true));
  expect([String(await spool.picture('early')), await spool.picture('late')]).toEqual(['png', null]);
  expect([String(await before.trace()), await spool.trace()]).toEqual(['notes', null]);
  await expect(spool.take(before, 1)).rejects.toThrow('taken first');
  await before.close();
  expect(await read(spool, 2)).toEqual(page(2));
  await spool.close();
});

describe('words that are looked for', () => {
  const saying = (number: number, ...texts: string[]): Page => ({
    ...page(number),
    marks: texts.map((text) => ({ ...page(number).marks[0]!, text })) as Page['marks'],
  });

  it('are found on all pages so far, and in what came late, also where pages were taken from another run', async () => {
    const before = await PageSpool.open();
    await add(before, saying(1, 'Três Irmãos', 'nights'), saying(2), saying(3, 'tres', 'irmaos, TRÊS IRMÃOS'));
    before.fill([
      { page: 1, marks: saying(1, 'Page 1 of 3').marks },
      { page: 2, marks: saying(2, 'Page 2 of 3').marks },
    ]);
    expect(await before.find('tres irmaos')).toEqual([
      [1, 1],
      [3, 2],
    ]);
    expect([await before.find('OF 3'), await before.find('nights page 1')]).toEqual([
      [
        [1, 1],
        [2, 1],
      ],
      [[1, 1]],
    ]);
    expect([await before.find('nowhere'), await before.find('  '), await before.find('3 tres')]).toEqual([[], [], []]);
    const spool = await PageSpool.open();
    await spool.take(before, 2);
    await add(spool, saying(3, 'three brothers, Três Irmãos'));
    expect([await spool.find('irmãos'), await spool.find('of 3')]).toEqual([
      [
        [1, 1],
        [3, 1],
      ],
      [],
    ]);
    await before.close();
    await spool.close();
    expect(await spool.find('irmãos')).toBeNull();
  });

  it('are as many as on the pages as they are read, however many pages there are', async () => {
    const spool = await PageSpool.open();
    const words = ['hut', 'Refúgio', 'refugio do Corvo', 'ﬁrewood', 'night', 'x'.repeat(5000)];
    const pages = Array.from({ length: 600 }, (_, i) =>
      saying(i + 1, ...Array.from({ length: 4 }, (_, j) => words[(i * 7 + j * j * 5) % words.length]!)),
    );
    await add(spool, ...pages);
    spool.fill(pages.slice(0, 300).map(({ number }) => ({ page: number, marks: saying(number, 'hut of late').marks })));
    for (const sought of ['HUT', 'refúgio', 'fire', 'night hut', 'x'.repeat(200)]) {
      const found = await spool.find(sought);
      const wanted: [number, number][] = [];
      for (let number = 1; number <= 600; number++) {
        const count = findOnPage((await read(spool, number))!, sought).length;
        if (count > 0) wanted.push([number, count]);
      }
      expect(found, sought).toEqual(wanted);
      expect(wanted.length, sought).toBeGreaterThan(20);
    }
    await spool.close();
  });
});
