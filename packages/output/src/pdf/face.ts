import type { TextMark } from '@gaveta/core/internal';
import type { KitFont } from './kit.ts';
import { n } from './numbers.ts';

/** A font in the file: turns text into codes of its subset. */
export class Face {
  readonly id: string;
  /** Code in the subset by code point; sparse. */
  private readonly codes: string[] = [];

  constructor(
    private readonly kit: KitFont,
    private readonly shape: (
      text: string,
    ) => { id: number; advance: number; dx: number; dy: number; codePoints: number[] }[],
  ) {
    this.id = kit.id;
  }

  encode(text: string): string {
    let hex = '';
    for (let i = 0; i < text.length; i++) {
      let code = text.charCodeAt(i);
      if (code >= 0xd800 && code < 0xdc00 && i + 1 < text.length) code = text.codePointAt(i++)!;
      hex += this.codes[code] ?? this.add(code);
    }
    return hex;
  }

  private add(code: number): string {
    const glyph = this.kit.font.glyphForCodePoint(code);
    const hex = this.include(glyph.id, [code], glyph.advanceWidth * this.kit.scale);
    this.codes[code] = hex;
    return hex;
  }

  private include(glyph: number, codePoints: number[], width: number): string {
    const id = this.kit.subset.includeGlyph(glyph);
    this.kit.widths[id] ??= width;
    this.kit.unicode[id] ??= codePoints;
    return id.toString(16).padStart(4, '0');
  }

  /** A right-to-left run: its glyphs one by one, with the text itself beside them for search and copying. */
  shaped(mark: TextMark, pageHeight: number): string {
    const scale = mark.size / 1000;
    let x = mark.x;
    let out = `/Span <</ActualText <${utf16Hex(mark.text)}>>> BDC\n`;
    for (const glyph of this.shape(mark.text)) {
      const hex = this.include(glyph.id, glyph.codePoints, glyph.advance);
      out += `1 0 0 1 ${n(x + glyph.dx * scale)} ${n(pageHeight - mark.y + glyph.dy * scale)} Tm <${hex}> Tj\n`;
      x += glyph.advance * scale;
    }
    return `${out}EMC\n`;
  }
}

/** A text as a string of a file (ISO 32000-1, 7.9.2.2), in hexadecimal digits. */
export const utf16Hex = (text: string): string => {
  let hex = 'feff';
  for (let i = 0; i < text.length; i++) hex += text.charCodeAt(i).toString(16).padStart(4, '0');
  return hex;
};
