import type { EvaluationContext, PageValues } from '../../formula/functions/context.ts';
import type { LaidMark } from '../../layout/block.ts';
import { type LayingOut, POINTS } from '../../layout/prepared.ts';
import type { Mark } from '../../page/page.ts';
import { problem } from '../../problems/problem.ts';
import type { FontBook } from '../../text/fonts.ts';
import { isNumeric, toNumber } from '../../value/number.ts';
import { layLiving } from './living.ts';
import type { PreparedCell, PreparedText } from './prepared.ts';
import { isBlank, say, sayPiece } from './say.ts';
import { setText } from './set.ts';

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
  for (const { evaluate, label } of item.operands) {
    if (evaluate(context) === null) out.tell(problem('blank-counts-as-zero', { item: item.id }, { label }, 'warning'));
  }
  const indent = item.indent ? indentOf(item.indent(context)) : 0;
  if (out.isLiving) return layLiving(item, top, indent, out);
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
  const { box, depends: needs, id } = item;
  out.marks.push({ kind: 'late', x: 0, y: top, height: box.height, item: id, needs, make });
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
    const marks: LaidMark[] = [];
    setText(item, say(item, { ...context, page }, limits.maxText), 0, 0, indent, book, marks);
    return marks.filter((mark): mark is Mark => mark.kind !== 'late' && mark.kind !== 'piece');
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
export const setWords = (text: PreparedText, words: string, top: number, book: FontBook, marks: LaidMark[]): number =>
  words === '' ? text.box.height : setText(text, [{ text: words, style: text.style }], 0, top, 0, book, marks);
