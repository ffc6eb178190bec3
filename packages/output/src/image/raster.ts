import { type FontBook, type Page, pageToSvg, phrase, SaidError } from '@gaveta/core/internal';
import { Resvg } from '@resvg/resvg-js';
import type { PagePictures } from '../page-pictures.ts';
import { withShapes } from '../page-shapes.ts';

/** Most pixels of one page. */
const MOST_PIXELS = 120_000_000;
const POINTS_IN_INCH = 72;

export interface Raster {
  width: number;
  height: number;
  /** Red, green, blue and how solid it is, a byte each. */
  pixels: Buffer;
}

/** Draws a page in so many pixels for each inch. Throws where that would be too many. */
export const drawPage = async (page: Page, book: FontBook, pictures: PagePictures, dpi: number): Promise<Raster> => {
  const scale = dpi / POINTS_IN_INCH;
  const width = Math.max(1, Math.round(page.width * scale));
  const pixels = width * Math.round(page.height * scale);
  if (pixels > MOST_PIXELS)
    throw new SaidError(
      phrase('page-many-pixels', {
        page: page.number,
        pixels: Math.round(pixels / 1_000_000),
        most: MOST_PIXELS / 1_000_000,
      }),
    );
  const svg = pageToSvg(withShapes(page, book), await pictures.of(page));
  const image = new Resvg(svg, {
    fitTo: { mode: 'width', value: width },
    font: { loadSystemFonts: false },
    background: '#fff',
  }).render();
  return { width: image.width, height: image.height, pixels: image.pixels };
};
