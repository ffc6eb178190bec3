import type { TotalPlan } from '../data/level.ts';
import type { PlannedPiece } from '../data/planned.ts';
import { type Edge, type ItemOf, type Look, SIDES, type Side, type Style, styleLook } from '../definition/schema.ts';
import { nodes, pageDependence } from '../formula/checked.ts';
import { compileFormula } from '../formula/compile.ts';
import type { Compiled } from '../formula/functions/context.ts';
import type { FontBook } from '../text/fonts.ts';
import { blankWord } from '../text/report-words.ts';
import { FormulaError } from '../value/value.ts';
import {
  type OwnSettings,
  POINTS,
  type PreparedCell,
  type PreparedCommon,
  type PreparedEdge,
  type PreparedHighlight,
  type PreparedText,
  type TextStyle,
} from './prepared.ts';

export const DEFAULT_LOOK = {
  size: 10,
  color: '#1f2a2e',
  align: 'left',
  stands: 'top',
  padding: 0,
  spacing: 1.25,
} as const;
/** Ways an item looks, by its formulas, that are kept ready. */
const MOST_SETTLED = 500;
const ERROR_COLOR = '#b3402e';
const ERROR_VALUE = new FormulaError('#NAME?');

export interface TextSource {
  common: PreparedCommon;
  item: ItemOf<'text'> | ItemOf<'field'>;
  pieces: readonly PlannedPiece[];
  indent: Compiled | null;
  highlights: PreparedHighlight[];
  styles: Readonly<Record<string, Style>>;
  /** Of the report. */
  language: string;
  book: FontBook;
  totals: readonly TotalPlan[];
  missingFont: (name: string) => void;
  cutOff: Set<string>;
  /** What formulas decided on for a row. */
  settled?: { look: Look; own: OwnSettings };
}

export const dashOf = (dash: 'solid' | 'dashed' | 'dotted' | undefined, thickness: number): number[] | null =>
  !dash || dash === 'solid' ? null : dash === 'dashed' ? [thickness * 4, thickness * 2] : [thickness, thickness * 2];

/** `holding`: places of the highlights that hold. */
export const prepareText = (source: TextSource, holding: readonly number[]): PreparedText => {
  const { book, highlights, pieces: planned } = source;
  const { borderColor: color, borderWidth: width, borderDash: dash, format, ...own } = source.settled?.own ?? {};
  const item = { ...source.item, ...own };
  const look: Look = Object.assign(
    {},
    styleLook(source.styles, item.style),
    item.look,
    source.settled?.look,
    ...holding.map((i) => highlights[i]!.look),
  );
  const edges = { ...(color && { color }), ...(width !== undefined && { width }), ...(dash && { dash }) };
  if (Object.keys(edges).length > 0) look.border = edged(look.border ?? {}, edges);
  const broken = planned.some((piece) => 'problem' in piece);
  const styleOf = (own: Look): TextStyle => {
    if (own.font && !book.has(own.font)) source.missingFont(own.font);
    return {
      font: book.find(own.font ?? '', own.bold ?? false, own.italic ?? false),
      size: own.size ?? DEFAULT_LOOK.size,
      color: broken ? ERROR_COLOR : (own.color ?? DEFAULT_LOOK.color),
      underline: own.underline ?? false,
      strike: own.strike ?? false,
    };
  };
  const style = styleOf(look);
  const variants = new Map<string, PreparedText>();
  const settled = new Map<string, PreparedText>();
  const prepared: PreparedText = {
    cell: null,
    ...source.common,
    kind: 'words',
    pieces: planned.map((piece) => ({
      content:
        'text' in piece
          ? piece.text
          : 'problem' in piece
            ? { evaluate: () => ERROR_VALUE, format: '', blank: null }
            : {
                evaluate: compileFormula(piece.formula),
                format: format ?? piece.format,
                blank: piece.isGroup ? blankWord(source.language) : null,
              },
      style: piece.look ? styleOf({ ...look, ...piece.look }) : style,
    })),
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
    ...dependenceOf(planned, source.totals),
    formulas: planned.filter((piece) => 'formula' in piece).length,
    highlights,
    styles: source.styles,
    cutOff: source.cutOff,
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
