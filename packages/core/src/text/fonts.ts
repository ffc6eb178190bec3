import type * as fontkit from 'fontkit';
import { lateLibrary } from '../base/late-library.ts';

/** A font file and how it is asked for. `data` is a TrueType or OpenType file. */
export interface FontFile {
  family: string;
  weight: 400 | 700;
  italic: boolean;
  data: Uint8Array;
}

export interface ShapedGlyph {
  id: number;
  /** Advance and offsets in thousandths of the type size. */
  advance: number;
  dx: number;
  dy: number;
  codePoints: number[];
}

const TABLE = 0x3000;

/** A step of a glyph’s outline. */
export interface GlyphStep {
  step: 'M' | 'L' | 'C' | 'Z';
  /** x, y, x, y … */
  places: readonly number[];
}

/** Steps with cubic curves alone: a quadratic one is the cubic whose handles lie two thirds of the way to its own. */
const outlineOf = (commands: readonly { command: string; args: number[] }[], scale: number): GlyphStep[] => {
  let [x, y] = [0, 0];
  return commands.map(({ command, args }): GlyphStep => {
    const places = args.map((place) => place * scale);
    const [fromX, fromY] = [x, y];
    [x, y] = places.length > 0 ? [places.at(-2)!, places.at(-1)!] : [x, y];
    switch (command) {
      case 'moveTo':
        return { step: 'M', places };
      case 'lineTo':
        return { step: 'L', places };
      case 'quadraticCurveTo': {
        const [hx, hy] = places as [number, number];
        const third = (from: number, handle: number): number => from + (2 / 3) * (handle - from);
        return { step: 'C', places: [third(fromX, hx), third(fromY, hy), third(x, hx), third(y, hy), x, y] };
      }
      case 'bezierCurveTo':
        return { step: 'C', places };
      default:
        return { step: 'Z', places: [] };
    }
  });
};

const reader = lateLibrary('the reader of fonts', () => import('fontkit'));

/** One face: its metrics in thousandths of the type size, and its widths. */
export class Font {
  readonly key: string;
  readonly ascent: number;
  readonly descent: number;
  private readonly face: fontkit.Font;
  private readonly scale: number;
  /** Advance by code point; NaN until asked for, -1 where the font has no glyph. */
  private readonly table = new Float32Array(TABLE).fill(Number.NaN);
  private readonly rest = new Map<number, number>();
  private readonly outlines = new Map<number, readonly GlyphStep[]>();

  constructor(readonly file: FontFile) {
    this.face = reader.get().create(file.data as never) as fontkit.Font;
    this.key = fontKey(file.family, file.weight, file.italic);
    this.scale = 1000 / this.face.unitsPerEm;
    this.ascent = this.face.ascent * this.scale;
    this.descent = -this.face.descent * this.scale;
  }

  /** Width of one character in thousandths of the type size; -1 when the font lacks it. */
  advance(codePoint: number): number {
    const known = codePoint < TABLE ? this.table[codePoint]! : (this.rest.get(codePoint) ?? Number.NaN);
    if (!Number.isNaN(known)) return known;
    const has = this.face.hasGlyphForCodePoint(codePoint);
    const width = has ? this.face.glyphForCodePoint(codePoint).advanceWidth * this.scale : -1;
    if (codePoint < TABLE) this.table[codePoint] = width;
    else this.rest.set(codePoint, width);
    return codePoint < TABLE ? this.table[codePoint]! : width;
  }

  glyphId(codePoint: number): number {
    return this.face.glyphForCodePoint(codePoint).id;
  }

  /** Width of text that needs no shaping, in thousandths of the type size. Characters the font lacks count as a box. */
  width(text: string): number {
    let sum = 0;
    for (let i = 0; i < text.length; i++) {
      let code = text.charCodeAt(i);
      if (code >= 0xd800 && code < 0xdc00 && i + 1 < text.length) code = text.codePointAt(i++)!;
      const advance = this.advance(code);
      sum += advance < 0 ? 500 : advance;
    }
    return sum;
  }

  /**
   * Width of text on one line that needs neither shaping nor another font, in thousandths of the type size; -1 for any
   * other text. One pass over the characters: most cells of a report need no more than this.
   */
  plainWidth(text: string): number {
    let sum = 0;
    for (let i = 0; i < text.length; i++) {
      const code = text.charCodeAt(i);
      // Control characters, and everything from the right-to-left scripts on that is not general punctuation or a currency.
      if (code < 32 || (code >= 0x590 && (code < 0x2010 || code > 0x20bf))) return -1;
      const advance = this.advance(code);
      if (advance < 0) return -1;
      sum += advance;
    }
    return sum;
  }

  /** The outline of a glyph in thousandths of the type size, y upwards: steps of `M`, `L`, `C` and `Z` with their places. */
  outline(glyph: number): readonly GlyphStep[] {
    let found = this.outlines.get(glyph);
    if (!found) {
      found = outlineOf(this.face.getGlyph(glyph).path.commands, this.scale);
      this.outlines.set(glyph, found);
    }
    return found;
  }

  covers(text: string): boolean {
    for (let i = 0; i < text.length; i++) {
      let code = text.charCodeAt(i);
      if (code >= 0xd800 && code < 0xdc00 && i + 1 < text.length) code = text.codePointAt(i++)!;
      if (code > 32 && this.advance(code) < 0) return false;
    }
    return true;
  }

  /** Glyphs in visual order, for scripts whose letters join or change. */
  shape(text: string): ShapedGlyph[] {
    const run = this.face.layout(text);
    return run.glyphs.map((glyph, i) => {
      const position = run.positions[i]!;
      return {
        id: glyph.id,
        advance: position.xAdvance * this.scale,
        dx: position.xOffset * this.scale,
        dy: position.yOffset * this.scale,
        codePoints: glyph.codePoints,
      };
    });
  }
}

export const fontKey = (family: string, weight: 400 | 700, italic: boolean): string =>
  `${family}/${weight}${italic ? 'i' : ''}`;

/** The fonts at hand. The first file's family is the default; families after it also serve as fallbacks in that order. */
export class FontBook {
  private readonly fonts = new Map<string, Font>();
  readonly families: string[];

  private constructor(private readonly files: readonly FontFile[]) {
    if (files.length === 0) throw new Error('A font book needs at least one font');
    this.families = [...new Set(files.map((file) => file.family))];
  }

  /** Fonts by their files, TrueType or OpenType. Rejects when there is none. */
  static async of(files: readonly FontFile[]): Promise<FontBook> {
    await reader.load();
    return new FontBook(files);
  }

  has(family: string): boolean {
    return this.families.includes(family);
  }

  /** The nearest face: an unknown family gives the default one, a missing weight or slant the plain one. */
  find(family: string, bold: boolean, italic: boolean): Font {
    const name = this.has(family) ? family : this.families[0]!;
    const weight = bold ? 700 : 400;
    const inFamily = this.files.filter((file) => file.family === name);
    const file =
      inFamily.find((f) => f.weight === weight && f.italic === italic) ??
      inFamily.find((f) => f.weight === weight) ??
      inFamily[0]!;
    return this.load(file);
  }

  byKey(key: string): Font {
    const file = this.files.find((f) => fontKey(f.family, f.weight, f.italic) === key);
    return this.load(file ?? this.files[0]!);
  }

  /** A font that has every character of `text`, trying `first` before the others; `first` when none has. */
  covering(text: string, first: Font): Font {
    if (first.covers(text)) return first;
    for (const family of this.families) {
      const font = this.find(family, first.file.weight === 700, first.file.italic);
      if (font.covers(text)) return font;
    }
    return first;
  }

  private load(file: FontFile): Font {
    const key = fontKey(file.family, file.weight, file.italic);
    let font = this.fonts.get(key);
    if (!font) {
      font = new Font(file);
      this.fonts.set(key, font);
    }
    return font;
  }
}
