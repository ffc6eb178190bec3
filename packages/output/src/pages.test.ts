import type { LateFill, Page, TextMark } from '@gaveta/core/internal';
import { strFromU8, unzipSync } from 'fflate';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { loadEquipment } from './equipment.ts';
import { collecting } from './sink.test-support.ts';

const equipment = await loadEquipment();
const text = (words: string, y: number, more: Partial<TextMark> = {}): TextMark => ({
  kind: 'text',
  x: 10,
  y,
  text: words,
  font: 'Source Sans 3/400',
  size: 12,
  color: '#000000',
  width: 60,
  ...more,
});
const page = (number: number, more: Partial<Page> = {}): Page => ({
  number,
  width: 144,
  height: 72,
  marks: [text(`Hut ${number}`, 20), { kind: 'rectangle', x: 72, y: 36, width: 72, height: 36, fill: '#1f5c4d' }],
  ...more,
});
const LATE: LateFill[] = [{ page: 2, marks: [text('of 3', 60)] }];

const fileOf = async (
  name: string,
  options: object = {},
  pages: readonly Page[] = [page(1), page(2, { late: true }), page(3)],
  signal = new AbortController().signal,
): Promise<Buffer> => {
  const output = equipment.output(name);
  if (output?.takes !== 'pages') throw new Error(`no output ${name}`);
  const { sink, bytes } = collecting();
  const given = (async function* () {
    yield* pages;
  })();
  const book = await equipment.book();
  const run = {
    title: 'Huts <&>',
    language: 'pt-PT',
    book,
    pages: given,
    late: () => LATE,
    pictures: async () => null,
    options,
  };
  await output.write(run, sink, signal);
  return bytes();
};
/** Red, green and blue of a point of a picture. */
const pointOf = async (file: Uint8Array, x: number, y: number, which = 0): Promise<number[]> => {
  const { data, info } = await sharp(file, { page: which }).raw().toBuffer({ resolveWithObject: true });
  const at = (y * info.width + x) * info.channels;
  return [...data.subarray(at, at + 3)];
};

describe('SVG', () => {
  it('is a file for each page, with what waited for the number of pages, and needs no font', async () => {
    const files = unzipSync(await fileOf('svg'));
    expect(Object.keys(files)).toEqual(['page-0001.svg', 'page-0002.svg', 'page-0003.svg']);
    expect(strFromU8(files['page-0001.svg']!)).not.toContain('<text');
    const paths = (name: string): number => strFromU8(files[name]!).match(/<path/g)!.length;
    expect([paths('page-0001.svg'), paths('page-0002.svg')]).toEqual([1, 2]);
  });

  it('is one file of a page alone, or of all below one another', async () => {
    const alone = (await fileOf('svg', { from: '2', to: '2', text: 'text' })).toString();
    expect(alone).toContain('>Hut 2</text>');
    expect(alone).toContain('>of 3</text>');
    const one = (await fileOf('svg', { form: 'one' })).toString();
    expect(one).toContain('viewBox="0 0 144 240"');
    expect(one.match(/<svg y="/g)).toHaveLength(3);
  });
});

describe('pictures of pages', () => {
  it('are as large as is asked for, and say so', async () => {
    const png = await fileOf('png', { from: 1, to: 1, dpi: 144 });
    expect(await sharp(png).metadata()).toMatchObject({ format: 'png', width: 288, height: 144, density: 144 });
    expect(await pointOf(png, 200, 100)).toEqual([0x1f, 0x5c, 0x4d]);
    expect(await pointOf(png, 5, 5)).toEqual([255, 255, 255]);
    const files = unzipSync(await fileOf('jpeg', { dpi: 36, quality: 90 }));
    expect(await sharp(files['page-0003.jpg']!).metadata()).toMatchObject({ format: 'jpeg', width: 72, height: 36 });
  });

  it('of all pages are one TIFF', async () => {
    const tiff = await fileOf('tiff', { dpi: 72 });
    expect(await sharp(tiff).metadata()).toMatchObject({
      format: 'tiff',
      pages: 3,
      width: 144,
      height: 72,
      density: 72,
    });
    for (const which of [0, 1, 2]) expect(await pointOf(tiff, 100, 50, which)).toEqual([0x1f, 0x5c, 0x4d]);
    expect(await sharp(await fileOf('tiff', { from: 3 })).metadata()).toMatchObject({ width: 300 });
  });

  it('are refused where they would be too large', async () => {
    const poster = [page(1, { width: 10_000, height: 10_000 })];
    await expect(fileOf('png', { dpi: 600 }, poster)).rejects.toThrow('million pixels');
  });
});

describe('a web page of all pages', () => {
  it('holds its fonts, its outline and places that links lead to', async () => {
    const link = { kind: 'link', x: 0, y: 0, width: 9, height: 9, to: { anchor: 'a "b"' } } as const;
    const report = { kind: 'link', x: 0, y: 0, width: 9, height: 9, to: { report: 'x', parameters: {} } } as const;
    const outline = { kind: 'outline', x: 0, y: 10, level: 1, title: 'Huts & more' } as const;
    const anchor = { kind: 'anchor', x: 0, y: 36, name: 'a "b"' } as const;
    const html = (
      await fileOf('pages', {}, [
        page(1, { marks: [text('<Alto>', 20), link, report] }),
        page(2, { marks: [outline, anchor] }),
      ])
    ).toString();
    expect(html).toContain('<html lang="pt-PT">');
    expect(html).toContain('<title>Huts &lt;&amp;&gt;</title>');
    expect(html).toContain('&lt;Alto&gt;');
    expect(html).toContain('<a href="#a-a%20%22b%22">');
    expect(html).toContain('<a id="a-a%20%22b%22" style="top:50.000%">');
    expect(html).toContain('<a href="#h-1"><span>Huts &amp; more</span>2</a>');
    expect(html).not.toContain('data-link');
    expect(html.match(/@font-face/g)).toHaveLength(1);
    expect(html).toContain('@page p0{size:144pt 72pt;margin:0}');
    expect((await fileOf('pages', { outline: 'no' }, [page(1, { marks: [outline] })])).toString()).not.toContain(
      '<nav>',
    );
  });
});

it('a file that is not wanted any more ends with the reason', async () => {
  for (const name of ['svg', 'png', 'tiff', 'pages'])
    await expect(fileOf(name, {}, undefined, AbortSignal.abort(new Error('gone'))), name).rejects.toThrow('gone');
});
