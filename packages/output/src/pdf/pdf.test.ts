import { execFileSync } from 'node:child_process';
import { createWriteStream, mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import type { LateFill, Mark, Page } from '@gaveta/core/internal';
import sharp from 'sharp';
import { expect, it } from 'vitest';
import { loadShippedFonts } from '../equipment.ts';
import { checkConformance } from './conformance.test-support.ts';
import { createPdfWriter } from './pdf.ts';

const folder = mkdtempSync(join(tmpdir(), 'gaveta-pdf-'));
const book = await loadShippedFonts();

const text = (words: string, y: number, more: object = {}): Mark => ({
  kind: 'text',
  x: 50,
  y,
  text: words,
  font: 'Source Sans 3/400',
  size: 10,
  color: '#1f2a2e',
  width: 100,
  ...more,
});
const page = (number: number, marks: Mark[], more: Partial<Page> = {}): Page => ({
  number,
  width: 300,
  height: 200,
  marks,
  ...more,
});

const write = async (name: string, pages: Page[], late: LateFill[] = []): Promise<string> => {
  const file = join(folder, `${name}.pdf`);
  const writer = createPdfWriter(createWriteStream(file), book, {
    title: 'Ünïcode (title)',
    pictures: async (hash) => PICTURES[hash] ?? null,
  });
  for (const p of pages) await writer.page(p);
  await writer.end(late);
  return file;
};
const read = (file: string): string => execFileSync('pdftotext', ['-layout', file, '-']).toString();
/** A 1 by 1 pixel, black. */
const PIXEL = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAIAAACQd1PeAAAADElEQVR4nGNgYGAAAAAEAAH2FzhVAAAAAElFTkSuQmCC';
const PICTURES: Record<string, Uint8Array> = {
  pixel: Buffer.from(PIXEL, 'base64'),
  broken: Buffer.from('AAAA', 'base64'),
};

it('holds text that can be found, in every script and face', async () => {
  const file = await write('text', [
    page(1, [
      text('Inês Öztürk, Łucja Dvořáková', 40),
      text('bold italic', 60, { font: 'Source Serif 4/700i' }),
      text('يوسف الحداد', 80, { font: 'Noto Sans Arabic/400', rtl: true }),
      text('mono', 100, { font: 'Source Code Pro/400' }),
    ]),
  ]);
  const words = read(file);
  for (const part of ['Inês Öztürk, Łucja Dvořáková', 'bold italic', 'mono']) expect(words).toContain(part);
  // Reading order marks around it are the reader's own.
  expect(words.normalize('NFKC')).toMatch(/يوسف الحداد|دادحلا فسوي/);
  const fonts = execFileSync('pdffonts', [file]).toString();
  expect(fonts.match(/yes yes yes/g)).toHaveLength(4);
});

it('fills in what waited for the number of pages', async () => {
  const pages = [1, 2, 3].map((n) => page(n, [text(`row ${n}`, 40)], { late: true }));
  const late = [1, 3].map((n) => ({ page: n, marks: [text(`Page ${n} of 3`, 180, { font: 'Source Sans 3/700' })] }));
  const words = read(await write('late', pages, late)).split('\f');
  expect(words[0]).toContain('Page 1 of 3');
  expect(words[1]).not.toContain('of 3');
  expect(words[2]).toContain('row 3');
  expect(words[2]).toContain('Page 3 of 3');
});

it('draws lines, rectangles and pictures where the marks say', async () => {
  const file = await write('drawn', [
    page(1, [
      { kind: 'rectangle', x: 0, y: 0, width: 300, height: 100, fill: '#ff0000' },
      { kind: 'rectangle', x: 200, y: 110, width: 80, height: 80, fill: '#0000ff', radius: 40 },
      { kind: 'line', x: 0, y: 150, x2: 100, y2: 150, color: '#00ff00', thickness: 10 },
      {
        kind: 'picture',
        x: 120,
        y: 120,
        width: 40,
        height: 40,
        picture: 'pixel',
        alternative: '',
      },
      {
        kind: 'picture',
        x: 60,
        y: 160,
        width: 30,
        height: 30,
        picture: 'pixel',
        alternative: '',
        window: { x: 0, y: 0, width: 10, height: 30 },
      },
      {
        kind: 'picture',
        x: 0,
        y: 0,
        width: 40,
        height: 40,
        picture: 'broken',
        alternative: 'broken',
      },
    ]),
  ]);
  execFileSync('pdftoppm', ['-r', '72', '-singlefile', file, join(folder, 'drawn')]);
  const ppm = readFileSync(join(folder, 'drawn.ppm'));
  const start = ppm.indexOf('255\n') + 4;
  const pixel = (x: number, y: number): number[] => [
    ...ppm.subarray(start + (y * 300 + x) * 3, start + (y * 300 + x) * 3 + 3),
  ];
  expect(pixel(150, 50)).toEqual([255, 0, 0]);
  expect(pixel(50, 150)).toEqual([0, 255, 0]);
  expect(pixel(140, 140)).toEqual([0, 0, 0]);
  expect(pixel(240, 150)).toEqual([0, 0, 255]);
  expect(pixel(64, 175)).toEqual([0, 0, 0]);
  expect(pixel(85, 175)).toEqual([255, 255, 255]);
  expect(pixel(202, 112)).toEqual([255, 255, 255]);
});

it('tells when the file cannot be written', async () => {
  const target = createWriteStream(join(folder, 'no', 'such', 'folder.pdf'));
  const failed = new Promise((resolve) => target.once('error', resolve));
  const writer = createPdfWriter(target, book, { title: 'x' });
  await failed;
  await expect(writer.page(page(1, []))).rejects.toThrow('ENOENT');
});

it('has links, places that they lead to, and an outline in levels', async () => {
  const link = (to: object, y: number): Mark => ({ kind: 'link', x: 10, y, width: 50, height: 10, to }) as Mark;
  const heading = (level: number, title: string, y: number): Mark => ({ kind: 'outline', x: 0, y, level, title });
  const file = await write('links', [
    page(1, [
      text('one', 20),
      link({ address: 'https://cumeeira.example/a b?x=(1)' }, 20),
      link({ anchor: 'hut 2' }, 40),
      link({ report: 'ledger', parameters: {} }, 60),
      heading(1, 'Região', 10),
      heading(2, 'Hut 1', 20),
    ]),
    page(2, [
      text('two', 20),
      { kind: 'anchor', x: 0, y: 30, name: 'hut 2' },
      heading(2, 'Hut 2', 30),
      heading(1, 'End', 90),
    ]),
  ]);
  const raw = readFileSync(file, 'latin1');
  expect(raw.match(/\/Subtype \/Link/g)?.length).toBe(2);
  expect(raw).toContain('/URI (https://cumeeira.example/a%20b?x=\\(1\\))');
  expect(raw).toContain('/S /GoTo');
  expect(raw).toMatch(/\(hut 2\) \[\d+ 0 R \/XYZ 0 170 null\]/);
  const html = execFileSync('pdftohtml', ['-xml', '-stdout', '-i', file]).toString();
  const outline = html.slice(html.indexOf('<outline>')).replace(/\s+/g, ' ');
  expect(outline).toContain(
    '<item page="1">Região</item> <outline> <item page="1">Hut 1</item> <item page="2">Hut 2</item> </outline> <item page="2">End</item>',
  );
});

it('draws turned, see-through and dashed marks, and goes on as before after them', async () => {
  const file = await write('marks', [
    page(1, [
      text('before', 20),
      text('turned', 60, { turn: -90, opacity: 0.3 }),
      {
        kind: 'rectangle',
        x: 10,
        y: 80,
        width: 40,
        height: 20,
        stroke: '#b98524',
        dash: [4, 2],
        opacity: 0.5,
        fill: '#fbf8f1',
      },
      text('after', 120),
    ]),
  ]);
  expect(read(file)).toContain('before');
  const raw = readFileSync(file, 'latin1');
  expect(raw.match(/\/Type \/ExtGState/g)?.length).toBe(2);
  const words = execFileSync('pdftotext', ['-bbox', file, '-']).toString();
  const box = /xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="([\d.]+)">turned/
    .exec(words)!
    .slice(1)
    .map(Number);
  // Upwards from (50, 60): narrow and high.
  expect(box[2]! - box[0]!).toBeLessThan(box[3]! - box[1]!);
  expect(box[3]!).toBeLessThan(63);
  expect(words).toContain('>after</word>');
});

it('draws the paths of charts, filled and stroked, from the lower left corner of the page', async () => {
  const path = 'M0 0L30 0C30 10 20 30 0 30Z';
  const area: Mark = { kind: 'path', x: 10, y: 20, width: 30, height: 30, path, fill: '#ff0000' };
  const line: Mark = { ...area, fill: undefined, stroke: '#0000ff', thickness: 2, dash: [4, 2] };
  const file = await write('paths', [page(1, [area, line])]);
  // How it writes SVG differs from version to version, spaces above all.
  const drawn = execFileSync('pdftocairo', ['-svg', '-f', '1', '-l', '1', file, '-']).toString().replaceAll(' ', '');
  expect(drawn).toContain('rgb(100%,0%,0%)');
  expect(drawn).toContain('rgb(0%,0%,100%)');
  // The page is 200 points high.
  expect(drawn).toContain('M10180L40180C401703015010150Z');
});

it('numbers pages as they are printed on them, and opens as it is asked to', async () => {
  const file = join(folder, 'labels.pdf');
  const settings = { title: 'Labels', opens: 'width', layout: 'two' } as const;
  const writer = createPdfWriter(createWriteStream(file), book, settings);
  for (const [i, partNumber] of [1, 2, 1, 2, 3].entries()) await writer.page(page(i + 1, [], { partNumber }));
  await writer.end([]);
  const { root, labels } = factsOf(file);
  expect(labels).toEqual([0, 1, 2, 1]);
  expect(root).toMatchObject({ '/PageLayout': '/TwoPageRight', '/OpenAction': [expect.any(String), '/FitH', null] });
});

it('holds the data behind its pages, as files for keeping may', async () => {
  const file = join(folder, 'attached.pdf');
  const attached = {
    name: 'Huts: “all”',
    mime: 'text/csv; charset=utf-8',
    extension: 'csv',
    data: Readable.from([Buffer.from('a,b\r\n')]),
  };
  const writer = createPdfWriter(createWriteStream(file), book, { title: 'Attached', attached });
  await writer.page(page(1, [text('one', 40)]));
  await writer.end([]);
  expect(checkConformance(file, 3).complaints).toEqual([]);
  expect(execFileSync('pdfdetach', ['-list', file]).toString()).toContain('Huts_ “all”.csv');
  execFileSync('pdfdetach', ['-save', '1', '-o', join(folder, 'out.csv'), file]);
  expect(readFileSync(join(folder, 'out.csv'), 'utf8')).toBe('a,b\r\n');
});

it('turns pictures in the colours of print to those of screens, and keeps those of others', async () => {
  const plain = sharp({ create: { width: 8, height: 8, channels: 3, background: '#1f5c4d' } });
  const files: Record<string, Buffer> = {
    print: await plain.clone().toColourspace('cmyk').jpeg().toBuffer(),
    screen: await plain.clone().jpeg().toBuffer(),
  };
  expect((await sharp(files.print).metadata()).space).toBe('cmyk');
  const file = join(folder, 'print.pdf');
  const settings = { title: 'Print', pictures: async (hash: string) => files[hash] ?? null };
  const writer = createPdfWriter(createWriteStream(file), book, settings);
  const picture = (name: string, x: number): Mark => ({
    kind: 'picture',
    x,
    y: 10,
    width: 50,
    height: 50,
    picture: name,
    alternative: name,
  });
  await writer.page(page(1, [picture('print', 10), picture('screen', 80)]));
  await writer.end([]);
  expect(checkConformance(file).complaints).toEqual([]);
  expect(execFileSync('pdfimages', ['-list', file]).toString()).not.toContain('cmyk');
  expect(execFileSync('pdfimages', ['-list', file]).toString().match(/ rgb /g)).toHaveLength(2);
});

it('is closed by a password without losing its tags, and says then that it is for everybody, not for archives', async () => {
  const file = join(folder, 'locked.pdf');
  const lock = { password: 'ridge', ownerPassword: 'summit', printing: true, copying: false, changing: false };
  const writer = createPdfWriter(createWriteStream(file), book, { title: 'Locked', lock });
  await writer.page(page(1, [text('one', 40)]));
  await writer.end([]);
  const asked = ['-upw', 'ridge', file];
  expect(execFileSync('pdfinfo', ['-struct-text', ...asked]).toString()).toMatch(/P \(block\)\s+"one"/);
  const packet = execFileSync('pdfinfo', ['-meta', ...asked]).toString();
  expect(packet).toContain('<pdfuaid:part>1<');
  expect(packet).not.toContain('pdfaid:part');
});

/** What qpdf reads of a file. */
const factsOf = (file: string) => {
  const read = JSON.parse(execFileSync('qpdf', ['--json', '--json-key=qpdf', file]).toString()) as {
    qpdf: [unknown, Record<string, { value: Record<string, unknown> }>];
  };
  const [, objects] = read.qpdf;
  const root = objects[`obj:${objects.trailer!.value['/Root'] as string}`]!.value;
  const { '/Nums': pairs } = root['/PageLabels'] as { '/Nums': (number | Record<string, number>)[] };
  return { root, labels: pairs.map((one) => (typeof one === 'number' ? one : one['/St'])) };
};
