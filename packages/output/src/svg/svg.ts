import type { Writable } from 'node:stream';
import { type Page, pageToSvg } from '@gaveta/core/internal';
import { Archive } from '../archive.ts';
import type { PagesRun } from '../output.ts';
import { PagePictures } from '../page-pictures.ts';
import { withShapes } from '../page-shapes.ts';
import { pageName, wholePages } from '../pages.ts';
import { PartFile } from '../part-file.ts';
import { TextSink } from '../text-sink.ts';
import type { SvgOptions } from './options.ts';

const HEAD = '<?xml version="1.0" encoding="UTF-8"?>\n';
/** Between pages below one another, in points. */
const GAP = 12;

/** Pages as SVG: a file each, in a zip, or all in one below one another. */
export const writeSvg = async (run: PagesRun<SvgOptions>, sink: Writable, signal: AbortSignal): Promise<void> => {
  const { options, book } = run;
  const pictures = new PagePictures(run.pictures);
  const drawn = async (page: Page): Promise<string> =>
    pageToSvg(options.text === 'shapes' ? withShapes(page, book) : page, await pictures.of(page));
  const pages = wholePages(run, options, signal);
  if (options.form === 'one') {
    await writeOne(pages, drawn, sink, signal);
    return;
  }
  if (options.from !== undefined && options.from === options.to) {
    const text = new TextSink(sink, signal);
    for await (const page of pages) await text.write(`${HEAD}${await drawn(page)}\n`);
    await text.end();
    return;
  }
  const archive = new Archive(sink);
  for await (const page of pages) await archive.add(pageName(page.number, 'svg'), `${HEAD}${await drawn(page)}\n`);
  signal.throwIfAborted();
  await archive.end();
};

/** How large the whole is stands in front of it, so that pages wait in a file until that is known. */
const writeOne = async (
  pages: AsyncIterable<Page>,
  drawn: (page: Page) => Promise<string>,
  sink: Writable,
  signal: AbortSignal,
): Promise<void> => {
  const part = await PartFile.open();
  try {
    let [width, height] = [0, 0];
    for await (const page of pages) {
      if (height > 0) height += GAP;
      await part.write(Buffer.from((await drawn(page)).replace('<svg ', `<svg y="${height}" `)));
      width = Math.max(width, page.width);
      height += page.height;
    }
    const text = new TextSink(sink, signal);
    await text.write(
      `${HEAD}<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}pt" height="${height}pt">`,
    );
    await text.flush();
    for await (const chunk of part.chunks()) await text.bytes(chunk);
    await text.write('</svg>\n');
    await text.end();
  } finally {
    await part.close();
  }
};
