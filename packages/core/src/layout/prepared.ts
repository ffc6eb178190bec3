import type { Level } from '../data/level.ts';
import type { ReportPlan } from '../data/planned.ts';
import type {
  Band,
  BandFormulaSetting,
  Drawer,
  FormulaSetting,
  Look,
  PageSetup,
  Report,
} from '../definition/schema.ts';
import type { DrawerBand, ReportBand } from '../definition/walk.ts';
import type { z } from '../definition/zod.ts';
import type { Compiled, EvaluationContext } from '../formula/functions/context.ts';
import type { MarkRole } from '../page/page.ts';
import type { Problem } from '../problems/problem.ts';
import type { HeldSet } from '../shape/reader.ts';
import type { ReportShape } from '../shape/shape.ts';
import type { CellAsk, CellTable, PreparedSummary } from '../shape/summary.ts';
import type { Totals } from '../shape/totals.ts';
import type { FontBook } from '../text/fonts.ts';
import type { FormulaError } from '../value/value.ts';
import type { LaidMark } from './block.ts';
import type { Flow } from './flow.ts';
import type { LayoutLimits } from './limits.ts';
import type { FlowHost } from './run-shared.ts';

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
  /** Settings that formulas decide on anew for each row. */
  settings: readonly [FormulaSetting, Compiled][];
  /** Width of its band where its place is counted from the right of that, in points; null: from the left, as usual. */
  mirrorsIn: number | null;
}

/** The shapes of the settings that formulas may decide on, by name. */
export type SettingShapes = Readonly<Record<string, z.ZodType | undefined>>;

/** What formulas decided on for a row: the settings of an item's look apart from the others. */
export interface DecidedSettings {
  look: Record<string, unknown>;
  own: Record<string, unknown>;
}

/** How formulas decide on settings of an item. */
export interface Deciding {
  shapes: SettingShapes;
  /** Which of them are of its look; null when it has none. */
  look: SettingShapes | null;
  /** Names of styles that it may choose from; null when it has none. */
  styles: readonly string[] | null;
  withSettings: (box: Box, decided: DecidedSettings) => PreparedItem;
}

/** What the reader can switch on and off in an item, as the series of a chart. */
export interface ItemSwitches {
  item: string;
  summary: PreparedSummary;
  names: (table: CellTable, context: EvaluationContext) => readonly string[];
}

/** What of an item is switched off, by its names. */
export type Switched = ReadonlyMap<string, { key: string; isOff: boolean }>;

/** An item that stands in its band, as high as it needs to be. */
export interface PreparedItem extends PreparedCommon {
  /** Adds its marks, with the top of its box at `top`; gives the height that it takes. Points. */
  lay: (top: number, out: LayingOut) => number;
  /** Height that it takes where its condition leaves it out. */
  absentHeight: number;
  /** Whether its first mark gets as much higher as its band does. */
  stretches: boolean;
  deciding: Deciding;
  /** Those that it lays out itself, of a panel: those of its band that lie inside it, but for what takes pages of its own. */
  holds?: PreparedItem[];
  /** Groups of rows that it shows; they are read before its band is laid out. */
  summaries?: readonly PreparedSummary[];
  /** Names of what the reader can switch off in it, for the groups that are current. */
  switches?: ItemSwitches;
}

/** What it takes to lay out an item that takes as many pages as it needs, while one report runs. */
export interface Filling {
  fill(flow: Flow): Promise<void>;
  close(): void;
}

/** An item that takes as many pages as it needs. What stands below it in its band follows its end. */
export interface FlowingItem {
  id: string;
  box: Box;
  showIf: Compiled | null;
  /** Room that it needs to start on a page. Points. */
  least: number;
  /** Whether it fills the pages themselves where nothing stands beside it, so that memory holds none of it. */
  streams?: boolean;
  /** The report that runs in it. */
  nested?: PreparedReport;
  /** Called once for each run of the report that it stands in. */
  begin: (run: FlowHost) => Filling;
}

/** What laying out a band has in common for all its items. */
export interface LayingOut {
  context: EvaluationContext;
  totals: Totals;
  book: FontBook;
  limits: LayoutLimits;
  marks: LaidMark[];
  /** Texts become pieces of a document that goes on living, instead of marks. */
  isLiving: boolean;
  /** Set when a formula or picture of the band has something to show. */
  hasContent: boolean;
  /** Number of formulas worked out. */
  formulas: number;
  tell: (found: Problem) => void;
  show: (hash: string, source: string) => void;
  /** Shows the other kinds that an item could be of; null when nobody wants to see them. */
  sketch: ((item: string, make: () => Readonly<Record<string, string>>) => void) | null;
  /** The rows of an item's own level, for the rows that are current. */
  rowsOf: (level: Level) => HeldSet;
  /** The groups of an item, for the rows that are current, or why there are none. */
  cellsOf: (summary: PreparedSummary) => CellTable | FormulaError | Problem;
  /** What of an item is switched off; none where nothing can be. */
  switchedOf: (summary: PreparedSummary) => Switched | undefined;
  /** Told of the cells of items that group rows; null when nobody asks. */
  asks: CellAsk | null;
}

export interface PreparedBand {
  band: Band;
  key: string;
  path: string;
  width: number;
  height: number;
  /** What its marks are where nothing else is known of them; null for the content of rows. */
  as: MarkRole | null;
  /** Ids of items that name the columns of rows below it. */
  captions: ReadonlySet<string>;
  /** Holds nothing and takes no room, or a drawer that was just added would fill pages with it. */
  isBare: boolean;
  items: PreparedItem[];
  /** Those of its items that take as many pages as they need. */
  flowing: FlowingItem[];
  /** Levels whose rows its items show; they are read before the band is laid out. */
  levels: Level[];
  /** Groups of rows that its items show; they are read before the band is laid out. */
  summaries: readonly PreparedSummary[];
  /** What the reader can switch off in its items. */
  switches: readonly ItemSwitches[];
  /** Whether any of these are to be read. */
  isReading: boolean;
  /** The languages of the rows around it, the innermost first, where rows decide on theirs. */
  languages: readonly Compiled[];
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
  /** The pages that begin with it, when it is a set of rows that has its own. */
  pages: PreparedPages | null;
  /** Where its rows stand when they stand in columns: the left of each, in the order in which they are filled, in points. */
  columns: { lefts: readonly number[]; order: 'across' | 'down' } | null;
  /** Its left edge where it stands beside others, in points. */
  left: number;
}

/** The paper that pages have from some place on, and the bands that stand on each of them. */
export interface PreparedPages {
  page: PageSetup;
  /** Those of the first page and of even ones stand there instead of the others. */
  bands: Partial<Record<ReportBand, PreparedBand>>;
}

/** A plan turned into closures and points: everything the layout of a row needs, worked out once. */
/** A report in a language of its rows. */
export interface Voice {
  language: string;
  /** What the report is called in it. */
  name: string;
  /** Its bands, by those of the run’s own language. */
  bands: ReadonlyMap<PreparedBand, PreparedBand>;
}

export interface PreparedReport {
  /** Everything is the other way round, as right-to-left languages are read. */
  isMirrored: boolean;
  plan: ReportPlan;
  report: Report;
  book: FontBook;
  /** The outermost drawers, in the order of the page. */
  roots: PreparedDrawer[];
  bands: Partial<Record<'header' | 'footer', PreparedBand>>;
  /** The pages that it begins on. */
  pages: PreparedPages;
  /** The same in the other languages that its rows may be shown in. */
  voices: Map<string, Voice>;
  /** Its rows, as the walk goes through them. */
  shape: ReportShape;
  /** Problems that only the fonts at hand show. */
  problems: Problem[];
  /** Ids of items whose text did not fit its box, as far as rows have been laid out. */
  cutOff: Set<string>;
}
