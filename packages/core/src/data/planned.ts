import type { Recipe } from '../definition/recipe.ts';
import type { Band, BandFormulaSetting, Drawer, FormulaSetting, Item, Look, Report } from '../definition/schema.ts';
import type { DrawerBand, ReportBand } from '../definition/walk.ts';
import type { Checked } from '../formula/checked.ts';
import type { Model } from '../model/model.ts';
import type { Problem } from '../problems/problem.ts';
import type { PlannedRecipe } from '../recipe/planned.ts';
import type { Level, SubreportLink, TotalPlan } from './level.ts';
import type { NameUse } from './names.ts';

/** A formula of an item: checked, or the problem that is shown in its place. */
export type PlannedFormula =
  /** `isGroup`: the value of a group in one of its own bands, which says so where it is blank. */
  { formula: Checked; format: string; isGroup?: true } | { problem: Problem };

/** A piece of text: words or a formula, with a look of its own where it has one. */
export type PlannedPiece = ({ text: string } | PlannedFormula) & { look?: Look };

export interface PlannedHighlight {
  when: Checked;
  look: Look;
  hide: boolean;
}

export type PlannedLink =
  | { to: 'address'; formula: Checked }
  | { to: 'anchor'; formula: Checked }
  | { to: 'report'; report: string; parameters: Record<string, Checked> };

export interface PlannedItem {
  item: Item;
  /** Text and field items: what they show, piece by piece. Picture items: the picture formula alone. */
  pieces: PlannedPiece[];
  subreport: { plan: ReportPlan; link: SubreportLink } | { problem: Problem } | null;
  showIf: Checked | null;
  highlights: PlannedHighlight[];
  link: PlannedLink | null;
  anchor: Checked | null;
  indent: Checked | null;
  /** Settings that formulas decide on. */
  settings: [FormulaSetting, Checked][];
}

export interface PlannedBand {
  band: Band;
  /** `drawerId/detail`, `pageHeader`. */
  key: string;
  /** Where the definition has it: `body/detail`. */
  path: string;
  items: PlannedItem[];
  showIf: Checked | null;
  breakIf: Checked | null;
  highlights: PlannedHighlight[];
  /** Settings that formulas decide on. */
  settings: [BandFormulaSetting, Checked][];
}

export interface PlannedGroup {
  header: PlannedBand | null;
  footer: PlannedBand | null;
}

export interface PlannedDrawer {
  level: Level;
  drawer: Drawer;
  bands: Partial<Record<DrawerBand, PlannedBand>>;
  /** As many as the level has, outermost first. */
  groups: PlannedGroup[];
  drawers: PlannedDrawer[];
}

/** A definition with every name resolved: what must be fetched, and what each item shows. */
export interface ReportPlan {
  report: Report;
  /** What its drawers take rows from: the data model with the report's queries as further entities. */
  model: Model | null;
  /** The report's queries by name. */
  queries: ReadonlyMap<string, PlannedRecipe>;
  /** Parents before children. */
  levels: Level[];
  root: PlannedDrawer | null;
  bands: Partial<Record<ReportBand, PlannedBand>>;
  totals: TotalPlan[];
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
}
