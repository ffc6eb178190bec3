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
    // No text has the sign for what is missing; what nobody reads must have words all the same.
    kit.unicode[0] = [0xfffd];
  }

  /** Whether signs of the text last written are drawn as another, since the font has none for them. */
  hasReplaced = false;

  encode(text: string): string {
    let hex = '';
    this.hasReplaced = false;
    for (let i = 0; i < text.length; i++) {
      let code = text.charCodeAt(i);
      if (code >= 0xd800 && code < 0xdc00 && i + 1 < text.length) code = text.codePointAt(i++)!;
      const known = this.codes[code] ?? this.add(code);
      if (known === '') this.hasReplaced = true;
      hex += known === '' ? this.replacement : known;
    }
    return hex;
  }

  /** What is drawn for signs that the font has none for. */
  private get replacement(): string {
    const sign = REPLACEMENTS.find((code) => this.kit.font.glyphForCodePoint(code).id !== 0)!;
    return this.codes[sign] ?? this.add(sign);
  }

  /** The code of a sign; empty when the font has none. */
  private add(code: number): string {
    const glyph = this.kit.font.glyphForCodePoint(code);
    if (glyph.id === 0) {
      this.codes[code] = '';
      return '';
    }
    const hex = this.include(glyph.id, [code], glyph.advanceWidth * this.kit.scale);
    this.codes[code] = hex;
    return hex;
  }

  private include(glyph: number, codePoints: number[], width: number): string {
    const id = this.kit.subset.includeGlyph(glyph);
    this.kit.widths[id] ??= width;
    // A part of a sign that others say already.
    this.kit.unicode[id] ??= codePoints.length > 0 ? codePoints : NOTHING;
    return id.toString(16).padStart(4, '0');
  }

  /** A right-to-left run: its glyphs one by one, with the text itself beside them for search and copying. */
  shaped(mark: TextMark, pageHeight: number): string {
    const scale = mark.size / 1000;
    let x = mark.x;
    let out = saying(mark.text);
    for (const glyph of this.shape(mark.text)) {
      const hex = glyph.id === 0 ? this.replacement : this.include(glyph.id, glyph.codePoints, glyph.advance);
      out += `1 0 0 1 ${n(x + glyph.dx * scale)} ${n(pageHeight - mark.y + glyph.dy * scale)} Tm <${hex}> Tj\n`;
      x += glyph.advance * scale;
    }
    return `${out}${SAID}`;
  }
}

/** What follows is read as a text, up to {@link SAID}. */
export const saying = (text: string): string => `/Span <</ActualText <${utf16Hex(text)}>>> BDC\n`;
export const SAID = 'EMC\n';

/** A space without width. */
const NOTHING = [0x200b];

/** The white square, and what every font has. */
const REPLACEMENTS = [0x25a1, 0x3f, 0x20, 0x2e];

/** A text as a string of a file (ISO 32000-1, 7.9.2.2), in hexadecimal digits. */
export const utf16Hex = (text: string): string => {
  let hex = 'feff';
  const whole = text.replace(/\p{Cs}/gu, '\uFFFD');
  for (let i = 0; i < whole.length; i++) hex += whole.charCodeAt(i).toString(16).padStart(4, '0');
  return hex;
};
