import type { Font, FontBook, Mark, Page, PathMark, TextMark } from '@gaveta/core/internal';

const rounded = (value: number): string => String(Math.round(value * 1000) / 1000);

interface Placed {
  glyph: number;
  /** Of its origin, from the start of the text, in points; y upwards. */
  x: number;
  y: number;
}

const glyphsOf = (mark: TextMark, font: Font): Placed[] => {
  const scale = mark.size / 1000;
  let x = 0;
  if (mark.rtl)
    return font.shape(mark.text).map(({ id, advance, dx, dy }) => {
      const placed = { glyph: id, x: x + dx * scale, y: dy * scale };
      x += advance * scale;
      return placed;
    });
  return [...mark.text].map((sign) => {
    const code = sign.codePointAt(0)!;
    const placed = { glyph: font.glyphId(code), x, y: 0 };
    const advance = font.advance(code);
    x += (advance < 0 ? 500 : advance) * scale;
    return placed;
  });
};

/** A text as the outlines of its glyphs; null when nothing of it is seen. */
const shapeOf = (mark: TextMark, book: FontBook): PathMark | null => {
  const font = book.byKey(mark.font);
  const scale = mark.size / 1000;
  const angle = ((mark.turn ?? 0) * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  let path = '';
  for (const { glyph, x, y } of glyphsOf(mark, font))
    for (const { step, places } of font.outline(glyph)) {
      path += step;
      for (let i = 0; i < places.length; i += 2) {
        const [dx, dy] = [x + places[i]! * scale, -(y + places[i + 1]! * scale)];
        path += `${i > 0 ? ' ' : ''}${rounded(dx * cos - dy * sin)} ${rounded(dx * sin + dy * cos)}`;
      }
    }
  if (path === '') return null;
  const { x, y, width, size: height, color: fill, opacity } = mark;
  return { kind: 'path', x, y, width, height, path, fill, ...(opacity === undefined ? {} : { opacity }) };
};

/** A page whose texts are outlines, which look the same without any font. */
export const withShapes = (page: Page, book: FontBook): Page => ({
  ...page,
  marks: page.marks.flatMap((mark): Mark[] => {
    if (mark.kind !== 'text') return [mark];
    const shape = shapeOf(mark, book);
    return shape ? [shape] : [];
  }),
});
