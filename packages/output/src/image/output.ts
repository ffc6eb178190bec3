import { defineOutput, type FileType } from '../output.ts';
import { type JpegOptions, jpegOptions, type PngOptions, pngOptions, tiffOptions } from './options.ts';

/** One picture for a page alone, and a zip of several. */
const zipOf =
  (type: FileType) =>
  ({ from, to }: PngOptions): FileType =>
    from !== undefined && from === to ? type : { mime: 'application/zip', extension: 'zip' };

const PNG = { mime: 'image/png', extension: 'png' };
const JPEG = { mime: 'image/jpeg', extension: 'jpg' };

export const pngOutput = defineOutput<PngOptions>({
  name: 'png',
  label: 'PNG',
  ...PNG,
  takes: 'pages',
  options: pngOptions,
  fileFor: zipOf(PNG),
  write: async (run, sink, signal) => (await import('./image.ts')).writePng(run, sink, signal),
});

export const jpegOutput = defineOutput<JpegOptions>({
  name: 'jpeg',
  label: 'JPEG',
  ...JPEG,
  takes: 'pages',
  options: jpegOptions,
  fileFor: zipOf(JPEG),
  write: async (run, sink, signal) => (await import('./image.ts')).writeJpeg(run, sink, signal),
});

/** All pages in one file. */
export const tiffOutput = defineOutput<PngOptions>({
  name: 'tiff',
  label: 'TIFF',
  mime: 'image/tiff',
  extension: 'tif',
  takes: 'pages',
  options: tiffOptions,
  write: async (run, sink, signal) => (await import('./image.ts')).writeTiff(run, sink, signal),
});
