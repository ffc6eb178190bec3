import type { Level } from '../data/level.ts';
import type { EvaluationContext } from '../formula/functions/context.ts';
import { type LaidPlace, type LinkTarget, safeAddress } from '../page/page.ts';
import type { Problem } from '../problems/problem.ts';
import type { HeldSet } from '../shape/reader.ts';
import type { CellTable, PreparedSummary } from '../shape/summary.ts';
import type { Totals } from '../shape/totals.ts';
import type { FontBook } from '../text/fonts.ts';
import { encodeValue, FormulaError, valueText } from '../value/value.ts';
import { type Block, type LaidMark, shiftLaid } from './block.ts';
import type { LayoutLimits } from './limits.ts';
import { type LayingOut, POINTS, type PreparedBand, type PreparedItem, type PreparedLink } from './prepared.ts';
import { giveRole } from './roles.ts';
import { bandSettings, withSettings } from './settings.ts';

/** Which of a band's items to lay out, and how far up to move them: a band with items that take pages of their own is laid out in parts. */
export interface BandPart {
  includes: (item: PreparedItem) => boolean;
  from: number;
  height: number;
}

export interface BandSurroundings {
  totals: Totals;
  book: FontBook;
  /** Counts the formulas worked out. */
  work: { formulas: number };
  isLiving: boolean;
  limits: LayoutLimits;
  /** Tells of something wrong with a row’s content, once for each item. */
  tell: (found: Problem) => void;
  /** Hands over a picture that a mark shows; `hash` is its name there. */
  show: (hash: string, source: string) => void;
  /** Shows the other kinds that an item could be of; null when nobody wants to see them. */
  sketch: LayingOut['sketch'];
  /** The rows of an item's own level, for the rows that are current. */
  rowsOf: (level: Level) => HeldSet;
  /** The groups of an item, for the rows that are current, or why there are none. */
  cellsOf: (summary: PreparedSummary) => CellTable | FormulaError | Problem;
  /** What of an item is switched off; none where nothing can be. */
  switchedOf: LayingOut['switchedOf'];
  /** Told of the cells of items that group rows; null when nobody asks. */
  asks: LayingOut['asks'];
  /** Whether it is noted where items stand. */
  placing: boolean;
}

/**
 * Lays out one instance of a band for the rows that are current in `context`. Text that needs more room than its box
 * makes the band grow, and moves what stands below it. Null when the band is left out.
 */
export const layBand = (
  prepared: PreparedBand,
  context: EvaluationContext,
  around: BandSurroundings,
  part: BandPart | null = null,
  /** Behind everything, where neither the band nor a highlight says otherwise. */
  alternate: string | null = null,
): Block | null => {
  const { band } = prepared;
  if (prepared.showIf && !part && prepared.showIf(context) !== true) return null;
  const set = prepared.settings.length > 0 ? bandSettings(prepared, context, around) : {};
  let background = set.background ?? band.background ?? alternate;
  for (const { when, look, hide } of prepared.highlights) {
    if (when(context) !== true) continue;
    if (hide && !part) return null;
    background = look.background ?? background;
  }
  if (prepared.isBare && !background) return null;
  const marks: LaidMark[] = [];
  const out: LayingOut = {
    context,
    totals: around.totals,
    book: around.book,
    limits: around.limits,
    marks,
    isLiving: around.isLiving,
    hasContent: false,
    formulas: prepared.highlights.length,
    tell: around.tell,
    show: around.show,
    sketch: around.sketch,
    rowsOf: around.rowsOf,
    cellsOf: around.cellsOf,
    switchedOf: around.switchedOf,
    asks: around.asks,
  };
  const declared = part ? part.height : set.height === undefined ? prepared.height : set.height * POINTS;
  const places: Record<string, LaidPlace> | null = around.placing ? {} : null;
  const height = layItems(prepared, declared, out, part, places);
  const { captions } = prepared;
  if (captions.size > 0)
    giveRole(
      marks.filter(({ item }) => item !== undefined && captions.has(item)),
      'header',
    );
  if (prepared.as) giveRole(marks, prepared.as);
  around.work.formulas += out.formulas;
  if (band.leaveOutEmpty && !part && !out.hasContent) return null;
  if (background && !part)
    marks.unshift({ kind: 'rectangle', x: 0, y: 0, width: prepared.width, height, fill: background });
  const block: Block = { height, marks };
  if (places) block.places = places;
  if ((set.keepWhole ?? band.keepWhole) === false) block.mayBeCut = true;
  return block;
};

/** An item that got higher or lower than drawn, and by how much what stands under it moves. */
interface Moved {
  bottom: number;
  by: number;
  left: number;
  right: number;
}

/** Lays the items out; gives the height of the band, which is `declared` as long as nothing grows or shrinks. */
const layItems = (
  prepared: PreparedBand,
  declared: number,
  out: LayingOut,
  part: BandPart | null,
  places: Record<string, LaidPlace> | null,
): number => {
  const moved: Moved[] = [];
  const stretched: { mark: LaidMark; from: number }[] = [];
  let lowest = 0;
  let lowestLaid = 0;
  for (const given of prepared.items) {
    if (part && !part.includes(given)) continue;
    const item = given.settings.length > 0 ? withSettings(given, out) : given;
    const { box } = item;
    const top = box.y - (part?.from ?? 0);
    const shift = shiftFor(box, moved);
    const before = out.marks.length;
    const used = layItem(item, top + shift, out);
    const mark = out.marks[before];
    if (mark && item.stretches) stretched.push({ mark, from: top + shift });
    const by = shift + used - box.height;
    if (places && (part || item !== given || Math.abs(shift) + Math.abs(by) > 0.01))
      places[item.id] = [box.x, top + shift, box.width, used];
    lowest = Math.max(lowest, top + box.height);
    lowestLaid = Math.max(lowestLaid, top + box.height + by);
    if (Math.abs(by) > 0.01) moved.push({ bottom: box.y + box.height, by, left: box.x, right: box.x + box.width });
  }
  // The room that the band keeps below its lowest item stays.
  const height = Math.max(0, declared + lowestLaid - lowest);
  for (const { mark, from } of stretched) {
    const grown = height - declared;
    if (mark.kind === 'rectangle') mark.height = Math.max(0, mark.height + grown);
    else if (mark.kind === 'line' && mark.y2 > from) mark.y2 = Math.max(from, mark.y2 + grown);
    else if (mark.kind === 'line') mark.y = mark.y2 = mark.y + grown;
  }
  return height;
};

/** How far an item moves: with the one above it that moved down the most, or up the least. */
const shiftFor = (box: PreparedItem['box'], moved: readonly Moved[]): number => {
  let shift: number | null = null;
  for (const above of moved) {
    if (box.y + 0.01 < above.bottom || box.x >= above.right || box.x + box.width <= above.left) continue;
    shift = shift === null ? above.by : Math.max(shift, above.by);
  }
  return shift ?? 0;
};

/** Adds the item's marks with its top at `top`; gives the height it takes. */
export const layItem = (item: PreparedItem, top: number, out: LayingOut): number => {
  const { context, marks } = out;
  if (item.showIf && item.showIf(context) !== true) return item.absentHeight;
  const first = marks.length;
  const height = item.lay(top, out);
  const { x, width } = item.box;
  if (out.isLiving) asOnePiece(item.id, { x, y: top, width, height }, first, marks);
  if (item.anchor) {
    const name = item.anchor(context);
    if (name !== null && !(name instanceof FormulaError))
      marks.push({ kind: 'anchor', x, y: top, name: valueText(name) });
  }
  const to = item.link && targetOf(item.link, context);
  if (to) marks.push({ kind: 'link', x, y: top, width, height, to, item: item.id });
  return height;
};

/** What is drawn of more than lines, boxes and pictures becomes one piece. */
const asOnePiece = (item: string, box: PreparedItem['box'], first: number, marks: LaidMark[]): void => {
  const drawn = marks.slice(first);
  const isSimple = drawn.every(({ kind }) => kind === 'line' || kind === 'rectangle' || kind === 'picture');
  if (isSimple || drawn.some(({ kind }) => kind === 'piece')) return;
  const own = drawn.filter((mark) => mark.kind !== 'late' && mark.kind !== 'piece');
  for (const mark of own) shiftLaid(mark, -box.x, -box.y);
  const figure = own.find((mark) => mark.kind === 'figure');
  const shape = own.find((mark) => mark.kind === 'shape');
  const alternative = figure?.alternative ?? shape?.alternative ?? '';
  marks.length = first;
  marks.push({
    kind: 'piece',
    ...box,
    item,
    piece: { kind: 'drawing', marks: own, alternative, table: figure?.table ?? [] },
  });
};

/** Null when the formula gives nothing that can be followed. */
export const targetOf = (link: PreparedLink, context: EvaluationContext): LinkTarget | null => {
  if (link.to === 'report') {
    const parameters = Object.fromEntries(
      Object.entries(link.parameters).map(([name, evaluate]) => [name, encodeValue(evaluate(context))]),
    );
    return { report: link.report, parameters };
  }
  const value = link.evaluate(context);
  if (value === null || value instanceof FormulaError) return null;
  const text = valueText(value);
  if (link.to === 'anchor') return { anchor: text };
  const address = safeAddress(text);
  return address === null ? null : { address };
};
