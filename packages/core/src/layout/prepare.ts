import type { PlannedBand, PlannedDrawer, PlannedItem, ReportPlan } from '../data/planned.ts';
import { liesIn } from '../definition/lying-in.ts';
import { type Item, type ItemKind, type PageSetup, paperSize, widthBetween } from '../definition/schema.ts';
import { pageOfSet, setOf, startsPages } from '../definition/sets.ts';
import { type DrawerBand, isPageBand, type ReportBand } from '../definition/walk.ts';
import { compileFormula } from '../formula/compile.ts';
import type { Compiled } from '../formula/functions/context.ts';
import { ITEM_LAYOUTS } from '../items/layouts.ts';
import { brokenItem } from '../items/words/prepare.ts';
import type { MarkRole } from '../page/page.ts';
import type { Problem } from '../problems/problem.ts';
import { shapeOf } from '../shape/shape.ts';
import type { FontBook } from '../text/fonts.ts';
import { captionsOf, NONE } from './captions.ts';
import { mirroredFlowing, mirroredItem } from './mirror.ts';
import { mirroredBox } from './mirrored-box.ts';
import {
  type Box,
  type FlowingItem,
  POINTS,
  type PreparedBand,
  type PreparedCommon,
  type PreparedDrawer,
  type PreparedItem,
  type PreparedPages,
  type PreparedReport,
} from './prepared.ts';
import { type PrepareItem, type Preparing, preparedHighlight, preparedLink } from './preparing.ts';
import { pairVoices } from './voices.ts';

export interface PrepareOptions {
  /** The width that a nested report's bands get, in points; null for the report's own page. */
  width?: number | null;
  /** Whether what is to be mirrored is; a document that goes on living does that by itself. */
  mirrors?: boolean;
}

export const prepareReport = (plan: ReportPlan, book: FontBook, options: PrepareOptions = {}): PreparedReport => {
  const prepared = new Preparer(plan, book, options).prepare();
  for (const { language, plan: voice } of plan.voices)
    pairVoices(prepared, new Preparer(voice, book, options).prepare(), language);
  return prepared;
};

const compiled = (formula: Parameters<typeof compileFormula>[0] | null): Compiled | null =>
  formula && compileFormula(formula);

/** Whether a drawer shows nothing at all: empty bands of one that shows something are its spacing. */
const isBare = ({ bands, groups, drawers }: PlannedDrawer): boolean =>
  [...Object.values(bands), ...groups.flatMap(({ header, footer }) => [header, footer])].every(
    (band) => !band || band.items.length === 0,
  ) && drawers.every(isBare);

/** Width of the bands on a page, in points. */
const widthOf = (page: PageSetup): number => widthBetween(page) * POINTS;

class Preparer {
  private readonly problems: Problem[] = [];
  private readonly cutOff = new Set<string>();
  private readonly width: number;
  private readonly isNested: boolean;
  private readonly isMirrored: boolean;
  private readonly preparing: Preparing;
  /** Of the rows around what is prepared now, the innermost first. */
  private languages: readonly Compiled[] = [];
  /** For items that are turned round when they have been laid out. */
  private readonly unmirrored: Preparing;

  constructor(
    private readonly plan: ReportPlan,
    private readonly book: FontBook,
    { width = null, mirrors = true }: PrepareOptions,
  ) {
    this.isMirrored = mirrors && plan.isMirrored;
    const { cutOff, problems } = this;
    this.preparing = {
      report: plan.report,
      book,
      totals: plan.totals,
      cutOff,
      found: (found) => problems.push(found),
      isMirrored: this.isMirrored,
      nested: (inner, room) => {
        const report = prepareReport(inner, book, { width: room, mirrors });
        problems.push(...report.problems);
        return report;
      },
      broken: (common) => brokenItem(common, this.preparing),
    };
    this.unmirrored = {
      ...this.preparing,
      isMirrored: false,
      broken: (common) => brokenItem(common, this.unmirrored),
    };
    this.isNested = width !== null;
    this.width = width ?? widthOf(plan.report.page);
  }

  prepare(): PreparedReport {
    const { plan, book, problems } = this;
    const { report } = plan;
    const bands: PreparedReport['bands'] = {};
    const last = this.isNested ? this.width : widthOf(pageOfSet(report, report.body.length - 1));
    if (plan.bands.header) bands.header = this.band(plan.bands.header, this.width, null);
    if (plan.bands.footer) bands.footer = this.band(plan.bands.footer, last, null);
    const pages = this.pages(report.page, null);
    const roots = plan.roots.map((root) => this.set(root));
    return {
      isMirrored: this.isMirrored,
      plan,
      pages,
      report: plan.report,
      book,
      roots,
      bands,
      voices: new Map(),
      shape: shapeOf(plan),
      problems,
      cutOff: this.cutOff,
    };
  }

  /** The paper, with the bands of the report's pages as wide as it, and those that a set has in their place. */
  private pages(page: PageSetup, set: PlannedDrawer | null): PreparedPages {
    const bands: PreparedPages['bands'] = {};
    const paper = paperSize(page).width * POINTS;
    const { pageHeader, pageFooter } = set?.bands ?? {};
    // Those of the first page and of even ones go with the ones that the set has its own instead of.
    const own: Partial<Record<ReportBand, PlannedBand | undefined>> = {
      ...(pageHeader ? { pageHeader, firstPageHeader: undefined, evenPageHeader: undefined } : {}),
      ...(pageFooter ? { pageFooter, firstPageFooter: undefined, evenPageFooter: undefined } : {}),
    };
    const all = Object.entries({ ...this.plan.bands, ...own }) as [ReportBand, PlannedBand | undefined][];
    // Bands of pages follow the row that is current there, of the set that the pages are of.
    const sets = set ? [set] : this.plan.roots;
    this.languages = sets.flatMap(({ language }) => (language ? [compileFormula(language)] : []));
    for (const [name, band] of all) {
      if (!band || !isPageBand(name)) continue;
      const isWhole = name === 'pageBackground' || name === 'pageOverlay';
      bands[name] = this.band(band, isWhole ? paper : this.isNested ? this.width : widthOf(page), 'artifact');
    }
    this.languages = [];
    return { page, bands };
  }

  /** An outermost drawer, on the paper that it stands on. A nested report has the width that it is given. */
  private set(planned: PlannedDrawer): PreparedDrawer {
    const { report } = this.plan;
    if (this.isNested) return this.drawer(planned, this.width);
    const place = setOf(report, planned.drawer.id);
    const page = pageOfSet(report, place);
    const pages = startsPages(report, place) ? this.pages(page, planned) : null;
    return { ...this.drawer(planned, widthOf(page)), pages };
  }

  /** `whole`: width of what it stands in, in points. */
  private drawer(planned: PlannedDrawer, whole: number): PreparedDrawer {
    const { level, drawer } = planned;
    const width = drawer.beside ? drawer.beside.width * POINTS : whole;
    const left = (drawer.beside?.x ?? 0) * POINTS;
    let columns: PreparedDrawer['columns'] = null;
    let rowWidth = width;
    if (drawer.columns) {
      const { count, gap, order } = drawer.columns;
      rowWidth = (width - gap * POINTS * (count - 1)) / count;
      const step = rowWidth + gap * POINTS;
      const lefts = Array.from({ length: count }, (_, i) => (this.isMirrored ? count - 1 - i : i) * step);
      columns = { lefts, order };
    }
    const holdsNothing = isBare(planned);
    const around = this.languages;
    const ofRows = planned.language ? [compileFormula(planned.language), ...around] : around;
    const bands: PreparedDrawer['bands'] = {};
    for (const [name, band] of Object.entries(planned.bands) as [DrawerBand, PlannedBand][]) {
      if (isPageBand(name)) continue;
      const isRow = name === 'detail' || name === 'detailFooter';
      this.languages = isRow ? ofRows : around;
      const as = name === 'header' ? 'header' : null;
      bands[name] = this.band(band, isRow ? rowWidth : width, as, holdsNothing || name === 'detail');
    }
    this.languages = ofRows;
    const groups = planned.groups.map(({ header, footer }) => ({
      header: header && {
        ...this.band(header, width, null, holdsNothing),
        captions: captionsOf(header, planned),
      },
      footer: footer && this.band(footer, width, null, holdsNothing),
    }));
    const drawers = planned.drawers.map((d) => this.drawer(d, rowWidth));
    this.languages = around;
    return {
      level,
      drawer,
      bands,
      pages: null,
      groups,
      drawers,
      columns,
      left: drawer.beside && this.isMirrored ? whole - left - width : left,
    };
  }

  private band(planned: PlannedBand, width: number, as: MarkRole | null, mayBeBare = false): PreparedBand {
    const items: PreparedItem[] = [];
    const flowing: FlowingItem[] = [];
    for (const item of planned.items) {
      const prepared = this.item(item, width);
      if ('begin' in prepared) flowing.push(prepared);
      else items.push(prepared);
    }
    const summaries = items.flatMap((item) => item.summaries ?? []);
    const switches = items.flatMap((item) => item.switches ?? []);
    intoPanels(items);
    const { band, key, path } = planned;
    const levels = planned.items.flatMap(({ level }) => level ?? []);
    return {
      band,
      key,
      path,
      width,
      height: band.height * POINTS,
      as,
      captions: NONE,
      isBare: mayBeBare && band.items.length === 0,
      items,
      flowing,
      levels,
      summaries,
      switches,
      isReading: levels.length + summaries.length > 0,
      languages: this.languages,
      showIf: compiled(planned.showIf),
      breakIf: compiled(planned.breakIf),
      highlights: planned.highlights.map(preparedHighlight),
      settings: planned.settings.map(([name, formula]) => [name, compileFormula(formula)]),
    };
  }

  private item(planned: PlannedItem, width: number): PreparedItem | FlowingItem {
    const { item } = planned;
    const common: PreparedCommon = {
      id: item.id,
      box: this.isMirrored ? mirroredBox(boxOf(item, width), width) : boxOf(item, width),
      mirrorsIn: this.isMirrored ? width : null,
      showIf: compiled(planned.showIf),
      link: planned.link && preparedLink(planned.link),
      anchor: compiled(planned.anchor),
      settings: planned.settings.map(([name, formula]) => [name, compileFormula(formula)]),
    };
    // Records are by kind: the item is of the kind that it is looked up by.
    const prepare = ITEM_LAYOUTS[item.kind] as PrepareItem;
    if (!this.isMirrored || !TURNED.has(item.kind)) return prepare(planned, common, this.preparing);
    const prepared = prepare(planned, common, this.unmirrored);
    return 'begin' in prepared ? mirroredFlowing(prepared) : mirroredItem(prepared);
  }
}

/** Kinds whose parts stand in an order from left to right, which turns round with the page. */
const TURNED: ReadonlySet<ItemKind> = new Set(['crosstab', 'contents', 'line']);

/** `around`: width of the band in points, which shares are of. */
const boxOf = ({ x, y, width, height, share }: Item, around: number): Box => ({
  x: share?.x === undefined ? x * POINTS : (around * share.x) / 100,
  y: y * POINTS,
  width: share?.width === undefined ? width * POINTS : (around * share.width) / 100,
  height: height * POINTS,
});

/** Gives each item that lies inside a panel to the smallest one that it lies in. */
const intoPanels = (items: PreparedItem[]): void => {
  const panels = items.filter(({ holds }) => holds);
  if (panels.length === 0) return;
  const areaOf = ({ box }: PreparedItem): number => box.width * box.height;
  const bySize = [...panels].sort((a, b) => areaOf(a) - areaOf(b));
  const all = [...items];
  items.length = 0;
  for (const item of all) {
    const place = bySize.indexOf(item);
    // Of two panels that lie in one another, as two of one size do, the one comes first.
    const owner = bySize.find((panel, i) => panel !== item && (place < 0 || i > place) && liesIn(item.box, panel.box));
    (owner?.holds ?? items).push(item);
  }
};
