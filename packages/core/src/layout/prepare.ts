import type {
  PlannedBand,
  PlannedDrawer,
  PlannedHighlight,
  PlannedItem,
  PlannedLink,
  ReportPlan,
} from '../data/planned.ts';
import { type Item, type ItemOf, paperSize } from '../definition/schema.ts';
import type { DrawerBand, ReportBand } from '../definition/walk.ts';
import { compileFormula } from '../formula/compile.ts';
import type { Compiled } from '../formula/functions/context.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { shapeOf } from '../shape/shape.ts';
import type { FontBook } from '../text/fonts.ts';
import { prepareText } from './prepare-text.ts';
import {
  type Box,
  POINTS,
  type PreparedBand,
  type PreparedCommon,
  type PreparedDrawer,
  type PreparedHighlight,
  type PreparedItem,
  type PreparedLink,
  type PreparedReport,
  type PreparedSubreport,
  type PreparedText,
} from './prepared.ts';

/** `width` is the width that a nested report's bands get, in points; null for the report's own page. */
export const prepareReport = (plan: ReportPlan, book: FontBook, width: number | null = null): PreparedReport =>
  new Preparer(plan, book, width).prepare();

const compiled = (formula: Parameters<typeof compileFormula>[0] | null): Compiled | null =>
  formula && compileFormula(formula);

/** Whether a drawer shows nothing at all: empty bands of one that shows something are its spacing. */
const isBare = ({ bands, groups, drawers }: PlannedDrawer): boolean =>
  [...Object.values(bands), ...groups.flatMap(({ header, footer }) => [header, footer])].every(
    (band) => !band || band.items.length === 0,
  ) && drawers.every(isBare);

class Preparer {
  private readonly problems: Problem[] = [];
  private readonly cutOff = new Set<string>();
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
    const paper = paperSize(plan.report.page).width * POINTS;
    for (const [name, band] of Object.entries(plan.bands) as [ReportBand, PlannedBand][])
      bands[name] = this.band(band, name === 'pageBackground' || name === 'pageOverlay' ? paper : this.width);
    const root = plan.root && this.drawer(plan.root, this.width);
    return { plan, report: plan.report, book, root, bands, shape: shapeOf(plan), problems, cutOff: this.cutOff };
  }

  private drawer(planned: PlannedDrawer, around: number): PreparedDrawer {
    const { level, drawer } = planned;
    const width = drawer.beside ? drawer.beside.width * POINTS : around;
    let columns: PreparedDrawer['columns'] = null;
    let rowWidth = width;
    if (drawer.columns) {
      const { count, gap, order } = drawer.columns;
      rowWidth = (width - gap * POINTS * (count - 1)) / count;
      columns = { count, step: rowWidth + gap * POINTS, order };
    }
    const holdsNothing = isBare(planned);
    const bands: PreparedDrawer['bands'] = {};
    for (const [name, band] of Object.entries(planned.bands) as [DrawerBand, PlannedBand][])
      bands[name] = this.band(
        band,
        name === 'detail' || name === 'detailFooter' ? rowWidth : width,
        holdsNothing || name === 'detail',
      );
    return {
      level,
      drawer,
      bands,
      groups: planned.groups.map(({ header, footer }) => ({
        header: header && this.band(header, width, holdsNothing),
        footer: footer && this.band(footer, width, holdsNothing),
      })),
      drawers: planned.drawers.map((d) => this.drawer(d, rowWidth)),
      columns,
    };
  }

  private band(planned: PlannedBand, width: number, mayBeBare = false): PreparedBand {
    const items: PreparedItem[] = [];
    const subreports: PreparedSubreport[] = [];
    for (const item of planned.items) {
      const prepared = this.item(item, width);
      if (prepared) items.push(prepared);
      const { subreport } = item;
      if (!subreport || 'problem' in subreport) continue;
      const box = boxOf(item.item, width);
      const report = prepareReport(subreport.plan, this.book, box.width);
      this.problems.push(...report.problems);
      const { link } = subreport;
      const links = Object.fromEntries(Object.entries(link.values).map(([name, f]) => [name, compileFormula(f)]));
      const sharesRow = link.rows === 'current';
      subreports.push({
        id: item.item.id,
        box,
        report,
        outer: link.outer,
        sharesRow,
        links,
        showIf: compiled(item.showIf),
      });
    }
    const { band, key, path } = planned;
    return {
      band,
      key,
      path,
      width,
      height: band.height * POINTS,
      isBare: mayBeBare && band.items.length === 0,
      items,
      subreports,
      showIf: compiled(planned.showIf),
      breakIf: compiled(planned.breakIf),
      highlights: planned.highlights.map(highlight),
      settings: planned.settings.map(([name, formula]) => [name, compileFormula(formula)]),
    };
  }

  private item(planned: PlannedItem, width: number): PreparedItem | null {
    const { item, pieces } = planned;
    const common: PreparedCommon = {
      id: item.id,
      box: boxOf(item, width),
      showIf: compiled(planned.showIf),
      link: planned.link && preparedLink(planned.link),
      anchor: compiled(planned.anchor),
      settings: planned.settings.map(([name, formula]) => [name, compileFormula(formula)]),
    };
    switch (item.kind) {
      case 'text':
      case 'field':
        return this.text(planned, common);
      case 'picture': {
        const [piece] = pieces;
        if (piece && 'problem' in piece) return this.broken(common);
        return {
          ...common,
          kind: 'picture',
          item,
          evaluate: piece && 'formula' in piece ? compileFormula(piece.formula) : null,
        };
      }
      case 'barcode': {
        const [piece] = pieces;
        if (!piece || !('formula' in piece)) return this.broken(common);
        return { ...common, kind: 'barcode', item, evaluate: compileFormula(piece.formula) };
      }
      case 'check': {
        const [piece] = pieces;
        if (!piece || !('formula' in piece)) return this.broken(common);
        return { ...common, kind: 'check', item, evaluate: compileFormula(piece.formula) };
      }
      case 'line':
        return { ...common, kind: 'line', item };
      case 'rectangle':
        return { ...common, kind: 'rectangle', item };
      case 'subreport':
        return planned.subreport && 'problem' in planned.subreport ? this.broken(common) : null;
      default:
        return item satisfies never;
    }
  }

  private text(planned: PlannedItem, common: PreparedCommon): PreparedText {
    const item = planned.item as ItemOf<'text'> | ItemOf<'field'>;
    return prepareText(
      {
        common,
        item,
        pieces: planned.pieces,
        indent: planned.indent && compileFormula(planned.indent),
        highlights: planned.highlights.map(highlight),
        styles: this.plan.report.styles,
        language: this.plan.report.language,
        book: this.book,
        totals: this.plan.totals,
        cutOff: this.cutOff,
        missingFont: (name) => {
          const data = { name, used: this.book.families[0]! };
          this.problems.push(problem('unknown-font', { item: item.id }, data, 'warning'));
        },
      },
      [],
    );
  }

  /** What stands in the place of an item that cannot be shown. */
  private broken(common: PreparedCommon): PreparedText {
    const item: ItemOf<'text'> = {
      kind: 'text',
      id: common.id,
      x: 0,
      y: 0,
      width: 0,
      height: 0,
      content: [],
      look: { size: 9 },
    };
    const planned: PlannedItem = {
      item,
      pieces: [{ problem: problem('unknown-name') }],
      subreport: null,
      showIf: null,
      highlights: [],
      link: null,
      anchor: null,
      indent: null,
      settings: [],
    };
    return this.text(planned, common);
  }
}

const highlight = ({ when, look, hide }: PlannedHighlight): PreparedHighlight => ({
  when: compileFormula(when),
  look,
  hide,
});

const preparedLink = (link: PlannedLink): PreparedLink =>
  link.to === 'report'
    ? {
        to: 'report',
        report: link.report,
        parameters: Object.fromEntries(Object.entries(link.parameters).map(([name, f]) => [name, compileFormula(f)])),
      }
    : { to: link.to, evaluate: compileFormula(link.formula) };

/** `around`: width of the band in points, which shares are of. */
const boxOf = ({ x, y, width, height, share }: Item, around: number): Box => ({
  x: share?.x === undefined ? x * POINTS : (around * share.x) / 100,
  y: y * POINTS,
  width: share?.width === undefined ? width * POINTS : (around * share.width) / 100,
  height: height * POINTS,
});
