import type { LaidMark } from '../../layout/block.ts';
import type { Box } from '../../layout/prepared.ts';
import type { LineMark, TextMark } from '../../page/page.ts';
import type { FontBook } from '../../text/fonts.ts';
import { breakLines, type StyledText, type TextLine } from '../../text/lines.ts';
import type { PreparedText, TextStyle } from './prepared.ts';
import { isBlank, type Said } from './say.ts';

/** Smallest share of its size that type shrinks to. */
const LEAST_SHRUNK = 0.4;

/** Text that stands on one line as it is, as most cells do; null for any other. Points. */
const plainLine = (item: PreparedText, text: string, room: number): TextLine | null => {
  const { font, size } = item.style;
  const width = (font.plainWidth(text) * size) / 1000;
  if (width < 0 || width > room + 0.01) return null;
  return { runs: [{ text, font, x: 0, width, rtl: false, size, style: 0 }], width, size, ends: true };
};

/** The box of a text that starts so far to the right of its place. */
export const boxIn = (item: PreparedText, left: number, indent: number): Box => ({
  ...item.box,
  x: left + item.box.x + (item.indentsRight ? 0 : indent),
  width: Math.max(1, item.box.width - indent),
});

/** The lines of text that is not turned, and the height that its box takes for them. */
const measured = (item: PreparedText, said: readonly Said[], box: Box, book: FontBook) => {
  const { padding } = item;
  const around = padding.top + padding.bottom;
  const lines = fitted(item, said, box.width - padding.left - padding.right, box.height - around, book);
  const textHeight = heightOf(item, lines);
  // A box a little lower than its one line, as a tight row has, is no reason to grow.
  const needed = lines.length === 1 ? Math.min(box.height, textHeight + around) : textHeight + around;
  const height = item.grow && needed > box.height ? needed : item.shrink ? Math.min(needed, box.height) : box.height;
  return { lines, textHeight, height };
};

/** The height that a text takes in its box. */
export const heightIn = (item: PreparedText, said: readonly Said[], box: Box, book: FontBook): number => {
  if (item.turn !== 0) return item.box.height;
  if (isBlank(said)) return item.shrink ? 0 : item.box.height;
  return measured(item, said, box, book).height;
};

/** Sets text in the item's box, moved to `top`; gives the height that it takes, padding included. */
export const setText = (
  item: PreparedText,
  said: readonly Said[],
  left: number,
  top: number,
  indent: number,
  book: FontBook,
  marks: LaidMark[],
): number => {
  const { padding, turn } = item;
  const box = boxIn(item, left, indent);
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
  const { lines, textHeight, height } = measured(item, said, box, book);
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
    marks.push({ kind: 'outline', x: box.x, y: top, level: item.outline, title: titleOf(said), item: item.id });
  }
  return height;
};

/** The words of an entry of the outline. */
export const titleOf = (said: readonly { text: string }[]): string =>
  said
    .map(({ text }) => text)
    .join('')
    .replace(/\s+/g, ' ')
    .trim();

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
  marks: LaidMark[],
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
  marks: LaidMark[],
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
  marks: LaidMark[],
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
  marks: LaidMark[],
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
  const set: LaidMark[] = [];
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
