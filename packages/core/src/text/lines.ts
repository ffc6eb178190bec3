import bidiFactory from 'bidi-js';
import LineBreaker from 'linebreak';
import type { Font, FontBook } from './fonts.ts';

/** A stretch of one line in one font and one direction; lengths in points. */
export interface TextRun {
  text: string;
  font: Font;
  /** From the start of the line. */
  x: number;
  width: number;
  rtl: boolean;
}

export interface TextLine {
  runs: TextRun[];
  width: number;
}

const RIGHT_TO_LEFT = /[\u0590-\u08ff\ufb1d-\ufdff\ufe70-\ufeff]/;
const bidi = bidiFactory();

/**
 * Breaks text into lines no wider than `width` points, by Unicode line breaking (UAX 14); a word wider than the line is
 * cut. Line ends in the text are kept. Directions follow the Unicode bidirectional algorithm (UAX 9), line by line.
 */
export const breakLines = (text: string, font: Font, size: number, width: number, book: FontBook): TextLine[] => {
  const lines: TextLine[] = [];
  const clean = text.includes('\t') || text.includes('\r') ? text.replace(/\r\n?/g, '\n').replace(/\t/g, '    ') : text;
  for (const paragraph of clean.includes('\n') ? clean.split('\n') : [clean]) {
    const whole = lineOf(paragraph, font, size, book);
    if (whole.width <= width + 0.01) {
      lines.push(whole);
      continue;
    }
    for (const piece of wrap(paragraph, font, size, width, book)) lines.push(lineOf(piece, font, size, book));
  }
  return lines;
};

const measure = (text: string, font: Font, size: number, book: FontBook): number => {
  if (font.covers(text)) return (font.width(text) * size) / 1000;
  return lineOf(text, font, size, book).width;
};

const wrap = (paragraph: string, font: Font, size: number, width: number, book: FontBook): string[] => {
  const lines: string[] = [];
  const breaker = new LineBreaker(paragraph);
  let line = '';
  let from = 0;
  for (let next = breaker.nextBreak(); next; next = breaker.nextBreak()) {
    const piece = paragraph.slice(from, next.position);
    from = next.position;
    if (measure((line + piece).trimEnd(), font, size, book) <= width + 0.01) {
      line += piece;
      continue;
    }
    if (line !== '') lines.push(line.trimEnd());
    line = piece;
    while (measure(line.trimEnd(), font, size, book) > width + 0.01) {
      const cut = cutPoint(line, font, size, width, book);
      lines.push(line.slice(0, cut));
      line = line.slice(cut);
    }
  }
  if (line !== '') lines.push(line.trimEnd());
  return lines;
};

/** How many characters of `word` fit; at least one, never half of a surrogate pair. */
const cutPoint = (word: string, font: Font, size: number, width: number, book: FontBook): number => {
  let fits = 0;
  for (const character of word) {
    if (fits > 0 && measure(word.slice(0, fits + character.length), font, size, book) > width + 0.01) break;
    fits += character.length;
  }
  return Math.max(1, Math.min(fits, word.length));
};

const lineOf = (text: string, font: Font, size: number, book: FontBook): TextLine => {
  if (!RIGHT_TO_LEFT.test(text) && font.covers(text)) {
    const width = (font.width(text) * size) / 1000;
    return { runs: text === '' ? [] : [{ text, font, x: 0, width, rtl: false }], width };
  }
  const runs: TextRun[] = [];
  let x = 0;
  for (const piece of visualPieces(text)) {
    for (const part of piece.rtl ? [piece.text] : splitByFont(piece.text, font, book)) {
      const face = book.covering(part, font);
      const thousandths = piece.rtl ? face.shape(part).reduce((sum, g) => sum + g.advance, 0) : face.width(part);
      const width = (thousandths * size) / 1000;
      runs.push({ text: part, font: face, x, width, rtl: piece.rtl });
      x += width;
    }
  }
  return { runs, width: x };
};

/** Pieces of one direction each, in the order in which they stand on the line from left to right. */
const visualPieces = (text: string): { text: string; rtl: boolean }[] => {
  if (!RIGHT_TO_LEFT.test(text)) return [{ text, rtl: false }];
  const { levels } = bidi.getEmbeddingLevels(text);
  const pieces: { text: string; level: number }[] = [];
  for (let i = 0; i < text.length; i++) {
    const last = pieces.at(-1);
    if (last && last.level === levels[i]) last.text += text[i];
    else pieces.push({ text: text[i]!, level: levels[i]! });
  }
  const highest = Math.max(...pieces.map((p) => p.level));
  for (let level = highest; level > 0; level--) {
    for (let start = 0; start < pieces.length; start++) {
      if (pieces[start]!.level < level) continue;
      let end = start;
      while (end < pieces.length && pieces[end]!.level >= level) end++;
      pieces.splice(start, end - start, ...pieces.slice(start, end).reverse());
      start = end;
    }
  }
  return pieces.map((p) => ({ text: p.text, rtl: p.level % 2 === 1 }));
};

/** Cuts where characters must come from a fallback font. */
const splitByFont = (text: string, font: Font, book: FontBook): string[] => {
  const parts: { text: string; font: Font }[] = [];
  for (const character of text) {
    const face = book.covering(character, font);
    const last = parts.at(-1);
    if (last && last.font === face) last.text += character;
    else parts.push({ text: character, font: face });
  }
  return parts.map((p) => p.text);
};
