import { type ContentPart, type DrawingContent, type FontBook, type Page, pageToSvg } from '@gaveta/core/internal';
import { Resvg } from '@resvg/resvg-js';
import { withShapes } from '../page-shapes.ts';

const PAPER = '<rect width="100%" height="100%" fill="#fff"/>';

/** Programs go by what is drawn where nothing says how large the picture is. */
const CLEAR = '<rect width="100%" height="100%" fill="#fff" fill-opacity="0"/>';

const NO_PICTURE = (): string => '';

/** A drawing as SVG that looks the same without any font; see-through where nothing is drawn. */
export const drawingSvg = (
  { width, height }: Pick<ContentPart, 'width' | 'height'>,
  { marks }: DrawingContent,
  book: FontBook,
): string => {
  const page: Page = { number: 1, width, height, marks: [...marks] };
  return pageToSvg(withShapes(page, book), NO_PICTURE).replace(PAPER, CLEAR);
};

/** A drawing as PNG, `scale` pixels for each point. */
export const drawingPng = (
  part: Pick<ContentPart, 'width' | 'height'>,
  drawing: DrawingContent,
  book: FontBook,
  scale = 3,
): Uint8Array => {
  const width = Math.max(1, Math.min(6_000, Math.round(part.width * scale)));
  const svg = drawingSvg(part, drawing, book);
  return new Resvg(svg, { fitTo: { mode: 'width', value: width }, font: { loadSystemFonts: false } }).render().asPng();
};
