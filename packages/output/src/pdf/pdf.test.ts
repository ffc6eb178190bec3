import { execFileSync } from 'node:child_process';
import { createWriteStream, mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { LateFill, Mark, Page } from '@gaveta/core';
import { expect, it } from 'vitest';
import { loadShippedFonts } from '../fonts/shipped.ts';
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
  const writer = createPdfWriter(createWriteStream(file), book, { title: 'Ünïcode (title)' });
  for (const p of pages) await writer.page(p);
  await writer.end(late);
  return file;
};
const read = (file: string): string => execFileSync('pdftotext', ['-layout', file, '-']).toString();
/** A 1 by 1 pixel, black. */
const PIXEL = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAIAAACQd1PeAAAADElEQVR4nGNgYGAAAAAEAAH2FzhVAAAAAElFTkSuQmCC';

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
        source: `data:image/png;base64,${PIXEL}`,
        alternative: '',
      },
      {
        kind: 'picture',
        x: 0,
        y: 0,
        width: 40,
        height: 40,
        source: 'data:image/png;base64,AAAA',
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
  expect(pixel(202, 112)).toEqual([255, 255, 255]);
});

it('tells when the file cannot be written', async () => {
  const target = createWriteStream(join(folder, 'no', 'such', 'folder.pdf'));
  const failed = new Promise((resolve) => target.once('error', resolve));
  const writer = createPdfWriter(target, book, { title: 'x' });
  await failed;
  await expect(writer.page(page(1, []))).rejects.toThrow('ENOENT');
});
