import type { Level } from '../data/level.ts';
import type { ReportPlan } from '../data/planned.ts';
import type {
  Band,
  BandFormulaSetting,
  Drawer,
  Edge,
  FormulaSetting,
  ItemOf,
  Look,
  Report,
  Side,
  Style,
} from '../definition/schema.ts';
import type { DrawerBand, ReportBand } from '../definition/walk.ts';
import type { Compiled } from '../formula/functions/context.ts';
import type { Problem } from '../problems/problem.ts';
import type { ReportShape } from '../shape/shape.ts';
import type { Font, FontBook } from '../text/fonts.ts';

/** Points in a millimetre. */
export const POINTS = 72 / 25.4;

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface PreparedHighlight {
  when: Compiled;
  look: Look;
  hide: boolean;
}

export type PreparedLink =
  | { to: 'address' | 'anchor'; evaluate: Compiled }
  | { to: 'report'; report: string; parameters: Record<string, Compiled> };

/** What every item may have. */
export interface PreparedCommon {
  id: string;
  box: Box;
  showIf: Compiled | null;
  link: PreparedLink | null;
  anchor: Compiled | null;
  /** Settings that formulas decide on. */
  settings: [FormulaSetting, Compiled][];
}

/** How a stretch of text looks; size in points. */
export interface TextStyle {
  font: Font;
  size: number;
  color: string;
  underline: boolean;
  strike: boolean;
}

export interface PreparedValue {
  evaluate: Compiled;
  format: string;
  /** What is shown where there is no value; null when nothing is. */
  blank: string | null;
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
  kind: 'words';
  pieces: PreparedPiece[];
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
  /** Whether it waits for its page, or for the last page. */
  depends: 'none' | 'page' | 'count';
  /** One piece in one look without frame or turn, as most cells are; worked out once what is the same for all of them. */
  cell: PreparedCell | null;
  /** Whether its formulas read rows, so that text that is laid out later must keep them. */
  readsRows: boolean;
  /** Totals that its formulas read. */
  slots: number[];
  /** How many of its pieces are formulas. */
  formulas: number;
  highlights: PreparedHighlight[];
  /** Ids of items whose text did not fit its box; added to as rows are laid out. */
  cutOff: Set<string>;
  /** The item as it looks where these of its highlights hold. */
  variant: (holding: readonly number[]) => PreparedText;
  /** Styles that a formula can choose from, by name. */
  styles: Readonly<Record<string, Style>>;
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

export interface PreparedPicture extends PreparedCommon {
  kind: 'picture';
  item: ItemOf<'picture'>;
  evaluate: Compiled | null;
}

export interface PreparedBarcode extends PreparedCommon {
  kind: 'barcode';
  item: ItemOf<'barcode'>;
  evaluate: Compiled;
}

export interface PreparedCheck extends PreparedCommon {
  kind: 'check';
  item: ItemOf<'check'>;
  evaluate: Compiled;
}

export type PreparedItem =
  | PreparedText
  | PreparedPicture
  | PreparedBarcode
  | PreparedCheck
  | (PreparedCommon & { kind: 'line'; item: ItemOf<'line'> })
  | (PreparedCommon & { kind: 'rectangle'; item: ItemOf<'rectangle'> });

export interface PreparedSubreport {
  id: string;
  box: Box;
  report: PreparedReport;
  /** Level of the outer report whose row it hangs on; null when there is none. */
  outer: Level | null;
  /** Its only row is the outer report's current one. */
  sharesRow: boolean;
  links: Record<string, Compiled>;
  showIf: Compiled | null;
}

export interface PreparedBand {
  band: Band;
  key: string;
  path: string;
  width: number;
  height: number;
  /** Holds nothing and takes no room, or a drawer that was just added would fill pages with it. */
  isBare: boolean;
  items: PreparedItem[];
  subreports: PreparedSubreport[];
  showIf: Compiled | null;
  breakIf: Compiled | null;
  highlights: PreparedHighlight[];
  /** Settings that formulas decide on. */
  settings: [BandFormulaSetting, Compiled][];
}

export interface PreparedGroup {
  header: PreparedBand | null;
  footer: PreparedBand | null;
}

export interface PreparedDrawer {
  level: Level;
  drawer: Drawer;
  bands: Partial<Record<DrawerBand, PreparedBand>>;
  /** Outermost first. */
  groups: PreparedGroup[];
  drawers: PreparedDrawer[];
  /** Where its rows stand when they stand in columns, in points. */
  columns: { count: number; step: number; order: 'across' | 'down' } | null;
}

/** A plan turned into closures and points: everything the layout of a row needs, worked out once. */
export interface PreparedReport {
  plan: ReportPlan;
  report: Report;
  book: FontBook;
  root: PreparedDrawer | null;
  bands: Partial<Record<ReportBand, PreparedBand>>;
  /** Its rows, as the walk goes through them. */
  shape: ReportShape;
  /** Problems that only the fonts at hand show. */
  problems: Problem[];
  /** Ids of items whose text did not fit its box, as far as rows have been laid out. */
  cutOff: Set<string>;
}
