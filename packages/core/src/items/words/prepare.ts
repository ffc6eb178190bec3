import type { TotalPlan } from '../../data/level.ts';
import type { PlannedFormula, PlannedItem } from '../../data/planned.ts';
import { color, dash, format, size } from '../../definition/basics.ts';
import {
  type Edge,
  type Look,
  lookSchema,
  SIDES,
  type Side,
  styleLook,
  type WordsItem,
} from '../../definition/schema.ts';
import { type Checked, nodes, pageDependence } from '../../formula/checked.ts';
import { compileFormula } from '../../formula/compile.ts';
import type { Compiled } from '../../formula/functions/context.ts';
import { DEFAULT_LOOK, dashOf } from '../../layout/default-look.ts';
import {
  POINTS,
  type PreparedCommon,
  type PreparedHighlight,
  type PreparedItem,
  type SettingShapes,
} from '../../layout/prepared.ts';
import { type Preparing, preparedHighlight, shownBy } from '../../layout/preparing.ts';
import { problem } from '../../problems/problem.ts';
import { FormulaError } from '../../value/value.ts';
import { layText } from './lay.ts';
import type {
  OwnSettings,
  PreparedCell,
  PreparedEdge,
  PreparedPiece,
  PreparedText,
  PreparedValue,
  TextStyle,
} from './prepared.ts';
import { words } from './schema.ts';

/** Ways an item looks, by its formulas, that are kept ready. */
const MOST_SETTLED = 500;
const ERROR_COLOR = '#b3402e';
const ERROR_VALUE = new FormulaError('#NAME?');

/** Words, or a formula whose value is shown, with a look of its own where it has one. */
export type PlannedPiece = ({ text: string } | PlannedFormula) & { look?: Look | undefined };

interface TextSource {
  common: PreparedCommon;
  item: WordsItem;
  pieces: readonly PlannedPiece[];
  indent: Compiled | null;
  highlights: PreparedHighlight[];
  preparing: Preparing;
  /** What formulas decided on for a row. */
  settled?: { look: Look; own: OwnSettings };
}

/** What text may have decided on besides the settings of its definition: padding and edges alike on all sides. */
const SHAPES: SettingShapes = {
  ...words,
  format: format.optional(),
  ...lookSchema.shape,
  padding: size,
  borderColor: color,
  borderWidth: size,
  borderDash: dash,
};

/** Text in the box of an item. `pieces`: what it says. */
export const wordsItem = (
  planned: PlannedItem<WordsItem>,
  pieces: readonly PlannedPiece[],
  common: PreparedCommon,
  preparing: Preparing,
): PreparedItem => {
  const { item, formulas, highlights } = planned;
  const indent = shownBy(formulas.indent);
  return itemOf(
    prepareText({ common, item, pieces, indent, highlights: highlights.map(preparedHighlight), preparing }, []),
  );
};

/** Red words in the place of an item that cannot be shown. */
export const brokenItem = (common: PreparedCommon, preparing: Preparing): PreparedItem => {
  const place = { id: common.id, x: 0, y: 0, width: 0, height: 0 };
  const item: WordsItem = { kind: 'text', ...place, content: [], look: { size: 9 } };
  const pieces = [{ problem: problem('unknown-name') }];
  return itemOf(
    prepareText({ common: { ...common, settings: [] }, item, pieces, indent: null, highlights: [], preparing }, []),
  );
};

const itemOf = (text: PreparedText): PreparedItem => ({
  // What every item has, and no more: copying all of the text took 30 µs for each.
  id: text.id,
  box: text.box,
  showIf: text.showIf,
  link: text.link,
  anchor: text.anchor,
  settings: text.settings,
  mirrorsIn: text.mirrorsIn,
  stretches: false,
  absentHeight: text.shrink ? 0 : text.box.height,
  lay: (top, out) => layText(text, top, out),
  deciding: {
    shapes: SHAPES,
    look: lookSchema.shape,
    styles: text.styles,
    withSettings: (box, { look, own }) => itemOf(text.settled(box, look, own)),
  },
});

/** `holding`: places of the highlights that hold. */
export const prepareText = (source: TextSource, holding: readonly number[]): PreparedText => {
  const { highlights, pieces: planned, preparing } = source;
  const { book, report } = preparing;
  const { borderColor: color, borderWidth: width, borderDash: dash, format, ...own } = source.settled?.own ?? {};
  const item = { ...source.item, ...own };
  const look: Look = Object.assign(
    {},
    styleLook(report.styles, item.style),
    item.look,
    source.settled?.look,
    ...holding.map((i) => highlights[i]!.look),
  );
  if (preparing.isMirrored) Object.assign(look, mirroredLook(look));
  const edges = { ...(color && { color }), ...(width !== undefined && { width }), ...(dash && { dash }) };
  if (Object.keys(edges).length > 0) look.border = edged(look.border ?? {}, edges);
  const broken = planned.some((piece) => 'problem' in piece);
  const styleOf = (own: Look): TextStyle => {
    if (own.font && !book.has(own.font)) {
      const data = { name: own.font, used: book.families[0]! };
      preparing.found(problem('unknown-font', { item: item.id }, data, 'warning'));
    }
    const { bold = false, italic = false, underline = false, strike = false } = own;
    const font = book.find(own.font ?? '', bold, italic);
    const size = own.size ?? DEFAULT_LOOK.size;
    const color = broken ? ERROR_COLOR : (own.color ?? DEFAULT_LOOK.color);
    const run = { family: font.file.family, size, bold, italic, underline, strike, color };
    return { font, size, color, underline, strike, run };
  };
  const style = styleOf(look);
  const preparedPiece = (piece: PlannedPiece): PreparedPiece => ({
    content:
      'text' in piece
        ? piece.text
        : 'problem' in piece
          ? { evaluate: () => ERROR_VALUE, format: '', blank: null, formula: null, total: null }
          : {
              evaluate: compileFormula(piece.formula),
              format: format ?? piece.format,
              blank: piece.blank ?? null,
              formula: piece.formula,
              total: totalOf(piece.formula, preparing.totals),
            },
    style: piece.look ? styleOf({ ...look, ...piece.look }) : style,
  });
  const variants = new Map<string, PreparedText>();
  const settled = new Map<string, PreparedText>();
  const prepared: PreparedText = {
    cell: null,
    ...source.common,
    pieces: planned.map(preparedPiece),
    parted: () => planned.flatMap(partedAtPages).map(preparedPiece),
    styleName: item.style ?? null,
    style,
    background: look.background ?? null,
    border: look.border ? borderOf(look.border) : null,
    radius: (look.radius ?? 0) * POINTS,
    opacity: look.opacity ?? 1,
    align: look.align ?? DEFAULT_LOOK.align,
    stands: look.stands ?? DEFAULT_LOOK.stands,
    padding: paddingOf(look.padding ?? DEFAULT_LOOK.padding),
    spacing: look.spacing ?? DEFAULT_LOOK.spacing,
    turn: look.turn ?? 0,
    grow: item.grow ?? !look.turn,
    shrink: item.shrink ?? false,
    shrinksType: item.fit === 'shrink',
    outline: item.outline ?? null,
    indent: source.indent,
    indentsRight: preparing.isMirrored,
    ...dependenceOf(planned, preparing.totals),
    operands: planned.flatMap((piece) =>
      'formula' in piece
        ? (piece.operands ?? []).map(({ formula, label }) => ({ evaluate: compileFormula(formula), label }))
        : [],
    ),
    formulas: planned.filter((piece) => 'formula' in piece).length,
    highlights,
    styles: Object.keys(report.styles),
    cutOff: preparing.cutOff,
    variant: (wanted) => {
      if (wanted.length === 0) return prepared;
      const key = wanted.join(' ');
      let variant = variants.get(key);
      if (!variant) {
        variant = prepareText(source, wanted);
        variants.set(key, variant);
      }
      return variant;
    },
    settled: (box, look, own) => {
      const key = JSON.stringify([box, look, own]);
      let variant = settled.get(key);
      if (!variant) {
        if (settled.size >= MOST_SETTLED) settled.clear();
        variant = prepareText({ ...source, common: { ...source.common, box }, settled: { look, own } }, []);
        settled.set(key, variant);
      }
      return variant;
    },
  };
  prepared.cell = cellOf(prepared);
  return prepared;
};

/** A look with its left and right the other way round. */
const mirroredLook = ({ align = DEFAULT_LOOK.align, padding, border }: Look): Look => ({
  align: align === 'left' ? 'right' : align === 'right' ? 'left' : align,
  ...(typeof padding === 'object' ? { padding: { ...padding, ...swapped(padding) } } : {}),
  ...(border ? { border: { ...border, ...swapped(border) } } : {}),
});

const swapped = <T>({ left, right }: { left?: T | undefined; right?: T | undefined }) => ({ left: right, right: left });

/** A formula that puts texts together around numbers of pages, as those texts and formulas. */
const partedAtPages = (piece: PlannedPiece): PlannedPiece[] => {
  if (!('formula' in piece) || piece.formula.kind !== 'binary' || piece.formula.operator !== '&') return [piece];
  if (pageDependence(piece.formula) === 'none') return [piece];
  const { left, right } = piece.formula;
  return [left, right].flatMap((formula) => partedAtPages({ ...piece, formula, format: formula.format ?? '' }));
};

const PLAIN_TOTALS = ['SUM', 'COUNT', 'AVERAGE', 'MIN', 'MAX'] as const;

/** What a spreadsheet can work out of a formula: a total of values that it shows above. */
const totalOf = (formula: Checked, totals: readonly TotalPlan[]): PreparedValue['total'] => {
  const total = formula.kind === 'total' ? totals[formula.slot] : undefined;
  const name = total && PLAIN_TOTALS.find((one) => one === total.name);
  return total && name && total.when === 'behind' && total.scope.kind !== 'page' ? { name, of: total.formula } : null;
};

/** The drawn edges changed alike; all four when a width is given and none is drawn. */
const edged = (border: NonNullable<Look['border']>, change: Partial<Edge>): NonNullable<Look['border']> => {
  const drawn = SIDES.filter((side) => (border[side]?.width ?? 0) > 0);
  const sides = drawn.length > 0 || change.width === undefined ? drawn : SIDES;
  return Object.fromEntries(sides.map((side): [Side, Edge] => [side, { width: 0, ...border[side], ...change }]));
};

const cellOf = (item: PreparedText): PreparedCell | null => {
  const { pieces, style, box, padding, align, stands, background, border, turn, indent, outline, opacity } = item;
  const framed = background !== null || border !== null || style.underline || style.strike || opacity < 1;
  const placed = turn !== 0 || indent !== null || outline !== null || item.shrink || align === 'justify';
  if (pieces.length !== 1 || framed || placed) return null;
  const { font, size } = style;
  const lineHeight = size * item.spacing;
  const free = box.height - padding.top - padding.bottom - lineHeight;
  const above = (lineHeight - ((font.ascent + font.descent) * size) / 1000) / 2 + (font.ascent * size) / 1000;
  return {
    x: box.x + padding.left,
    room: box.width - padding.left - padding.right,
    lead: align === 'right' ? 1 : align === 'center' ? 0.5 : 0,
    baseline: padding.top + (stands === 'top' ? 0 : stands === 'middle' ? free / 2 : free) + above,
    height: box.height,
  };
};

/** Text with page numbers waits for its page; so does a total of a page that is not complete yet. */
const dependenceOf = (
  pieces: readonly PlannedPiece[],
  totals: readonly TotalPlan[],
): Pick<PreparedText, 'depends' | 'slots' | 'readsRows'> => {
  let depends: PreparedText['depends'] = 'none';
  let readsRows = false;
  const slots: number[] = [];
  for (const piece of pieces) {
    if (!('formula' in piece)) continue;
    const dependence = pageDependence(piece.formula);
    if (dependence === 'count') depends = 'count';
    else if (dependence === 'number' && depends === 'none') depends = 'page';
    for (const node of nodes(piece.formula)) {
      if (node.kind === 'field' || node.kind === 'previous' || node.kind === 'parameter') readsRows = true;
      if (node.kind !== 'total') continue;
      slots.push(node.slot);
      const { scope, when } = totals[node.slot]!;
      if (scope.kind === 'page' && when === 'behind' && depends === 'none') depends = 'page';
    }
  }
  return { depends, slots, readsRows };
};

const paddingOf = (padding: NonNullable<Look['padding']>): Record<Side, number> => {
  const side = (name: Side): number => (typeof padding === 'number' ? padding : (padding[name] ?? 0)) * POINTS;
  return { top: side('top'), right: side('right'), bottom: side('bottom'), left: side('left') };
};

const borderOf = (border: NonNullable<Look['border']>): PreparedText['border'] => {
  const edges: Partial<Record<Side, PreparedEdge>> = {};
  for (const side of SIDES) {
    const edge: Edge | undefined = border[side];
    if (!edge || edge.width === 0) continue;
    const width = edge.width * POINTS;
    edges[side] = { width, color: edge.color ?? DEFAULT_LOOK.color, dash: dashOf(edge.dash, width) };
  }
  return edges;
};
