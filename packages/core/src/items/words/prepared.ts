import type { PieceTotal, RunLook } from '../../content/pieces.ts';
import type { Edge, ItemOf, Look, Side } from '../../definition/schema.ts';
import type { Checked } from '../../formula/checked.ts';
import type { Compiled } from '../../formula/functions/context.ts';
import type { Box, PreparedCommon, PreparedHighlight } from '../../layout/prepared.ts';
import type { Font } from '../../text/fonts.ts';

/** How a stretch of text looks; size in points. */
export interface TextStyle {
  font: Font;
  size: number;
  color: string;
  underline: boolean;
  strike: boolean;
  /** The same as a document that goes on living has it. */
  run: RunLook;
}

export interface PreparedValue {
  evaluate: Compiled;
  format: string;
  /** What is shown where there is no value; null when nothing is. */
  blank: string | null;
  /** Null when it is wrong. */
  formula: Checked | null;
  /** A total of values above it, by their formula; null where it is anything else. */
  total: { name: PieceTotal['name']; of: Checked } | null;
}

export interface PreparedPiece {
  /** Words, or the formula whose value is shown. */
  content: string | PreparedValue;
  style: TextStyle;
}

/** Lengths in points. */
export interface PreparedEdge {
  width: number;
  color: string;
  dash: number[] | null;
}

export interface PreparedText extends PreparedCommon {
  pieces: PreparedPiece[];
  /** The same, parted where texts were put together around numbers of pages. */
  parted: () => PreparedPiece[];
  /** Name of the report’s style that it has; null when it has none. */
  styleName: string | null;
  /** The look of the box's own text; pieces may differ. */
  style: TextStyle;
  background: string | null;
  border: Partial<Record<Side, PreparedEdge>> | null;
  radius: number;
  opacity: number;
  align: 'left' | 'center' | 'right' | 'justify';
  stands: 'top' | 'middle' | 'bottom';
  padding: Record<Side, number>;
  spacing: number;
  turn: number;
  grow: boolean;
  shrink: boolean;
  shrinksType: boolean;
  outline: number | null;
  indent: Compiled | null;
  /** It moves the right edge instead of the left one. */
  indentsRight: boolean;
  /** Whether it waits for its page, or for the last page. */
  depends: 'none' | 'page' | 'count';
  /** One piece in one look without frame or turn, as most cells are; worked out once what is the same for all of them. */
  cell: PreparedCell | null;
  /** Whether its formulas read rows, so that text that is laid out later must keep them. */
  readsRows: boolean;
  /** Totals that its formulas read. */
  slots: number[];
  /** Fields whose blanks would count as nothing in what it shows. */
  operands: { evaluate: Compiled; label: string }[];
  /** How many of its pieces are formulas. */
  formulas: number;
  highlights: PreparedHighlight[];
  /** Ids of items whose text did not fit its box; added to as rows are laid out. */
  cutOff: Set<string>;
  /** The item as it looks where these of its highlights hold. */
  variant: (holding: readonly number[]) => PreparedText;
  /** Names of the styles that a formula can choose from. */
  styles: readonly string[];
  /** The item with settings that formulas decided on. */
  settled: (box: Box, look: Look, own: OwnSettings) => PreparedText;
}

/** Lengths in points. */
export interface PreparedCell {
  /** Where text starts, and how wide it may be. */
  x: number;
  room: number;
  /** Share of the room that is left over before the text: 0 for text at the left, 1 at the right. */
  lead: number;
  /** From the top of the box to the baseline of its only line. */
  baseline: number;
  height: number;
}

/** Settings of text besides its look that formulas may decide on. Widths in millimetres. */
export interface OwnSettings
  extends Partial<Pick<ItemOf<'field'>, 'style' | 'format' | 'fit' | 'grow' | 'shrink' | 'outline'>> {
  borderColor?: string;
  borderWidth?: number;
  borderDash?: Edge['dash'];
}
