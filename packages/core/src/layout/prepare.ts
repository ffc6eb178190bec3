import type { Level } from '../data/level.ts';
import type { PlannedBand, PlannedDrawer, PlannedItem, ReportPlan } from '../data/plan.ts';
import { type Band, type Item, type ItemOf, type Look, paperSize, type Report } from '../definition/schema.ts';
import type { DrawerBand, ReportBand } from '../definition/walk.ts';
import { pageDependence } from '../formula/checked.ts';
import { compileFormula } from '../formula/compile.ts';
import type { Compiled } from '../formula/context.ts';
import { type Problem, problem } from '../problems/problem.ts';
import type { Font, FontBook } from '../text/fonts.ts';
import { FormulaError } from '../value/value.ts';

/** Points in a millimetre. */
export const POINTS = 72 / 25.4;

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface PreparedPiece {
  evaluate: Compiled;
  format: string;
}

export interface PreparedText {
  kind: 'words';
  id: string;
  box: Box;
  pieces: (string | PreparedPiece)[];
  font: Font;
  size: number;
  color: string;
  background: string | null;
  align: 'left' | 'center' | 'right';
  stands: 'top' | 'middle' | 'bottom';
  padding: number;
  depends: 'none' | 'number' | 'count';
}

export type PreparedItem =
  | PreparedText
  | { kind: 'picture'; item: ItemOf<'picture'>; box: Box; evaluate: Compiled | null }
  | { kind: 'line'; item: ItemOf<'line'>; box: Box }
  | { kind: 'rectangle'; item: ItemOf<'rectangle'>; box: Box };

export interface PreparedSubreport {
  id: string;
  box: Box;
  report: PreparedReport;
  /** Level of the outer report whose row it hangs on; null when there is none. */
  outer: Level | null;
  links: Record<string, Compiled>;
}

export interface PreparedBand {
  band: Band;
  key: string;
  width: number;
  height: number;
  items: PreparedItem[];
  subreports: PreparedSubreport[];
}

export interface PreparedTotal {
  slot: number;
  evaluate: Compiled;
}

export interface PreparedDrawer {
  level: Level;
  bands: Partial<Record<DrawerBand, PreparedBand>>;
  drawers: PreparedDrawer[];
  localFilter: Compiled | null;
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
}

export const DEFAULT_LOOK = { size: 10, color: '#1f2a2e', align: 'left', stands: 'top', padding: 0 } as const;
const ERROR_COLOR = '#b3402e';

/** `width` is the width that a nested report's bands get, in points; null for the report's own page. */
export const prepareReport = (plan: ReportPlan, book: FontBook, width: number | null = null): PreparedReport =>
  new Preparer(plan, book, width).prepare();

class Preparer {
  private readonly problems: Problem[] = [];
  private readonly width: number;

  constructor(
    private readonly plan: ReportPlan,
    private readonly book: FontBook,
    width: number | null,
  ) {
    const { page } = plan.report;
    this.width = width ?? (paperSize(page).width - page.margins.left - page.margins.right) * POINTS;
  }

  prepare(): PreparedReport {
    const { plan, book, problems } = this;
    const bands: PreparedReport['bands'] = {};
    for (const [name, band] of Object.entries(plan.bands) as [ReportBand, PlannedBand][]) bands[name] = this.band(band);
    const root = plan.root && this.drawer(plan.root);
    const totals = plan.totals.map((total) => compileFormula(total.formula));
    return { plan, report: plan.report, book, root, bands, totals, problems };
  }

  private drawer(planned: PlannedDrawer): PreparedDrawer {
    const bands: PreparedDrawer['bands'] = {};
    for (const [name, band] of Object.entries(planned.bands) as [DrawerBand, PlannedBand][])
      bands[name] = this.band(band);
    const { level } = planned;
    const localFilter = level.localFilter && compileFormula(level.localFilter);
    return { level, bands, drawers: planned.drawers.map((d) => this.drawer(d)), localFilter };
  }

  private band(planned: PlannedBand): PreparedBand {
    const items: PreparedItem[] = [];
    const subreports: PreparedSubreport[] = [];
    for (const item of planned.items) {
      const prepared = this.item(item);
      if (prepared) items.push(prepared);
      const { subreport } = item;
      if (!subreport || 'problem' in subreport) continue;
      const box = boxOf(item.item);
      const report = prepareReport(subreport.plan, this.book, box.width);
      this.problems.push(...report.problems);
      const { link } = subreport;
      const links = Object.fromEntries(Object.entries(link.values).map(([name, f]) => [name, compileFormula(f)]));
      subreports.push({ id: item.item.id, box, report, outer: link.outer, links });
    }
    const { band, key } = planned;
    return { band, key, width: this.width, height: band.height * POINTS, items, subreports };
  }

  private item(planned: PlannedItem): PreparedItem | null {
    const { item } = planned;
    const box = boxOf(item);
    switch (item.kind) {
      case 'text':
      case 'field':
        return this.words(item.id, box, this.lookOf(item), planned.pieces);
      case 'picture': {
        const [piece] = planned.pieces;
        if (piece && typeof piece !== 'string' && 'problem' in piece) return this.broken(item.id, box);
        const evaluate =
          piece && typeof piece !== 'string' && 'formula' in piece ? compileFormula(piece.formula) : null;
        return { kind: 'picture', item, box, evaluate };
      }
      case 'line':
        return { kind: 'line', item, box };
      case 'rectangle':
        return { kind: 'rectangle', item, box };
      case 'subreport':
        return planned.subreport && 'problem' in planned.subreport ? this.broken(item.id, box) : null;
      default:
        return item satisfies never;
    }
  }

  /** What stands in the place of an item that cannot be shown. */
  private broken(id: string, box: Box): PreparedText {
    return this.words(id, box, { color: ERROR_COLOR, size: 9 }, [{ problem: problem('unknown-name') }]);
  }

  private words(id: string, box: Box, look: Look, planned: PlannedItem['pieces']): PreparedText {
    let color = look.color ?? DEFAULT_LOOK.color;
    let depends: PreparedText['depends'] = 'none';
    const pieces = planned.map((piece): string | PreparedPiece => {
      if (typeof piece === 'string') return piece;
      if ('problem' in piece) {
        color = ERROR_COLOR;
        return { evaluate: () => ERROR_VALUE, format: '' };
      }
      const dependence = pageDependence(piece.formula);
      if (dependence === 'count' || depends === 'none') depends = dependence;
      return { evaluate: compileFormula(piece.formula), format: piece.format };
    });
    return {
      kind: 'words',
      id,
      box,
      pieces,
      font: this.book.find(look.font ?? '', look.bold ?? false, look.italic ?? false),
      size: look.size ?? DEFAULT_LOOK.size,
      color,
      background: look.background ?? null,
      align: look.align ?? DEFAULT_LOOK.align,
      stands: look.stands ?? DEFAULT_LOOK.stands,
      padding: (look.padding ?? DEFAULT_LOOK.padding) * POINTS,
      depends,
    };
  }

  private lookOf(item: ItemOf<'text'> | ItemOf<'field'>): Look {
    const look = { ...(item.style ? this.plan.report.styles[item.style] : {}), ...item.look };
    if (look.font && !this.book.has(look.font)) {
      const data = { name: look.font, used: this.book.families[0]! };
      this.problems.push(problem('unknown-font', { item: item.id }, data, 'warning'));
    }
    return look;
  }
}

const ERROR_VALUE = new FormulaError('#NAME?');

const boxOf = (item: Item): Box => ({
  x: item.x * POINTS,
  y: item.y * POINTS,
  width: item.width * POINTS,
  height: item.height * POINTS,
});
