import type { Level } from '../data/level.ts';
import type { ReportPlan } from '../data/plan.ts';
import type { Band, BandFormulaSetting, Drawer, FormulaSetting, ItemOf, Look, Report } from '../definition/schema.ts';
import type { DrawerBand, ReportBand } from '../definition/walk.ts';
import type { Compiled } from '../formula/context.ts';
import type { Problem } from '../problems/problem.ts';
import type { FontBook } from '../text/fonts.ts';
import type { PreparedText } from './prepare-text.ts';

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
  key: Compiled;
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
  localFilter: Compiled | null;
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
  /** Argument of each total, by slot. */
  totals: Compiled[];
  /** Problems that only the fonts at hand show. */
  problems: Problem[];
  /** Ids of items whose text did not fit its box, as far as rows have been laid out. */
  cutOff: Set<string>;
}
