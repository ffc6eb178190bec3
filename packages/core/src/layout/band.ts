import type { EvaluationContext } from '../formula/context.ts';
import type { Mark, TextMark } from '../page/page.ts';
import type { Font, FontBook } from '../text/fonts.ts';
import { formatValue } from '../text/format.ts';
import { breakLines } from '../text/lines.ts';
import { Picture } from '../value/value.ts';
import type { Block, LaidMark, PagePlace } from './block.ts';
import { layPicture } from './picture.ts';
import { POINTS, type PreparedBand, type PreparedItem, type PreparedText } from './prepare.ts';

/** Distance of baselines, as a multiple of the type size. */
export const LINE_SPACING = 1.25;

/** Which of a band's items to lay out, and how far up to move them: a band with subreports is laid out in parts. */
export interface BandPart {
  includes: (item: PreparedItem) => boolean;
  from: number;
  height: number;
}

/**
 * Lays out one instance of a band for the rows that are current in `context`. Text that needs more room than its box
 * makes the band grow, and moves what stands below it.
 */
export const layBand = (
  prepared: PreparedBand,
  context: EvaluationContext,
  book: FontBook,
  part: BandPart | null = null,
): Block => {
  const marks: LaidMark[] = [];
  const declared = part ? part.height : prepared.height;
  const grown: { bottom: number; by: number; left: number; right: number }[] = [];
  let lowest = 0;
  let lowestGrown = 0;
  for (const item of prepared.items) {
    if (part && !part.includes(item)) continue;
    const { box } = item;
    const top = box.y - (part?.from ?? 0);
    let shift = 0;
    for (const above of grown) {
      if (box.y + 0.01 >= above.bottom && box.x < above.right && box.x + box.width > above.left)
        shift = Math.max(shift, above.by);
    }
    const used = layItem(item, top + shift, context, book, marks);
    const by = shift + Math.max(0, used - box.height);
    lowest = Math.max(lowest, top + box.height);
    lowestGrown = Math.max(lowestGrown, top + box.height + by);
    if (by > 0.01) grown.push({ bottom: box.y + box.height, by, left: box.x, right: box.x + box.width });
  }
  // The room that the band keeps below its lowest item stays.
  const height = declared + Math.max(0, lowestGrown - lowest);
  const { background } = prepared.band;
  if (background && !part) {
    marks.unshift({ kind: 'rectangle', x: 0, y: 0, width: prepared.width, height, fill: background });
  }
  return { height, marks };
};

/** Adds the item's marks with its top at `top`; gives the height it needs. */
const layItem = (
  item: PreparedItem,
  top: number,
  context: EvaluationContext,
  book: FontBook,
  marks: LaidMark[],
): number => {
  const { x, width, height } = item.box;
  switch (item.kind) {
    case 'words':
      return layWords(item, top, context, book, marks);
    case 'picture': {
      const value = item.evaluate ? item.evaluate(context) : (item.item.source ?? null);
      const source = value instanceof Picture ? value.toString() : typeof value === 'string' ? value : null;
      const mark = source ? layPicture(source, item.item, { x, y: top, width, height }) : null;
      if (mark) marks.push(mark);
      return height;
    }
    case 'line': {
      const { color, thickness, dash, id } = item.item;
      const points = thickness * POINTS;
      marks.push({
        kind: 'line',
        x,
        y: top,
        x2: x + width,
        y2: top + height,
        color,
        thickness: points,
        item: id,
        ...(dash === 'solid' ? {} : { dash: dash === 'dashed' ? [points * 4, points * 2] : [points, points * 2] }),
      });
      return height;
    }
    case 'rectangle': {
      const { fill, stroke, thickness, radius, id } = item.item;
      marks.push({
        kind: 'rectangle',
        x,
        y: top,
        width,
        height,
        item: id,
        ...(fill ? { fill } : {}),
        ...(stroke ? { stroke, thickness: thickness * POINTS } : {}),
        ...(radius ? { radius: radius * POINTS } : {}),
      });
      return height;
    }
    default:
      return item satisfies never;
  }
};

const textOf = (item: PreparedText, context: EvaluationContext): string => {
  let text = '';
  for (const piece of item.pieces) {
    text += typeof piece === 'string' ? piece : formatValue(piece.evaluate(context), piece.format, context.report);
  }
  return text;
};

const layWords = (
  item: PreparedText,
  top: number,
  context: EvaluationContext,
  book: FontBook,
  marks: LaidMark[],
): number => {
  if (item.depends === 'none' || (item.depends === 'number' && context.page.number > 0)) {
    return wordMarks(item, textOf(item, context), 0, top, book, marks);
  }
  // The page is not known yet: keep what the formula reads, and lay the text out when it is. Its box does not grow.
  const kept: EvaluationContext = { ...context, rows: [...context.rows], totals: [...context.totals] };
  marks.push({
    kind: 'late',
    x: 0,
    y: top,
    height: item.box.height,
    needs: item.depends,
    make: (page: PagePlace): Mark[] => {
      const made: Mark[] = [];
      wordMarks(item, textOf(item, { ...kept, page }), 0, 0, book, made);
      return made;
    },
  });
  return item.box.height;
};

/** Sets text in the item's box, moved to `top`; gives the height that it needs, padding included. */
const wordMarks = (
  item: PreparedText,
  text: string,
  left: number,
  top: number,
  book: FontBook,
  marks: LaidMark[],
): number => {
  const { box, font, size, padding } = item;
  const room = box.width - 2 * padding;
  if (text === '') {
    if (item.background) marks.push(fill(item, left, top, box.height));
    return box.height;
  }
  const plain = (font.plainWidth(text) * size) / 1000;
  // Null for text that stands on one line as it is, as most cells do: no lines and runs are made for it.
  const lines = plain >= 0 && plain <= room + 0.01 ? null : breakLines(text, font, size, room, book);
  const count = lines?.length ?? 1;
  const lineHeight = size * LINE_SPACING;
  const textHeight = count * lineHeight;
  // A box a little lower than its one line, as a tight row has, is no reason to grow.
  const needed = count === 1 ? Math.min(box.height, textHeight + 2 * padding) : textHeight + 2 * padding;
  const height = Math.max(box.height, needed);
  if (item.background) marks.push(fill(item, left, top, height));
  const free = height - 2 * padding - textHeight;
  const offset = item.stands === 'top' ? 0 : item.stands === 'middle' ? free / 2 : free;
  const above = (lineHeight - ((font.ascent + font.descent) * size) / 1000) / 2 + (font.ascent * size) / 1000;
  let baseline = top + padding + offset + above;
  const start = left + box.x + padding;
  if (lines === null) marks.push(textMark(item, text, font, start + indent(item, room - plain), baseline, plain));
  else {
    for (const line of lines) {
      const x = start + indent(item, room - line.width);
      for (const run of line.runs) {
        const mark = textMark(item, run.text, run.font, x + run.x, baseline, run.width);
        if (run.rtl) mark.rtl = true;
        marks.push(mark);
      }
      baseline += lineHeight;
    }
  }
  return height;
};

const fill = (item: PreparedText, left: number, top: number, height: number): Mark => ({
  kind: 'rectangle',
  x: left + item.box.x,
  y: top,
  width: item.box.width,
  height,
  fill: item.background!,
  item: item.id,
});

/** How far a line starts from the left of its room. */
const indent = ({ align }: PreparedText, free: number): number =>
  align === 'left' ? 0 : align === 'right' ? free : free / 2;

const textMark = (item: PreparedText, text: string, font: Font, x: number, y: number, width: number): TextMark => ({
  kind: 'text',
  x,
  y,
  text,
  font: font.key,
  size: item.size,
  color: item.color,
  width,
  item: item.id,
});
