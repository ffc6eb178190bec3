import bidiFactory from 'bidi-js';
import LineBreaker from 'linebreak';
import type { Font, FontBook } from './fonts.ts';

/** Text in one look; size in points. A paragraph may be made of several. */
export interface StyledText {
  text: string;
  font: Font;
  size: number;
}

/** A stretch of one line in one font and one direction; lengths in points. */
export interface TextRun {
  text: string;
  font: Font;
  /** From the start of the line. */
  x: number;
  width: number;
  rtl: boolean;
  size: number;
  /** Which of the styled texts it comes from. */
  style: number;
}

export interface TextLine {
  runs: TextRun[];
  width: number;
  /** Largest type size on the line. */
  size: number;
  /** The last line of a paragraph, which is never justified. */
  ends: boolean;
}

const RIGHT_TO_LEFT = /[\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufeff]/;
const bidi = bidiFactory();

const cleaned = (text: string): string =>
  text.includes('\t') || text.includes('\r') ? text.replace(/\r\n?/g, '\n').replace(/\t/g, '    ') : text;

/**
 * Breaks text into lines no wider than `width` points, by Unicode line breaking (UAX 14); a word wider than the line is
 * cut. Line ends in the text are kept. Directions follow the Unicode bidirectional algorithm (UAX 9), line by line.
 */
export const breakLines = (given: readonly StyledText[], width: number, book: FontBook): TextLine[] => {
  const styles = given.map((style) => ({ ...style, text: cleaned(style.text) }));
  const setter = new LineSetter(styles, book);
  const lines: TextLine[] = [];
  let from = 0;
  for (;;) {
    const end = setter.text.indexOf('\n', from);
    const to = end < 0 ? setter.text.length : end;
    const stretches = setter.wrap(from, to, width);
    for (const [i, [start, stop]] of stretches.entries()) {
      lines.push(setter.line(start, stop, i === stretches.length - 1));
    }
    if (end < 0) return lines;
    from = end + 1;
  }
};

const isInsidePair = (text: string, at: number): boolean => {
  const [before, after] = [text.charCodeAt(at - 1), text.charCodeAt(at)];
  return before >= 0xd800 && before <= 0xdbff && after >= 0xdc00 && after <= 0xdfff;
};

class LineSetter {
  readonly text: string;
  /** Where each styled text starts. */
  private readonly starts: number[] = [];
  private readonly plain: boolean;

  constructor(
    private readonly styles: readonly StyledText[],
    private readonly book: FontBook,
  ) {
    let text = '';
    for (const style of styles) {
      this.starts.push(text.length);
      text += style.text;
    }
    this.text = text;
    this.plain = !RIGHT_TO_LEFT.test(text) && styles.every((style) => style.font.covers(style.text));
  }

  /** Where each line of a paragraph starts and stops, without the spaces at its end. */
  wrap(from: number, to: number, width: number): [number, number][] {
    if (this.measure(from, to) <= width + 0.01) return [[from, to]];
    const lines: [number, number][] = [];
    const breaker = new LineBreaker(this.text.slice(from, to));
    let start = from;
    let end = from;
    for (let next = breaker.nextBreak(); next; next = breaker.nextBreak()) {
      const stop = from + next.position;
      if (this.fits(start, this.trimmed(start, stop), width)) {
        end = stop;
        continue;
      }
      if (end > start) lines.push([start, this.trimmed(start, end)]);
      start = end;
      while (!this.fits(start, this.trimmed(start, stop), width)) {
        const cut = this.cutPoint(start, stop, width);
        lines.push([start, cut]);
        start = cut;
      }
      end = stop;
    }
    if (end > start) lines.push([start, this.trimmed(start, end)]);
    return lines;
  }

  private trimmed(from: number, to: number): number {
    let end = to;
    while (end > from && /\s/.test(this.text[end - 1]!)) end--;
    return end;
  }

  /** Whether a stretch is no wider than a line. Of a long one only as much is measured as shows that it is not. */
  private fits(from: number, to: number, width: number): boolean {
    for (let length = this.roomFor(width); from + length < to; length *= 2)
      if (this.measure(from, from + length) > width + 0.01) return false;
    return this.measure(from, to) <= width + 0.01;
  }

  /** More characters than a line of usual letters holds. */
  private roomFor(width: number): number {
    return 8 + Math.ceil(width / (0.35 * Math.max(1, this.styles[0]?.size ?? 1)));
  }

  /** Where a word that is wider than the line is cut: after one character at least, never inside a surrogate pair. */
  private cutPoint(from: number, to: number, width: number): number {
    // The last place that fits lies from `least` on and before `most`; what was measured last tells where to look next.
    let least = from;
    let most = to;
    let guess = from + this.roomFor(width);
    for (let tries = 0; most - least > 1; tries++) {
      const at = Math.max(least + 1, Math.min(most - 1, tries < 8 ? guess : (least + most) >> 1));
      const measured = this.measure(from, at);
      if (measured <= width + 0.01) least = at;
      else most = at;
      guess = measured > 0 ? from + Math.round(((at - from) * width) / measured) : (least + most) >> 1;
    }
    const cut = isInsidePair(this.text, least) ? least - 1 : least;
    return cut > from ? cut : from + (isInsidePair(this.text, from + 1) ? 2 : 1);
  }

  private measure(from: number, to: number): number {
    if (!this.plain) return this.line(from, to, false).width;
    let width = 0;
    this.each(from, to, (text, style) => {
      width += (style.font.width(text) * style.size) / 1000;
    });
    return width;
  }

  /** Calls back with each styled part of a stretch. */
  private each(from: number, to: number, visit: (text: string, style: StyledText, index: number) => void): void {
    for (const [i, style] of this.styles.entries()) {
      const start = Math.max(from, this.starts[i]!);
      const stop = Math.min(to, this.starts[i]! + style.text.length);
      if (start < stop) visit(this.text.slice(start, stop), style, i);
    }
  }

  line(from: number, to: number, ends: boolean): TextLine {
    const runs: TextRun[] = [];
    let x = 0;
    let size = 0;
    const add = (text: string, style: StyledText, index: number, font: Font, rtl: boolean): void => {
      const thousandths = rtl ? font.shape(text).reduce((sum, g) => sum + g.advance, 0) : font.width(text);
      const width = (thousandths * style.size) / 1000;
      runs.push({ text, font, x, width, rtl, size: style.size, style: index });
      x += width;
      size = Math.max(size, style.size);
    };
    if (this.plain) this.each(from, to, (text, style, index) => add(text, style, index, style.font, false));
    else {
      for (const { start, stop, rtl } of visualPieces(this.text.slice(from, to))) {
        const parts: (() => void)[] = [];
        this.each(from + start, from + stop, (text, style, index) => {
          if (rtl) parts.unshift(() => add(text, style, index, this.book.covering(text, style.font), true));
          else
            parts.push(() => {
              for (const part of splitByFont(text, style.font, this.book))
                add(part.text, style, index, part.font, false);
            });
        });
        for (const part of parts) part();
      }
    }
    return { runs, width: x, size: size || (this.styles[0]?.size ?? 0), ends };
  }
}

/** Stretches of one direction each, in the order in which they stand on the line from left to right. */
const visualPieces = (text: string): { start: number; stop: number; rtl: boolean }[] => {
  if (!RIGHT_TO_LEFT.test(text)) return [{ start: 0, stop: text.length, rtl: false }];
  const { levels } = bidi.getEmbeddingLevels(text);
  const pieces: { start: number; stop: number; level: number }[] = [];
  for (let i = 0; i < text.length; i++) {
    const last = pieces.at(-1);
    if (last && last.level === levels[i]) last.stop = i + 1;
    else pieces.push({ start: i, stop: i + 1, level: levels[i]! });
  }
  const highest = pieces.reduce((most, p) => Math.max(most, p.level), 0);
  for (let level = highest; level > 0; level--) {
    for (let start = 0; start < pieces.length; start++) {
      if (pieces[start]!.level < level) continue;
      let end = start;
      while (end < pieces.length && pieces[end]!.level >= level) end++;
      pieces.splice(start, end - start, ...pieces.slice(start, end).reverse());
      start = end;
    }
  }
  return pieces.map(({ start, stop, level }) => ({ start, stop, rtl: level % 2 === 1 }));
};

/** Cuts where characters must come from a fallback font. */
const splitByFont = (text: string, font: Font, book: FontBook): { text: string; font: Font }[] => {
  const parts: { text: string; font: Font }[] = [];
  for (const character of text) {
    const face = book.covering(character, font);
    const last = parts.at(-1);
    if (last && last.font === face) last.text += character;
    else parts.push({ text: character, font: face });
  }
  return parts;
};
