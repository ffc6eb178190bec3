import type { Recipe } from '../definition/recipe.ts';
import type {
  Band,
  BandFormulaSetting,
  Drawer,
  Fold,
  FormulaSetting,
  Item,
  Look,
  Report,
} from '../definition/schema.ts';
import type { DrawerBand, ReportBand } from '../definition/walk.ts';
import type { Checked } from '../formula/checked.ts';
import type { FunctionTable } from '../formula/functions/context.ts';
import type { Model } from '../model/model.ts';
import type { Problem } from '../problems/problem.ts';
import type { PlannedRecipe } from '../recipe/planned.ts';
import type { BlankOperand } from './blank-operands.ts';
import type { Level, SubreportLink, TotalPlan } from './level.ts';
import type { NameUse } from './names.ts';
import type { PlannedSummary } from './summary.ts';

/** A formula of an item: checked, or the problem that is shown in its place. */
export type PlannedFormula =
  /** `blank`: what is shown where there is no value: of a group in one of its own bands, and of a parameter. */
  /** `operands`: fields whose blanks would count as nothing in it. */
  { formula: Checked; format: string; blank?: string; operands?: BlankOperand[] } | { problem: Problem };

export interface PlannedHighlight {
  when: Checked;
  look: Look;
  hide: boolean;
}

export type PlannedLink =
  | { to: 'address'; formula: Checked }
  | { to: 'anchor'; formula: Checked }
  | { to: 'report'; report: string; parameters: Record<string, Checked> };

/** A nested report that an item shows, and how its rows hang on the row around. */
export interface PlannedNested {
  plan: ReportPlan;
  link: SubreportLink;
}

/** A crosstab with its names resolved. */
export interface PlannedCrosstab {
  summary: PlannedSummary;
  /** What the groups are ordered by; null for their values. */
  down: (Checked | null)[];
  across: (Checked | null)[];
  /** Folds of the groups, down then across; null for those that are not foldable. */
  folds: (PlannedFold | null)[];
  cells: {
    formula: PlannedFormula;
    highlights: PlannedHighlight[];
    /** The report that a click opens, and what its parameters get. */
    link: { report: string; parameters: Record<string, Checked> } | null;
  }[];
}

/** An item that draws numbers, with its names resolved. */
export interface PlannedFigure {
  /** Null when its formulas are worked out where it stands, over no groups of its own. */
  summary: PlannedSummary | null;
  /** How many of its keys, the first ones, lead down. */
  downKeys: number;
  /** Formulas over the totals of a group, by their paths inside the item; those that are wrong are left out. */
  formulas: Readonly<Record<string, PlannedFormula>>;
}

/** What planning finds in what only one kind of item has. */
export interface PlannedOwn {
  /** Its formulas, by the path of each inside the item: `formula`, `content/1`. A kind may leave out what it can do without. */
  formulas?: Readonly<Record<string, PlannedFormula>>;
  highlights?: readonly PlannedHighlight[];
  /** Rows of its own: the level that it shows the rows of, which hangs on the row of its band. */
  level?: Level | null;
  nested?: PlannedNested | null;
  crosstab?: PlannedCrosstab | null;
  figure?: PlannedFigure | null;
  /** Whether it lists what the outline holds, which must be counted before. */
  readsOutline?: boolean;
}

/** An item with its names resolved; the same for all kinds. */
export interface PlannedItem<I extends Item = Item> extends Required<PlannedOwn> {
  item: I;
  showIf: Checked | null;
  link: PlannedLink | null;
  anchor: Checked | null;
  /** Settings that formulas decide on. */
  settings: [FormulaSetting, Checked][];
}

export interface PlannedBand {
  band: Band;
  /** `drawerId/detail`, `pageHeader`. */
  key: string;
  /** Where the definition has it: `body/0/detail`. */
  path: string;
  items: PlannedItem[];
  showIf: Checked | null;
  breakIf: Checked | null;
  highlights: PlannedHighlight[];
  /** Settings that formulas decide on. */
  settings: [BandFormulaSetting, Checked][];
}

/** What the reader opens and closes. */
export interface PlannedFold {
  fold: Fold;
  closedIf: Checked | null;
}

export interface PlannedGroup {
  header: PlannedBand | null;
  footer: PlannedBand | null;
  fold: PlannedFold | null;
}

export interface PlannedDrawer {
  level: Level;
  drawer: Drawer;
  bands: Partial<Record<DrawerBand, PlannedBand>>;
  /** As many as the level has, outermost first. */
  groups: PlannedGroup[];
  /** `at`: the band that has its sign, its own header or the row around it. */
  fold: (PlannedFold & { at: 'header' | 'around' }) | null;
  /** The language that each of its rows is shown in. */
  language: Checked | null;
  drawers: PlannedDrawer[];
}

/** A definition with every name resolved: what must be fetched, and what each item shows. */
export interface ReportPlan {
  /** In the language that it was planned for. */
  report: Report;
  /** In that language its pages are the other way round. */
  isMirrored: boolean;
  /** The same over the same rows in the other languages that it speaks, where rows decide on theirs. */
  voices: readonly { language: string; plan: ReportPlan }[];
  /** What its drawers take rows from: the data model with the report's queries as further entities. */
  model: Model | null;
  /** The report's queries by name. */
  queries: ReadonlyMap<string, PlannedRecipe>;
  /** Parents before children. */
  levels: Level[];
  /** The outermost drawers, in the order of the page. */
  roots: PlannedDrawer[];
  bands: Partial<Record<ReportBand, PlannedBand>>;
  totals: TotalPlan[];
  /** Functions besides Gaveta’s own that its formulas may name. */
  functions: FunctionTable | undefined;
  /** How this plan hangs on an outer one, when it is a subreport's. */
  link: SubreportLink | null;
  /** Everything found wrong, that of nested reports included. The rest of the report still runs. */
  problems: Problem[];
}

export interface PlanContext {
  models: readonly Model[];
  /** A stored report by its id; null when there is none that the caller may read. */
  report: (id: string) => Report | null;
  /** A shared recipe by its id; null when there is none. */
  recipe?: ((id: string) => Recipe | null) | undefined;
  /** Told of each name in the report's own formulas that means a part of its definition. */
  onName?: ((use: NameUse) => void) | undefined;
  /** Rows come from a database that filters, sorts and adds them up as far as it can; otherwise all of that happens here. */
  rowsFromDatabase?: boolean;
  /** Fetches the keys of rows, by which regions of pages name the rows behind them. */
  rowKeys?: boolean;
  /** Functions besides Gaveta’s own, for the formulas of drawers and items. */
  functions?: FunctionTable | undefined;
  /** The language that the report and those nested in it are to be in, as far as they speak it; their own when left out. */
  language?: string | undefined;
  /** The language by whose order databases sort, where it is another one. */
  orders?: string | undefined;
}
