import type { EvaluationContext, PageValues } from '../../formula/functions/context.ts';
import type { LaidMark } from '../../layout/block.ts';
import { type LayingOut, POINTS } from '../../layout/prepared.ts';
import type { LineMark, Mark, TextMark } from '../../page/page.ts';
import { problem } from '../../problems/problem.ts';
import type { FontBook } from '../../text/fonts.ts';
import { formatValue } from '../../text/format.ts';
import { breakLines, type StyledText, type TextLine } from '../../text/lines.ts';
import { isNumeric, toNumber } from '../../value/number.ts';
import type { PreparedCell, PreparedPiece, PreparedText, TextStyle } from './prepared.ts';

/** Smallest share of its size that type shrinks to. */
const LEAST_SHRUNK = 0.4;

/** Text with its looks, pieces without content left out. */
interface Said {
  text: string;
  style: TextStyle;
}

const sayPiece = ({ content }: PreparedPiece, context: EvaluationContext): string => {
  if (typeof content === 'string') return content;
  const value = content.evaluate(context);
  // A text of nothing, as a file may have, is as blank to who reads it.
  if (content.blank !== null && (value === null || value === '')) return content.blank;
  return formatValue(value, content.format, context.report);
};

/** The text of an item, no longer than it may be. */
const say = (item: PreparedText, context: EvaluationContext, most: number, tell?: LayingOut['tell']): Said[] => {
  const said = sayAll(item, context);
  let left = most;
  for (const one of said) {
    if (one.text.length > left) {
      one.text = `${one.text.slice(0, left)}…`;
      tell?.(problem('text-too-long', { item: item.id }, { limit: most }, 'warning'));
      left = 0;
    } else left -= one.text.length;
  }
  return said;
};

const sayAll = (item: PreparedText, context: EvaluationContext): Said[] => {
  const [first] = item.pieces;
  if (first && item.pieces.length === 1) return [{ text: sayPiece(first, context), style: first.style }];
  const said: Said[] = [];
  for (const piece of item.pieces) {
    const text = sayPiece(piece, context);
    const { style } = piece;
    const last = said.at(-1);
    if (last && last.style === style) last.text += text;
    else said.push({ text, style });
  }
  return said;
};

/** Text that stands on one line as it is, as most cells do; null for any other. Points. */
const plainLine = (item: PreparedText, text: string, room: number): TextLine | null => {
  const { font, size } = item.style;
  const width = (font.plainWidth(text) * size) / 1000;
  if (width < 0 || width > room + 0.01) return null;
  return { runs: [{ text, font, x: 0, width, rtl: false, size, style: 0 }], width, size, ends: true };
};

const isBlank = (said: readonly Said[]): boolean => {
  for (const { text } of said) if (text !== '') return false;
  return true;
};

/** Lays a text item out with its top at `top`; gives the height that it takes. */
export const layText = (given: PreparedText, top: number, out: LayingOut): number => {
  const { context } = out;
  let item = given;
  if (given.highlights.length > 0) {
    const holding = given.highlights.flatMap(({ when }, i) => (when(context) === true ? [i] : []));
    out.formulas += given.highlights.length;
    if (holding.some((i) => given.highlights[i]!.hide)) return given.box.height;
    item = given.variant(holding);
  }
  out.formulas += item.formulas;
  const indent = item.indent ? indentOf(item.indent(context)) : 0;
  if (item.depends === 'none') {
    const cell = item.cell && layCell(item, item.cell, top, out);
    if (cell !== null) return cell;
    const said = say(item, context, out.limits.maxText, out.tell);
    if (item.formulas > 0 && !isBlank(said)) out.hasContent = true;
    return setText(item, said, 0, top, indent, out.book, out.marks);
  }
  out.hasContent = true;
  // The page is not known yet: keep what the formulas read, and set the text when it is. Its box does not grow.
  const make = settingLater(item, { ...context, ...keep(item, out) }, indent, out);
  out.marks.push({ kind: 'late', x: 0, y: top, height: item.box.height, needs: item.depends, make });
  return item.box.height;
};

/** Sets an item whose text stands on one line as it is; null, with nothing done, when it does not. */
const layCell = (item: PreparedText, cell: PreparedCell, top: number, out: LayingOut): number | null => {
  const { font, size, color } = item.style;
  const text = sayPiece(item.pieces[0]!, out.context);
  if (text === '') return cell.height;
  const width = (font.plainWidth(text) * size) / 1000;
  if (width < 0 || width > cell.room + 0.01) return null;
  if (item.formulas > 0) out.hasContent = true;
  const x = cell.x + cell.lead * (cell.room - width);
  out.marks.push({ kind: 'text', x, y: top + cell.baseline, text, font: font.key, size, color, width, item: item.id });
  return cell.height;
};

/** Sets text once its page is known. Holds no more than it is given. */
const settingLater =
  (item: PreparedText, context: EvaluationContext, indent: number, { book, limits }: LayingOut) =>
  (page: PageValues): Mark[] => {
    const marks: Mark[] = [];
    setText(item, say(item, { ...context, page }, limits.maxText), 0, 0, indent, book, marks);
    return marks;
  };

/** What a text that is laid out later reads. Most read page numbers alone, and a long report has one on every page. */
const keep = (item: PreparedText, { context, totals }: LayingOut): Partial<EvaluationContext> => {
  const kept: Partial<EvaluationContext> = {};
  if (item.slots.length > 0) kept.totals = totals.freeze(item.slots);
  // A nested report's parameters change from one instance to the next.
  if (item.readsRows)
    Object.assign(kept, { rows: [...context.rows], before: [...context.before], parameters: context.parameters });
  return kept;
};

const indentOf = (value: unknown): number => (isNumeric(value) ? Math.max(0, toNumber(value)) * POINTS : 0);

/** Sets words in the box of a prepared text, with its top at `top`; gives the height that they take. */
export const setWords = (
  text: PreparedText,
  words: string,
  top: number,
  book: FontBook,
  marks: (Mark | LaidMark)[],
): number =>
  words === '' ? text.box.height : setText(text, [{ text: words, style: text.style }], 0, top, 0, book, marks);

/** Sets text in the item's box, moved to `top`; gives the height that it takes, padding included. */
const setText = (
  item: PreparedText,
  said: readonly Said[],
  left: number,
  top: number,
  indent: number,
  book: FontBook,
  marks: (Mark | LaidMark)[],
): number => {
  const { padding, turn } = item;
  const box = { ...item.box, x: left + item.box.x + indent, width: Math.max(1, item.box.width - indent) };
  const isEmpty = isBlank(said);
  if (turn !== 0) {
    frame(item, box, top, box.height, marks);
    if (!isEmpty) setTurned(item, said, box, top, book, marks);
    return box.height;
  }
  const room = box.width - padding.left - padding.right;
  const around = padding.top + padding.bottom;
  if (isEmpty) {
    const height = item.shrink ? 0 : box.height;
    if (height > 0) frame(item, box, top, height, marks);
    return height;
  }
  const lines = fitted(item, said, room, box.height - around, book);
  const textHeight = heightOf(item, lines);
  // A box a little lower than its one line, as a tight row has, is no reason to grow.
  const needed = lines.length === 1 ? Math.min(box.height, textHeight + around) : textHeight + around;
  const height = item.grow && needed > box.height ? needed : item.shrink ? Math.min(needed, box.height) : box.height;
  frame(item, box, top, height, marks);
  const free = height - around - textHeight;
  const offset = item.stands === 'top' ? 0 : item.stands === 'middle' ? free / 2 : free;
  let y = top + padding.top + offset;
  const textTop = marks.length;
  for (const line of lines) {
    const lineHeight = line.size * item.spacing;
    if (!item.grow && y > top + height - lineHeight * 0.5 && y > top + padding.top) {
      item.cutOff.add(item.id);
      break;
    }
    setLine(item, said, line, box.x + padding.left, y, room, marks);
    y += lineHeight;
  }
  if (item.outline !== null && marks[textTop]) {
    for (let i = textTop; i < marks.length; i++) {
      const mark = marks[i]!;
      if (mark.kind === 'text') mark.as = 'heading';
    }
    const title = said
      .map((s) => s.text)
      .join('')
      .replace(/\s+/g, ' ')
      .trim();
    marks.push({ kind: 'outline', x: box.x, y: top, level: item.outline, title, item: item.id });
  }
  return height;
};

const heightOf = (item: PreparedText, lines: readonly TextLine[]): number => {
  let height = 0;
  for (const line of lines) height += line.size * item.spacing;
  return height;
};

/** The text's lines; with smaller type where it is to fit its box. */
const fitted = (item: PreparedText, said: readonly Said[], room: number, high: number, book: FontBook): TextLine[] => {
  const only = said.length === 1 ? said[0]! : null;
  const plain = only && only.style === item.style ? plainLine(item, only.text, room) : null;
  if (plain) return [plain];
  const lines = linesOf(said, 1, room, book);
  if (!item.shrinksType || fits(item, lines, room, high)) return lines;
  let [low, top] = [LEAST_SHRUNK, 1];
  let best = linesOf(said, low, room, book);
  for (let step = 0; step < 7; step++) {
    const middle = (low + top) / 2;
    const tried = linesOf(said, middle, room, book);
    if (fits(item, tried, room, high)) {
      best = tried;
      low = middle;
    } else top = middle;
  }
  return best;
};

/** A single line may be a little higher than its box, as a tight row has it. */
const fits = (item: PreparedText, lines: readonly TextLine[], room: number, high: number): boolean =>
  (lines.length === 1 || heightOf(item, lines) <= high + 0.01) && lines.every((line) => line.width <= room + 0.01);

/** The sizes of `said` scaled; runs carry their place in `said`. */
const linesOf = (said: readonly Said[], scale: number, room: number, book: FontBook): TextLine[] => {
  const styled: StyledText[] = said.map(({ text, style }) => ({ text, font: style.font, size: style.size * scale }));
  return breakLines(styled, room, book);
};

const setLine = (
  item: PreparedText,
  said: readonly Said[],
  line: TextLine,
  x: number,
  top: number,
  room: number,
  marks: (Mark | LaidMark)[],
): void => {
  const free = room - line.width;
  const { align } = item;
  const [only] = line.runs;
  const start = x + (align === 'right' ? free : align === 'center' ? free / 2 : 0);
  const lead = only && !only.rtl ? only.font : (line.runs.find((run) => !run.rtl)?.font ?? item.style.font);
  const { ascent, descent } = lead;
  const lineHeight = line.size * item.spacing;
  const baseline = top + (lineHeight - ((ascent + descent) * line.size) / 1000) / 2 + (ascent * line.size) / 1000;
  if (only && line.runs.length === 1 && align !== 'justify') {
    const { style } = said[only.style]!;
    marks.push(textMark(item, style, only.text, only.font.key, only.size, start, baseline, only.width, only.rtl));
    if (style.underline || style.strike) lineThrough(item, style, only.size, start, baseline, only.width, marks);
    return;
  }
  const spread = align === 'justify' && !line.ends && free > 0 && line.runs.every((run) => !run.rtl);
  const gaps = spread ? line.runs.reduce((sum, run) => sum + (run.text.match(/ /g)?.length ?? 0), 0) : 0;
  const extra = gaps > 0 ? free / gaps : 0;
  let moved = 0;
  for (const run of line.runs) {
    const { style } = said[run.style]!;
    const { size } = run;
    if (extra === 0) {
      marks.push(textMark(item, style, run.text, run.font.key, size, start + run.x, baseline, run.width, run.rtl));
      lineThrough(item, style, size, start + run.x, baseline, run.width, marks);
      continue;
    }
    let at = start + run.x + moved;
    for (const word of run.text.split(/(?<= )/)) {
      const width = (run.font.width(word) * size) / 1000;
      const spaces = word.endsWith(' ') ? extra : 0;
      marks.push(textMark(item, style, word, run.font.key, size, at, baseline, width, false));
      lineThrough(item, style, size, at, baseline, width + spaces, marks);
      at += width + spaces;
      moved += spaces;
    }
  }
};

const textMark = (
  item: PreparedText,
  style: TextStyle,
  text: string,
  font: string,
  size: number,
  x: number,
  y: number,
  width: number,
  rtl: boolean,
): TextMark => {
  const mark: TextMark = { kind: 'text', x, y, text, font, size, color: style.color, width, item: item.id };
  if (rtl) mark.rtl = true;
  if (item.opacity < 1) mark.opacity = item.opacity;
  return mark;
};

/** The lines under and through a stretch of text, where its style has them. */
const lineThrough = (
  item: PreparedText,
  style: TextStyle,
  size: number,
  x: number,
  baseline: number,
  width: number,
  marks: (Mark | LaidMark)[],
): void => {
  if (style.underline) marks.push(ruleAt(item, style, size, x, baseline + size * 0.13, width));
  if (style.strike) marks.push(ruleAt(item, style, size, x, baseline - size * 0.28, width));
};

const ruleAt = (item: PreparedText, style: TextStyle, size: number, x: number, y: number, width: number): LineMark => ({
  kind: 'line',
  x,
  y,
  x2: x + width,
  y2: y,
  color: style.color,
  thickness: size / 16,
  item: item.id,
  ...(item.opacity < 1 ? { opacity: item.opacity } : {}),
});

/** Background and border of a box. */
const frame = (
  item: PreparedText,
  box: { x: number; width: number },
  top: number,
  height: number,
  marks: (Mark | LaidMark)[],
): void => {
  const { background, border, radius, opacity } = item;
  if (!background && !border) return;
  const seen = { item: item.id, ...(opacity < 1 ? { opacity } : {}) };
  const { x, width } = box;
  const edges = border ? Object.values(border) : [];
  const [first] = edges;
  const even =
    first &&
    edges.length === 4 &&
    edges.every((e) => e.width === first.width && e.color === first.color && String(e.dash) === String(first.dash));
  if (background || even) {
    marks.push({
      kind: 'rectangle',
      x,
      y: top,
      width,
      height,
      ...seen,
      ...(background ? { fill: background } : {}),
      ...(even ? { stroke: first.color, thickness: first.width, ...(first.dash ? { dash: first.dash } : {}) } : {}),
      ...(radius > 0 ? { radius } : {}),
    });
  }
  if (!border || even) return;
  const ends = {
    top: [x, top, x + width, top],
    right: [x + width, top, x + width, top + height],
    bottom: [x, top + height, x + width, top + height],
    left: [x, top, x, top + height],
  } as const;
  for (const [side, edge] of Object.entries(border) as [keyof typeof ends, NonNullable<typeof first>][]) {
    const [x1, y, x2, y2] = ends[side];
    marks.push({
      kind: 'line',
      x: x1,
      y,
      x2,
      y2,
      color: edge.color,
      thickness: edge.width,
      ...(edge.dash ? { dash: edge.dash } : {}),
      ...seen,
    });
  }
};

/** Text turned around the middle of its box. It is broken to the length that the box has in its direction. */
const setTurned = (
  item: PreparedText,
  said: readonly Said[],
  box: { x: number; width: number; height: number },
  top: number,
  book: FontBook,
  marks: (Mark | LaidMark)[],
): void => {
  const angle = (item.turn * Math.PI) / 180;
  const [sin, cos] = [Math.sin(angle), Math.cos(angle)];
  // How far the box reaches along the text and across it.
  const long = box.width * Math.abs(cos) + box.height * Math.abs(sin);
  const high = box.width * Math.abs(sin) + box.height * Math.abs(cos);
  const { padding } = item;
  const room = long - padding.left - padding.right;
  const lines = fitted(item, said, room, high - padding.top - padding.bottom, book);
  const textHeight = heightOf(item, lines);
  const free = high - padding.top - padding.bottom - textHeight;
  let y = padding.top + (item.stands === 'top' ? 0 : item.stands === 'middle' ? free / 2 : free);
  const set: (Mark | LaidMark)[] = [];
  for (const line of lines) {
    setLine(item, said, line, padding.left, y, room, set);
    y += line.size * item.spacing;
  }
  const centre = { x: box.x + box.width / 2, y: top + box.height / 2 };
  const turned = (px: number, py: number): { x: number; y: number } => {
    const [dx, dy] = [px - long / 2, py - high / 2];
    return { x: centre.x + dx * cos - dy * sin, y: centre.y + dx * sin + dy * cos };
  };
  for (const mark of set) {
    if (mark.kind === 'text') marks.push({ ...mark, ...turned(mark.x, mark.y), turn: item.turn });
    else if (mark.kind === 'line') {
      const end = turned(mark.x2, mark.y2);
      marks.push({ ...mark, ...turned(mark.x, mark.y), x2: end.x, y2: end.y });
    }
  }
};
