import type { Level } from '../data/level.ts';
import { paperSize } from '../definition/schema.ts';
import { type EvaluationContext, NO_PAGE } from '../formula/functions/context.ts';
import type { RegionPlaces } from '../page/page.ts';
import { saidValue } from '../problems/phrases.ts';
import { type Problem, problemText } from '../problems/problem.ts';
import { type FoldSign, switchKeyOf } from '../shape/folds.ts';
import { type HeldSet, NO_ROWS } from '../shape/reader.ts';
import { ReportRows } from '../shape/report-rows.ts';
import { filterProblem, RootWalks, rowsProblem } from '../shape/root-walks.ts';
import { CellTable, type PreparedSummary } from '../shape/summary.ts';
import { FormulaError, type Value } from '../value/value.ts';
import { type BandPart, type BandSurroundings, layBand } from './band.ts';
import type { Block } from './block.ts';
import { type BandLayer, DrawerLayout, layDrawers } from './drawer-layout.ts';
import { ColumnFlow, type Flow } from './flow.ts';
import { layFlowing } from './flowing-band.ts';
import { foldMark } from './fold-mark.ts';
import { noticeBlock } from './notice.ts';
import type { Paper } from './page-frame.ts';
import { paperOf } from './paper.ts';
import {
  type Filling,
  type FlowingItem,
  type ItemSwitches,
  POINTS,
  type PreparedBand,
  type PreparedDrawer,
  type PreparedPages,
  type PreparedReport,
  type Switched,
} from './prepared.ts';
import type { AskedBand, BandWatch, FlowHost, RunShared } from './run-shared.ts';
import { Speaker } from './voices.ts';

/** What an item is shown whose groups were not read, as in a band of the page. */
const NO_CELLS = new FormulaError('#REF!');

/** One report while it runs. A nested report has one of these for all its instances, since its rows are one stream. */
export class ReportRun implements BandLayer, FlowHost {
  readonly rows: ReportRows;
  readonly context: EvaluationContext;
  private readonly around: BandSurroundings;
  private readonly speaker: Speaker;
  /** Items that take pages of their own, as far as they have been come to. */
  private readonly fillings = new Map<FlowingItem['begin'], Filling>();
  /** Rows of items' own levels for the rows that are current. */
  private readonly held = new Map<Level, HeldSet>();
  /** Groups of items for the rows that are current. */
  private readonly tables = new Map<PreparedSummary, CellTable | FormulaError | Problem>();
  private readonly switched = new Map<PreparedSummary, Switched>();
  /** What waits to be counted with the next block that lands. */
  private landings: (() => void)[] = [];
  /** The sign of the band that is laid out next. */
  private nextSign: FoldSign | null = null;
  private isBeginning = false;

  constructor(
    readonly prepared: PreparedReport,
    parameters: Record<string, Value>,
    readonly shared: RunShared,
    readonly inItem: string | null = null,
  ) {
    const { book, report, shape, plan } = prepared;
    const currencies = plan.model?.currencies;
    const { name, timeZone, language } = report;
    const { work, limits, isLiving, show, sketch, source, signal, pause, deliver, runAt } = shared;
    this.rows = new ReportRows(
      shape,
      { parameters, page: { ...NO_PAGE }, report: { name, timeZone, language, runAt, currencies } },
      {
        source,
        signal,
        maxAhead: limits.maxAhead,
        pause,
        deliver,
        rowsVisited: (count) => {
          shared.rows += count;
        },
        rowsFailed: (level, p) => shared.problems.push(rowsProblem(level, p)),
        filterFailed: (level, error) => this.told(filterProblem(level, error)),
        folds: shared.folds,
      },
    );
    const { totals, context } = this.rows;
    this.context = context;
    this.speaker = new Speaker(prepared, context, shared);
    const rowsOf = (level: Level): HeldSet => this.held.get(level) ?? NO_ROWS;
    const cellsOf = (summary: PreparedSummary) => this.tables.get(summary) ?? NO_CELLS;
    const switchedOf = (summary: PreparedSummary) => this.switched.get(summary);
    this.around = {
      totals,
      book,
      work,
      isLiving,
      limits,
      show,
      sketch,
      tell: (found) => this.told(found),
      rowsOf,
      cellsOf,
      switchedOf,
      asks: shared.watch?.asks ?? null,
      placing: shared.regions === 'places' && inItem === null,
    };
    shared.watch?.begins(plan, this.rows);
    const { waited } = shared;
    shared.waited = () => waited() + this.rows.reader.waited;
  }

  /** Keeps the first problem of each kind that an item, or a setting of it, has. */
  private told(found: Problem): void {
    const { problems } = this.shared;
    const { plan, report } = this.prepared;
    const place = { ...(plan.link ? { report: report.name } : {}), ...found.place };
    const isSame = (p: Problem): boolean =>
      p.code === found.code &&
      p.place.report === place.report &&
      p.place.item === place.item &&
      p.place.drawer === place.drawer &&
      p.place.path === place.path &&
      saidValue(p.data.setting ?? '') === saidValue(found.data.setting ?? '');
    if (!problems.some(isSame)) problems.push({ ...found, place });
  }

  /** Says where a drawer’s rows would stand why they do not, once. */
  noteFailure({ level, bands }: PreparedDrawer, flow: Flow): void {
    const failure = this.rows.reader.failure(level);
    if (!failure || this.noted.has(level)) return;
    this.noted.add(level);
    const { page } = this.prepared.report;
    const whole = (paperSize(page).width - page.margins.left - page.margins.right) * POINTS;
    const width = Object.values(bands)[0]?.width ?? whole;
    flow.place(noticeBlock(problemText(rowsProblem(level, failure)), width, this.prepared.book));
  }

  private readonly noted = new Set<Level>();

  close(): void {
    for (const filling of this.fillings.values()) filling.close();
    this.rows.close();
  }

  /** The whole report for one parent row (for a report that is not nested: for parent 1). */
  async all(flow: Flow, parent: number, given: HeldSet | null = null): Promise<void> {
    const { roots, bands, shape } = this.prepared;
    const walks = new RootWalks(this.rows, shape, parent);
    await walks.begin(given);
    if (bands.header) await this.band(bands.header, flow);
    const turn = (place: number): void => {
      const { pages } = roots[place]!;
      if (pages) flow.turnTo(this.paper(pages));
    };
    const fill = (place: number, target: Flow): Promise<void> =>
      walks.run(place, new DrawerLayout(this, roots[place]!, target));
    await layDrawers(roots, flow, fill, turn);
    if (bands.footer) {
      flow.keepWithLast((bands.footer.band.keepWith ?? 1) > 0);
      await this.band(bands.footer, flow);
      flow.keepWithLast(false);
    }
  }

  /** Counts what the current row adds to its page once the next block lands. */
  willLand(landing: (() => void) | null): void {
    if (landing) this.landings.push(landing);
  }

  signNext(sign: FoldSign | null): void {
    this.nextSign = sign;
  }

  /** Adds the sign that waits for a band to the marks of it. */
  private sign(block: Block, band: PreparedBand): void {
    const { nextSign } = this;
    this.nextSign = null;
    if (!nextSign) return;
    const { isMirrored, pages } = this.prepared;
    const { left } = pages.page.margins;
    // What was the left margin is at the right then.
    const place = { margin: left * POINTS, width: isMirrored ? band.width : null };
    block.marks.push(foldMark(nextSign, block.marks, place));
  }

  /** `alternate`: the background of a second row. */
  lay(band: PreparedBand, flow: Flow | null, alternate: string | null = null): Block | null {
    const { tracing, watch } = this.shared;
    if (watch && !watch.isOfPages) return this.unlaid(band, watch);
    const passed = tracing?.passed();
    if (passed) {
      this.nextSign = null;
      this.isBeginning = false;
      return this.withLandings(passed);
    }
    this.lookAtPage(flow);
    const laid = this.speaker.speaking(band, (spoken) => layBand(spoken, this.context, this.around, null, alternate));
    const block = tracing ? tracing.note(laid) : laid;
    if (!block) {
      this.nextSign = null;
      return null;
    }
    this.sign(block, band);
    this.withLandings(block);
    this.mark(block, band);
    return block;
  }

  /** In the place of a band while somebody asks where a value of one comes from. */
  private unlaid(band: PreparedBand, watch: BandWatch): Block {
    this.nextSign = null;
    this.isBeginning = false;
    const asked = this.asked(band);
    if (watch.isAsked(asked)) {
      // Items that stand in their band tell of their cells as they are laid out.
      if (band.summaries.length > 0) layBand(band, this.context, this.around);
      watch.has(asked);
    }
    return this.withLandings({ height: 0, marks: [] });
  }

  private asked({ key }: PreparedBand, page = 0): AskedBand {
    return { plan: this.prepared.plan, key, rows: this.rows, page };
  }

  beginNext(): void {
    this.isBeginning = this.prepared.plan.link === null;
  }

  /** Says which band and row a block is of. */
  private mark(block: Block, { width, key }: PreparedBand, isPart = false): void {
    const begins = this.isBeginning ? { begins: true as const } : {};
    this.isBeginning = false;
    if (this.shared.regions === 'none') return;
    const { height, marks } = block;
    const places = this.placesOf(block, isPart);
    // To a hand on the page, what lies in a subreport is that subreport.
    if (places.places?.inside !== undefined)
      for (const made of marks) if ('item' in made) made.item = places.places.inside;
    marks.push({
      kind: 'region',
      x: 0,
      y: 0,
      width,
      height,
      band: key,
      rows: this.rows.rowPath(),
      ...begins,
      ...places,
    });
  }

  /** Where the items of a block stand, if that is asked for. */
  private placesOf({ places = {} }: Block, isPart: boolean): { places?: RegionPlaces } {
    if (this.shared.regions !== 'places') return {};
    if (this.inItem !== null) return { places: { items: {}, inside: this.inItem } };
    return { places: { items: places, ...(isPart ? { isPart: true as const } : {}) } };
  }

  /** Says of the blocks of an item, which may lie on several pages, which band and row they are of. */
  private stampOf({ id, box }: FlowingItem, { key }: PreparedBand): (block: Block) => void {
    const { regions, isLiving } = this.shared;
    if (regions === 'none' || isLiving) return () => {};
    const rows = this.rows.rowPath();
    const inside = regions === 'places' ? { places: { items: {}, inside: this.inItem ?? id } } : {};
    return ({ height, marks }) =>
      void marks.push({ kind: 'region', x: 0, y: 0, width: box.width, height, band: key, rows, ...inside });
  }

  private withLandings(block: Block): Block {
    if (this.landings.length > 0) {
      block.landings = this.landings;
      this.landings = [];
    }
    return block;
  }

  /** What formulas see of the page before a block has its place on it. */
  lookAtPage(flow: Flow | null): void {
    if (!flow) return;
    const { page } = this.context;
    page.number = flow.pageNumber;
    page.room = flow.available / POINTS;
  }

  /** The paper of pages, with the bands on each of them for the rows that are current there. */
  paper(pages: PreparedPages): Paper {
    return paperOf(pages, this.prepared.isMirrored, {
      band: (band, page) => {
        const { watch } = this.shared;
        if (watch?.isOfPages) {
          const asked = this.asked(band, page.number);
          if (watch.isAsked(asked)) watch.has(asked);
        }
        const block = this.speaker.speaking(band, (spoken) => layBand(spoken, { ...this.context, page }, this.around));
        if (block && this.shared.regions === 'places') this.mark(block, band);
        return block;
      },
      completed: () => this.rows.totals.pageCompleted(),
      hasRow: () => this.prepared.roots.some(({ level }) => (this.context.rows[level.index] ?? null) !== null),
    });
  }

  /** Starts a new page where the band asks for one before it; `isFirst`: nothing comes before that it could part from. */
  breakBefore(band: PreparedBand, flow: Flow, isFirst: boolean): void {
    const { pageBreak = 'none', breakTo, restartPages } = band.band;
    const asked = pageBreak === 'before' || (pageBreak === 'between' && !isFirst);
    const onCondition = pageBreak === 'none' && band.breakIf !== null;
    if (!asked && !onCondition) {
      if (restartPages && pageBreak === 'between') flow.restartPart();
      return;
    }
    if (!this.breakHolds(band, flow)) return;
    flow.breakUnlessTop(breakTo ?? null);
    if (restartPages) flow.restartPart();
  }

  breakAfter(band: PreparedBand, flow: Flow): void {
    if (band.band.pageBreak === 'after' && this.breakHolds(band, flow)) flow.breakUnlessTop(band.band.breakTo ?? null);
  }

  private breakHolds(band: PreparedBand, flow: Flow): boolean {
    if (!band.breakIf) return true;
    this.lookAtPage(flow);
    return band.breakIf(this.context) === true;
  }

  /** A band that is not a header or a row: where it has its page breaks, keeps and place. */
  async band(band: PreparedBand, flow: Flow): Promise<void> {
    this.breakBefore(band, flow, false);
    await this.bandHere(band, flow);
    this.breakAfter(band, flow);
  }

  /** The band without its page breaks. */
  async bandHere(band: PreparedBand, flow: Flow, alternate: string | null = null): Promise<void> {
    if (band.isReading) await this.ready(this.speaker.spoken(band));
    if (band.flowing.length > 0) {
      await this.bandWithPages(band, flow);
      return;
    }
    const block = this.lay(band, flow, alternate);
    if (!block) return;
    if (band.band.atBottom) flow.placeAtBottom(block);
    else flow.place(block);
  }

  private part(band: PreparedBand, part: BandPart, isTold = false): Block {
    const block = layBand(band, this.context, this.around, part) ?? { height: 0, marks: [] };
    if ((block.marks.length > 0 || isTold) && !this.shared.isLiving) this.mark(block, band, true);
    return block;
  }

  async ready(band: PreparedBand): Promise<void> {
    const { watch } = this.shared;
    if (watch && !watch.isOfPages && !watch.isAsked(this.asked(band))) return;
    for (const level of band.levels) this.held.set(level, await this.rows.ofItem(level));
    for (const summary of band.summaries) this.tables.set(summary, await this.rows.cellsOf(summary));
    for (const one of band.switches) this.switch(one);
    if (watch) await watch.reads(this.asked(band));
  }

  /** Decides what of an item is switched off: here, since a band that nobody will see is not laid out. */
  private switch({ item, summary, names }: ItemSwitches): void {
    const table = this.tables.get(summary);
    if (!(table instanceof CellTable)) return;
    const own = this.rows.foldKey(item);
    const switched = names(table, this.context).map((name) => {
      const { key, isClosed } = this.shared.folds.switched(switchKeyOf([own, name]));
      return [name, { key, isOff: isClosed }] as const;
    });
    this.switched.set(summary, new Map(switched));
  }

  private filling(item: FlowingItem): Filling {
    // An item in another language may be filled by what fills it in the first.
    let found = this.fillings.get(item.begin);
    if (!found) {
      found = item.begin(this);
      this.fillings.set(item.begin, found);
    }
    return found;
  }

  private async bandWithPages(band: PreparedBand, flow: Flow): Promise<void> {
    const { watch } = this.shared;
    const isShown = ({ showIf }: Pick<FlowingItem, 'showIf'>): boolean => !showIf || showIf(this.context) === true;
    if (!isShown(band)) return;
    if (watch && !watch.isOfPages) return this.unlaidWithPages(band, flow, watch);
    await this.speaker.speakingFor(band, (spoken) =>
      layFlowing(spoken, flow, {
        isShown,
        // Where a band begins is told also when nothing stands there.
        part: (part, isTold = false) => this.part(spoken, part, isTold && this.shared.regions === 'places'),
        begin: (first) => {
          this.sign(first, spoken);
          first.landings = this.landings;
          this.landings = [];
        },
        fill: (item, target) => this.filling(item).fill(target),
        stampOf: (item) => this.stampOf(item, spoken),
      }),
    );
    await this.shared.deliver();
  }

  private async unlaidWithPages(band: PreparedBand, flow: Flow, watch: BandWatch): Promise<void> {
    const asked = this.asked(band);
    const isAsked = watch.isAsked(asked);
    for (const item of band.flowing) {
      if (item.showIf && item.showIf(this.context) !== true) continue;
      // A nested report may have the band that is asked about; of others only those of the band itself are.
      if (!item.streams) await this.filling(item).fill(flow);
      else if (isAsked) await this.filling(item).fill(new ColumnFlow(flow.full, flow.full));
    }
    if (isAsked) {
      this.unlaid(band, watch);
    }
  }
}
