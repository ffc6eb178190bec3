import type { Writable } from 'node:stream';
import type { Sharp } from 'sharp';
import { Archive } from '../archive.ts';
import type { PagesRun } from '../output.ts';
import { PagePictures } from '../page-pictures.ts';
import { pageName, wholePages } from '../pages.ts';
import { Target } from '../target.ts';
import type { JpegOptions, PngOptions } from './options.ts';
import { drawPage, type Raster } from './raster.ts';
import { TiffWriter } from './tiff.ts';

/** The pages that are wanted, drawn. */
async function* drawn(
  run: PagesRun<PngOptions>,
  signal: AbortSignal,
): AsyncGenerator<{ number: number; raster: Raster }> {
  const pictures = new PagePictures(run.pictures);
  for await (const page of wholePages(run, run.options, signal))
    yield { number: page.number, raster: await drawPage(page, run.book, pictures, run.options.dpi) };
}

const packed = async (
  { pixels, width, height }: Raster,
  dpi: number,
  form: (image: Sharp) => Sharp,
): Promise<Buffer> => {
  const { default: sharp } = await import('sharp');
  const image = sharp(pixels, { raw: { width, height, channels: 4 }, limitInputPixels: false });
  return form(image.removeAlpha()).withMetadata({ density: dpi }).toBuffer();
};

/** A page alone as it is, several in a zip. */
const writeEach = async (
  run: PagesRun<PngOptions>,
  sink: Writable,
  signal: AbortSignal,
  extension: string,
  form: (image: Sharp) => Sharp,
): Promise<void> => {
  const { from, to, dpi } = run.options;
  if (from !== undefined && from === to) {
    const target = new Target(sink);
    for await (const { raster } of drawn(run, signal)) sink.write(await packed(raster, dpi, form));
    signal.throwIfAborted();
    sink.end();
    await target.finished();
    return;
  }
  const archive = new Archive(sink);
  for await (const { number, raster } of drawn(run, signal))
    await archive.add(pageName(number, extension), await packed(raster, dpi, form), { stored: true });
  signal.throwIfAborted();
  await archive.end();
};

export const writePng = (run: PagesRun<PngOptions>, sink: Writable, signal: AbortSignal): Promise<void> =>
  writeEach(run, sink, signal, 'png', (image) => image.png({ compressionLevel: 7 }));

export const writeJpeg = (run: PagesRun<JpegOptions>, sink: Writable, signal: AbortSignal): Promise<void> =>
  writeEach(run, sink, signal, 'jpg', (image) => image.jpeg({ quality: run.options.quality, mozjpeg: false }));

export const writeTiff = async (run: PagesRun<PngOptions>, sink: Writable, signal: AbortSignal): Promise<void> => {
  const writer = new TiffWriter(sink, run.options.dpi);
  for await (const { raster } of drawn(run, signal)) await writer.page(raster);
  signal.throwIfAborted();
  await writer.end();
};
