import type { ItemOf } from '../../definition/schema.ts';
import type { Box } from '../../layout/prepared.ts';
import type { Mark, ShapeMark } from '../../page/page.ts';
import type { FontBook } from '../../text/fonts.ts';
import { barcodeShape } from './shape.ts';

/** Least height of bars in modules, however low the box is. */
const LEAST_HEIGHT = 5;
/** Type size of content that cannot be a barcode, in points. */
const WRONG_SIZE = 8;

/**
 * Lays a barcode out as large as its box allows: bars take the whole height, a code of two dimensions stands in the
 * middle. Content that it cannot hold is shown as text, with what is wrong. Lengths in points.
 */
export const layBarcode = (
  content: string,
  item: ItemOf<'barcode'>,
  box: Box,
  book: FontBook,
): { marks: Mark[]; isWhole: boolean } => {
  const font = book.find(book.families[0]!, false, false);
  const textWidth = (text: string): number => font.width(text) / 1000;
  const shape = barcodeShape(content, item, font.key, textWidth);
  const { color, id } = item;
  if (!shape) {
    const width = textWidth(content) * WRONG_SIZE;
    const place = { x: box.x, y: box.y + WRONG_SIZE, width };
    return {
      marks: [{ kind: 'text', ...place, text: content, font: font.key, size: WRONG_SIZE, color, item: id }],
      isWhole: false,
    };
  }
  const { bars } = shape;
  const scale = bars
    ? box.width / shape.width
    : Math.max(0.01, Math.min(box.width / shape.width, box.height / shape.height));
  // Bars are made as much higher or lower as the box asks for; what stands below them moves along.
  const longer = bars ? Math.max(LEAST_HEIGHT - bars.lowest, box.height / scale - shape.height) : 0;
  const x = bars ? box.x : box.x + (box.width - shape.width * scale) / 2;
  const y = bars ? box.y : box.y + (box.height - shape.height * scale) / 2;
  const mark: ShapeMark = {
    kind: 'shape',
    x,
    y,
    width: shape.width * scale,
    height: (shape.height + longer) * scale,
    scale,
    polygons: bars
      ? shape.polygons.map((p) => p.map((v, i) => (i % 2 === 1 && v > 0 ? v + longer : v)))
      : shape.polygons,
    color,
    alternative: content,
    item: id,
  };
  const texts = shape.texts.map(
    (t): Mark => ({
      kind: 'text',
      x: x + t.x * scale,
      y: y + (t.y + longer) * scale,
      text: t.text,
      font: font.key,
      size: t.size * scale,
      color,
      width: textWidth(t.text) * t.size * scale,
      item: id,
    }),
  );
  return { marks: [mark, ...texts], isWhole: true };
};
