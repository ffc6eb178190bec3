import type { TextContent, TextRun } from '../../content/pieces.ts';
import type { ItemOf } from '../../definition/schema.ts';
import type { Compiled } from '../../formula/functions/context.ts';
import type { LaidMark } from '../../layout/block.ts';
import { DEFAULT_LOOK } from '../../layout/default-look.ts';
import { type Box, type LayingOut, POINTS, type PreparedCommon, type PreparedItem } from '../../layout/prepared.ts';
import { type PrepareItem, shownBy } from '../../layout/preparing.ts';
import type { TextMark } from '../../page/page.ts';
import { problem } from '../../problems/problem.ts';
import type { Font, FontBook } from '../../text/fonts.ts';
import { breakLines } from '../../text/lines.ts';
import { FormulaError, valueText } from '../../value/value.ts';
import { type FormBlock, type FormRun, formOf } from './form.ts';

/** Sizes of headings as multiples of the text around. */
const HEADINGS = [1, 1.6, 1.35, 1.15, 1.05, 1, 1] as const;
/** By which lists and quotations stand further in. */
const INDENT = 5 * POINTS;
/** Between paragraphs, between items of a list, and before headings, as multiples of the type size. */
const GAPS = { paragraph: 0.55, item: 0.15, heading: 0.9 } as const;
const CELL_PADDING = 2.5;
const LINK = '#1f5c4d';
const RULE = '#c9cdc6';
const ERROR = '#b3402e';
/** Texts whose form is kept ready, since huts and people come again. */
const MOST_KEPT = 200;

export const prepareFormatted: PrepareItem<'formatted'> = ({ item, formulas }, common, preparing) => {
  const evaluate = shownBy(formulas.formula);
  return evaluate ? itemOf(item, evaluate, common, new Map()) : preparing.broken(common);
};

type Kept = Map<string, ReturnType<typeof formOf>>;

const itemOf = (item: ItemOf<'formatted'>, evaluate: Compiled, common: PreparedCommon, kept: Kept): PreparedItem => ({
  ...common,
  stretches: false,
  absentHeight: item.shrink ? 0 : common.box.height,
  lay: (top, out) => lay(item, evaluate, common.box, top, out, kept),
  deciding: {
    shapes: {},
    look: null,
    styles: null,
    withSettings: (box) => itemOf(item, evaluate, { ...common, box }, kept),
  },
});

const lay = (
  item: ItemOf<'formatted'>,
  evaluate: Compiled,
  box: Box,
  top: number,
  out: LayingOut,
  kept: Kept,
): number => {
  out.formulas++;
  const value = evaluate(out.context);
  const least = item.shrink ? 0 : box.height;
  if (value === null || value === '') return least;
  out.hasContent = true;
  const wrong = value instanceof FormulaError;
  let text = wrong ? value.code : valueText(value);
  const { maxText } = out.limits;
  if (text.length > maxText) {
    text = `${text.slice(0, maxText)}…`;
    out.tell(problem('text-too-long', { item: item.id }, { limit: maxText }, 'warning'));
  }
  let form = kept.get(text);
  if (!form) {
    form = formOf(text, item.written);
    if (kept.size >= MOST_KEPT) kept.clear();
    kept.set(text, form);
  }
  if (form.unknown.length > 0)
    out.tell(
      problem('form-shown-as-text', { item: item.id }, { names: form.unknown.slice(0, 5).join(', ') }, 'warning'),
    );
  const writer = new FormWriter(item, out, wrong ? ERROR : null);
  return Math.max(least, writer.blocks(form.blocks, box.x, top, box.width));
};

/** Sets blocks of text with form below one another. Points. */
class FormWriter {
  private readonly size: number;
  private readonly color: string;
  private readonly spacing: number;

  private readonly book: FontBook;
  private readonly marks: LaidMark[];
  private readonly isLiving: boolean;
  /** Paragraphs and cells so far. */
  private parts = 0;

  constructor(
    private readonly item: ItemOf<'formatted'>,
    { book, marks, isLiving }: Pick<LayingOut, 'book' | 'marks' | 'isLiving'>,
    color: string | null,
  ) {
    this.book = book;
    this.marks = marks;
    this.isLiving = isLiving;
    const { look = {} } = item;
    this.size = look.size ?? DEFAULT_LOOK.size;
    this.color = color ?? look.color ?? DEFAULT_LOOK.color;
    this.spacing = look.spacing ?? DEFAULT_LOOK.spacing;
  }

  /** Gives the height that they take. */
  blocks(blocks: readonly FormBlock[], x: number, top: number, width: number): number {
    let y = top;
    for (const [i, block] of blocks.entries()) {
      if (i > 0) y += this.gap(block, blocks[i - 1]!);
      const left = x + block.indent * INDENT;
      const room = Math.max(20, width - block.indent * INDENT);
      switch (block.kind) {
        case 'paragraph':
          y += this.paragraph(block, left, y, room);
          break;
        case 'rule':
          this.marks.push(this.line(left, y + 2, left + room, y + 2));
          y += 4;
          break;
        case 'table':
          y += this.table(block.rows, left, y, room);
          break;
        default:
          block satisfies never;
      }
    }
    return y - top;
  }

  private gap(block: FormBlock, before: FormBlock): number {
    const isItem = (one: FormBlock): boolean => one.kind === 'paragraph' && one.mark !== null;
    const kind =
      block.kind === 'paragraph' && block.level > 0
        ? 'heading'
        : isItem(block) && isItem(before)
          ? 'item'
          : 'paragraph';
    return this.size * GAPS[kind];
  }

  private paragraph(
    { runs, level, mark, indent }: FormBlock & { kind: 'paragraph' },
    x: number,
    top: number,
    width: number,
  ): number {
    const size = this.size * HEADINGS[level]!;
    if (this.isLiving) {
      const listed = mark === null ? {} : { listed: { mark, depth: Math.max(0, indent - 1) } };
      const heading = level > 0 ? { as: 'heading' as const, level } : {};
      return this.piece(runs, x, top, width, size, level > 0, { ...listed, ...heading });
    }
    const first = this.marks.length;
    const height = this.runs(runs, x, top, width, size, level > 0);
    this.say(first, level > 0 ? { as: 'heading', level } : mark === null ? {} : { as: 'item' });
    if (mark !== null) {
      const font = this.font({ text: '' }, false);
      const wide = (font.width(mark) * size) / 1000;
      const label = this.marks.length;
      this.word(mark, font, size, this.color, x - wide - 4, top, size, wide);
      this.say(label, { as: 'label' });
    }
    return height;
  }

  /** Says of the texts since one of the marks what they are, as one part of the item. */
  private say(first: number, more: Pick<TextMark, 'as' | 'level'>): void {
    const part = this.parts++;
    for (let i = first; i < this.marks.length; i++) {
      const one = this.marks[i]!;
      if (one.kind === 'text') Object.assign(one, { part, ...more });
    }
  }

  private font(run: FormRun, isHeading: boolean): Font {
    const { look = {} } = this.item;
    const bold = run.bold || isHeading || look.bold || false;
    return this.book.find(look.font ?? '', bold, run.italic || look.italic || false);
  }

  /** Words in lines that are no wider than `width`; gives their height. */
  private runs(
    runs: readonly FormRun[],
    x: number,
    top: number,
    width: number,
    size: number,
    isHeading: boolean,
  ): number {
    if (this.isLiving) return this.piece(runs, x, top, width, size, isHeading, isHeading ? { as: 'header' } : {});
    const styled = runs.map((run) => ({ text: run.text, font: this.font(run, isHeading), size }));
    let y = top;
    for (const line of breakLines(styled, width, this.book)) {
      for (const part of line.runs) {
        const run = runs[part.style]!;
        const left = x + part.x;
        const color = run.address ? LINK : this.color;
        this.word(part.text, part.font, part.size, color, left, y, line.size, part.width, part.rtl);
        const baseline = this.baseline(part.font, line.size, y);
        if (run.underline || run.address) this.marks.push(this.under(left, baseline + size * 0.13, part.width, color));
        if (run.strike) this.marks.push(this.under(left, baseline - size * 0.28, part.width, color));
        if (run.address)
          this.marks.push({
            kind: 'link',
            x: left,
            y,
            width: part.width,
            height: line.size * this.spacing,
            to: { address: run.address },
          });
      }
      y += line.size * this.spacing;
    }
    return y - top;
  }

  /** Words as a piece of a document that goes on living; gives their height. */
  private piece(
    runs: readonly FormRun[],
    x: number,
    top: number,
    width: number,
    size: number,
    isHeading: boolean,
    more: Partial<TextContent>,
  ): number {
    const fonts = runs.map((run) => this.font(run, isHeading));
    const lines = breakLines(
      runs.map(({ text }, i) => ({ text, font: fonts[i]!, size })),
      width,
      this.book,
    );
    const height = lines.reduce((sum, line) => sum + line.size * this.spacing, 0);
    const { look = {} } = this.item;
    const texts = runs.map((run, i): TextRun => {
      const { bold = false, italic = false } = look;
      return {
        text: run.text,
        look: {
          family: fonts[i]!.file.family,
          size,
          bold: run.bold || isHeading || bold,
          italic: run.italic || italic,
          underline: run.underline || run.address !== undefined,
          strike: run.strike ?? false,
          color: run.address ? LINK : this.color,
        },
        ...(run.address ? { to: { address: run.address } } : {}),
      };
    });
    const piece: TextContent = {
      kind: 'text',
      runs: texts,
      align: 'left',
      stands: 'top',
      padding: { top: 0, right: 0, bottom: 0, left: 0 },
      spacing: this.spacing,
      wraps: true,
      turn: 0,
      ...more,
    };
    this.marks.push({ kind: 'piece', x, y: top, width, height, item: this.item.id, piece });
    return height;
  }

  private baseline({ ascent, descent }: Font, size: number, top: number): number {
    return top + (size * this.spacing - ((ascent + descent) * size) / 1000) / 2 + (ascent * size) / 1000;
  }

  private word(
    text: string,
    font: Font,
    size: number,
    color: string,
    x: number,
    top: number,
    lineSize: number,
    width: number,
    rtl = false,
  ): void {
    const y = this.baseline(font, lineSize, top);
    const mark = { kind: 'text' as const, x, y, text, font: font.key, size, color, width, item: this.item.id };
    this.marks.push(rtl ? { ...mark, rtl: true as const } : mark);
  }

  private table(rows: (FormBlock & { kind: 'table' })['rows'], x: number, top: number, width: number): number {
    const count = Math.max(1, ...rows.map(({ cells }) => cells.length));
    const wide = width / count;
    let y = top;
    for (const { cells, isHead } of rows) {
      let height = this.size * this.spacing;
      for (const [i, cell] of cells.entries()) {
        const first = this.marks.length;
        const left = x + i * wide + CELL_PADDING;
        const used = this.runs(cell, left, y + CELL_PADDING, wide - 2 * CELL_PADDING, this.size, isHead);
        this.say(first, isHead ? { as: 'header' } : {});
        height = Math.max(height, used);
      }
      y += height + 2 * CELL_PADDING;
      this.marks.push(this.line(x, y, x + width, y, isHead ? 0.8 : 0.4));
    }
    return y - top;
  }

  private line(x: number, y: number, x2: number, y2: number, thickness = 0.6): LaidMark {
    return { kind: 'line', x, y, x2, y2, color: RULE, thickness, item: this.item.id };
  }

  private under(x: number, y: number, width: number, color: string): LaidMark {
    return { kind: 'line', x, y, x2: x + width, y2: y, color, thickness: this.size / 18, item: this.item.id };
  }
}
