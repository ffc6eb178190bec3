import type { TextMark } from '../page/page.ts';
import type { Font, FontBook } from '../text/fonts.ts';
import { breakLines, type TextRun } from '../text/lines.ts';

const ELLIPSIS = '…';

/** Longest label that is looked at: what is longer is never shown whole. */
const LONGEST = 300;

/** Words as a label has them: on one line. */
export const labelOf = (text: string): string => text.slice(0, LONGEST).replace(/\s+/g, ' ').trim();

/** How words are put at a place: which end of them stands there, and what they look like. */
export interface Put {
  align?: 'start' | 'middle' | 'end';
  /** Degrees, clockwise, around the place. */
  turn?: number;
  color?: string;
  bold?: boolean;
  tip?: string;
}

/** How wide a text is in thousandths of the type size, as whoever will draw it says. */
export type MeasureText = (text: string, isBold: boolean) => number;

/** Fonts that somebody else draws, known by their widths alone. */
const measuredFonts = (family: string, measure: MeasureText): FontBook => {
  const face = (isBold: boolean): Pick<Font, 'key' | 'plainWidth'> => ({
    key: `${family}/${isBold ? 700 : 400}`,
    plainWidth: (text) => measure(text, isBold),
  });
  return { find: (_: string, isBold: boolean) => face(isBold) } as unknown as FontBook;
};

/** A writer for a screen, whose own fonts draw the words. Size in the unit of the drawing. */
export const measuredWriter = (family: string, size: number, color: string, measure: MeasureText): ChartWriter =>
  new ChartWriter(measuredFonts(family, measure), family, size, color);

/** Writes words of one font and size on one line. Lengths in points. */
export class ChartWriter {
  private readonly font: Font;
  private readonly boldFont: Font;
  private readonly widths = new Map<string, number>();

  constructor(
    readonly book: FontBook,
    readonly family: string,
    readonly size: number,
    readonly color: string,
  ) {
    this.font = book.find(family, false, false);
    this.boldFont = book.find(family, true, false);
  }

  /** The same words in another size. */
  sized(size: number): ChartWriter {
    return size === this.size ? this : new ChartWriter(this.book, this.family, size, this.color);
  }

  /** From one line to the next. */
  get lineHeight(): number {
    return this.size * 1.25;
  }

  /** How far capital letters reach above the line that they stand on. */
  get capHeight(): number {
    return this.size * 0.68;
  }

  private runs(text: string, isBold: boolean): TextRun[] {
    const font = isBold ? this.boldFont : this.font;
    const plain = font.plainWidth(text);
    if (plain >= 0) {
      const width = (plain * this.size) / 1000;
      return [{ text, font, x: 0, width, rtl: false, size: this.size, style: 0 }];
    }
    const [line] = breakLines([{ text, font, size: this.size }], Number.POSITIVE_INFINITY, this.book);
    return line?.runs ?? [];
  }

  width(text: string, isBold = false): number {
    const key = isBold ? `b${text}` : text;
    let found = this.widths.get(key);
    if (found === undefined) {
      found = this.runs(text, isBold).reduce((most, run) => Math.max(most, run.x + run.width), 0);
      if (this.widths.size > 5_000) this.widths.clear();
      this.widths.set(key, found);
    }
    return found;
  }

  /** The words, or as much of them as there is room for; empty when that is less than two letters. */
  shortened(text: string, room: number, isBold = false): string {
    if (this.width(text, isBold) <= room) return text;
    const letters = [...text];
    let [low, high] = [0, letters.length];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      const tried = letters.slice(0, middle).join('').trimEnd() + ELLIPSIS;
      if (this.width(tried, isBold) <= room) low = middle;
      else high = middle - 1;
    }
    return low < 2 ? '' : letters.slice(0, low).join('').trimEnd() + ELLIPSIS;
  }

  /** Marks of words whose baseline stands at a place. */
  put(
    text: string,
    x: number,
    y: number,
    { align = 'start', turn = 0, color, bold = false, tip }: Put = {},
  ): TextMark[] {
    if (text === '') return [];
    const runs = this.runs(text, bold);
    const width = this.width(text, bold);
    const before = align === 'start' ? 0 : align === 'middle' ? width / 2 : width;
    const angle = (turn * Math.PI) / 180;
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    return runs.map((run) => {
      const along = run.x - before;
      const mark: TextMark = {
        kind: 'text',
        x: x + along * cos,
        y: y + along * sin,
        text: run.text,
        font: run.font.key,
        size: this.size,
        color: color ?? this.color,
        width: run.width,
        as: 'drawing',
      };
      if (run.rtl) mark.rtl = true;
      if (turn !== 0) mark.turn = turn;
      if (tip !== undefined) mark.tip = tip;
      return mark;
    });
  }
}
