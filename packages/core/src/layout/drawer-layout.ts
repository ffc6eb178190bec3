import type { FoldSign } from '../shape/folds.ts';
import type { DrawerVisitor, RowsEnd } from '../shape/shape.ts';
import { sideBySide } from './beside.ts';
import { type Block, mergeBlock } from './block.ts';
import { ColumnFlow, ColumnsFlow, type Flow } from './flow.ts';
import type { PreparedBand, PreparedDrawer } from './prepared.ts';

/** Lays the bands of a report out, with its current rows. */
export interface BandLayer {
  /** `alternate`: the background of a second row. Null when the band is left out. */
  lay(band: PreparedBand, flow: Flow, alternate?: string | null): Block | null;
  /** Reads the rows that items of the band show of their own; called before it is laid out. */
  ready(band: PreparedBand): Promise<void>;
  /** A band where it has its page breaks, keeps and place. */
  band(band: PreparedBand, flow: Flow): Promise<void>;
  /** The band without its page breaks. */
  bandHere(band: PreparedBand, flow: Flow, alternate?: string | null): Promise<void>;
  /** Starts a new page where the band asks for one before it; `isFirst`: nothing comes before that it could part from. */
  breakBefore(band: PreparedBand, flow: Flow, isFirst: boolean): void;
  breakAfter(band: PreparedBand, flow: Flow): void;
  /** The band that is laid out next has this sign; none when it is null. */
  signNext(sign: FoldSign | null): void;
  /** The band that is laid out next is the first of one of the outermost groups, or of an outermost row. */
  beginNext(): void;
  /** Counts what the current row adds to its page once the next block lands. */
  willLand(landing: (() => void) | null): void;
  /** Says where a drawer’s rows would stand why they do not. */
  noteFailure(drawer: PreparedDrawer, flow: Flow): void;
}

/**
 * Lays drawers out one after the other; those that stand beside others side by side. `begin` is told of each, or of the first
 * of those side by side, before.
 */
export const layDrawers = async (
  drawers: readonly PreparedDrawer[],
  flow: Flow,
  fill: (place: number, flow: Flow) => Promise<void>,
  begin: (place: number) => void = () => {},
): Promise<void> => {
  for (let i = 0; i < drawers.length; ) {
    begin(i);
    const beside: number[] = [];
    while (drawers[i]?.drawer.beside) beside.push(i++);
    if (beside.length === 0) {
      await fill(i, flow);
      i++;
      continue;
    }
    const columns = beside.map((place) => ({
      x: drawers[place]!.left,
      y: 0,
      fill: (column: Flow) => fill(place, column),
    }));
    await sideBySide(flow, columns, { height: 0, marks: [] });
  }
};

/** Puts what a walk tells of a drawer's rows into a flow: its bands, and the drawers inside it. */
export class DrawerLayout implements DrawerVisitor {
  private readonly repeating: boolean[];
  /** Of each group, and of what is inside the current row. */
  private readonly closed: boolean[];
  private isRowClosed = false;
  private isHeaderRepeating = false;
  /** Whether its rows lie under its header, which they are folded into. */
  private hasHeading = false;
  /** Rows that the keep around the header still waits for; 0 when there is none. */
  private keptRows = 0;
  /** Where the row whose turn it is goes: into the flow itself, or into a column. */
  private target: Flow;
  private cells: Block[][] = [];
  private columns: ColumnsFlow | null = null;

  constructor(
    private readonly layer: BandLayer,
    private readonly drawer: PreparedDrawer,
    private readonly flow: Flow,
  ) {
    this.repeating = drawer.groups.map(() => false);
    this.closed = drawer.groups.map(() => false);
    this.target = flow;
  }

  begin(): void {
    this.flow.note({ kind: 'begins', part: 'drawer', drawer: this.drawer.drawer.id });
    if (this.drawer.drawer.keepWhole) this.flow.beginKeep();
  }

  async header(fold: FoldSign | null): Promise<void> {
    const band = this.drawer.bands.header;
    if (!band) return;
    this.hasHeading = fold !== null;
    this.layer.breakBefore(band, this.flow, true);
    const { keepWith = 1 } = band.band;
    if (keepWith > 1) {
      this.flow.beginKeep();
      this.keptRows = keepWith;
    }
    this.isHeaderRepeating = await this.holdHeader(band, keepWith, fold);
    if (this.hasHeading) this.flow.note({ kind: 'deeper' });
  }

  /** Lays a header out and keeps it with what follows; gives whether it stands on every page from now on. */
  private async holdHeader(band: PreparedBand, keepWith: number, fold: FoldSign | null): Promise<boolean> {
    const { flow } = this;
    this.layer.signNext(fold);
    if (band.flowing.length > 0) {
      await this.layer.bandHere(band, flow);
      return false;
    }
    if (band.isReading) await this.layer.ready(band);
    const block = this.layer.lay(band, flow);
    if (!block) return false;
    if (band.band.everyPage) block.repeats = true;
    if (keepWith > 0) flow.hold(block);
    else flow.place(block);
    return band.band.everyPage ?? false;
  }

  async groupBegins(group: number, isFirst: boolean, fold: FoldSign | null): Promise<void> {
    const { drawer, flow, layer } = this;
    const { header } = drawer.groups[group]!;
    this.closed[group] = fold?.isClosed ?? false;
    flow.note({ kind: 'begins', part: 'group', drawer: drawer.drawer.id, group });
    // What is closed takes a line, which needs no page of its own.
    if (header && !fold?.isClosed) layer.breakBefore(header, flow, isFirst);
    if (drawer.level.groups[group]!.group.keepWhole) flow.beginKeep();
    if (group === 0 && !drawer.level.parent) layer.beginNext();
    if (!header) return;
    this.repeating[group] = await this.holdHeader(header, header.band.keepWith ?? 1, fold);
    flow.note({ kind: 'deeper' });
  }

  rowBegins(landing: (() => void) | null): void {
    this.layer.willLand(landing);
    this.target = this.flowForRow();
    if (this.drawer.drawer.keepRow) this.target.beginKeep();
  }

  hidden(landing: (() => void) | null): void {
    this.layer.willLand(landing);
  }

  private flowForRow(): Flow {
    const { flow } = this;
    const { columns } = this.drawer;
    if (!columns) return flow;
    if (columns.order === 'across') return new ColumnFlow(flow.full, flow.full, flow.pageNumber);
    if (!this.columns) {
      flow.flush();
      this.columns = new ColumnsFlow(flow, columns.lefts);
    }
    return this.columns;
  }

  async detail(number: number, fold: FoldSign | null): Promise<void> {
    const { drawer, layer, target } = this;
    const { detail } = drawer.bands;
    this.isRowClosed = fold?.isClosed ?? false;
    const { parent, groups } = drawer.level;
    if (!parent && groups.length === 0 && drawer.drawers.length > 0) layer.beginNext();
    if (!detail) return;
    if (!this.isRowClosed) layer.breakBefore(detail, target, number === 1);
    layer.signNext(fold);
    const alternate = number % 2 === 0 ? (drawer.drawer.alternate ?? null) : null;
    if (detail.flowing.length > 0 || drawer.drawers.length === 0 || detail.band.atBottom)
      await layer.bandHere(detail, target, alternate);
    else {
      if (detail.isReading) await layer.ready(detail);
      const block = layer.lay(detail, target, alternate);
      if (block) target.hold(block);
    }
  }

  async inner(walk: (place: number, visitor: DrawerVisitor) => Promise<void>): Promise<void> {
    const { drawers, bands } = this.drawer;
    const { target } = this;
    if (bands.detail) target.note({ kind: 'deeper' });
    await layDrawers(drawers, target, (place, flow) =>
      walk(place, new DrawerLayout(this.layer, drawers[place]!, flow)),
    );
    if (bands.detail) target.note({ kind: 'shallower' });
  }

  async rowEnds(): Promise<void> {
    const { layer, drawer, target } = this;
    const { detail, detailFooter } = drawer.bands;
    if (detailFooter) await this.footer(detailFooter, target);
    if (drawer.drawers.length > 0) target.flush();
    if (detail && !this.isRowClosed) layer.breakAfter(detail, target);
  }

  /** A band below rows, which is kept with the last of them. */
  private async footer(band: PreparedBand, flow: Flow): Promise<void> {
    flow.keepWithLast((band.band.keepWith ?? 1) > 0);
    await this.layer.band(band, flow);
    flow.keepWithLast(false);
  }

  rowPassed(): void {
    const { drawer, flow, target } = this;
    if (drawer.drawer.keepRow) target.endKeep();
    if (drawer.columns?.order === 'across') {
      this.cells.push((target as ColumnFlow).end());
      if (this.cells.length === drawer.columns.lefts.length) this.placeCells();
    }
    this.target = flow;
    if (this.keptRows > 0 && --this.keptRows === 0) flow.endKeep();
  }

  /** Puts a line of cells down, as one block that is as high as the highest. */
  private placeCells(): void {
    const { lefts } = this.drawer.columns!;
    const pages: Block[] = [];
    for (const [i, fragments] of this.cells.entries()) {
      for (const [page, fragment] of fragments.entries()) {
        pages[page] ??= { height: 0, marks: [] };
        mergeBlock(pages[page]!, fragment, lefts[i]!, 0);
      }
    }
    this.cells = [];
    for (const [i, block] of pages.entries()) {
      if (i > 0) this.flow.breakPage();
      this.flow.place(block);
    }
  }

  rowsComplete(): void {
    if (this.cells.length > 0) this.placeCells();
    this.columns?.end();
    this.columns = null;
  }

  async groupEnds(group: number): Promise<void> {
    const { drawer, flow, layer } = this;
    const { footer, header } = drawer.groups[group]!;
    const isClosed = this.closed[group]!;
    const hidesFooter = drawer.level.groups[group]!.group.fold?.hidesFooter ?? false;
    // A footer that is hidden with what is closed lies under the heading as well.
    if (header && !hidesFooter) flow.note({ kind: 'shallower' });
    if (footer && !(isClosed && hidesFooter)) await this.footer(footer, flow);
    if (header && hidesFooter) flow.note({ kind: 'shallower' });
    if (this.repeating[group]) flow.endRepeat();
    this.repeating[group] = false;
    flow.flush();
    if (drawer.level.groups[group]!.group.keepWhole) flow.endKeep();
    flow.note({ kind: 'ends' });
    if (header && !isClosed) layer.breakAfter(header, flow);
  }

  async end({ count, others, failure, isClosed }: RowsEnd): Promise<void> {
    const { drawer, flow, layer } = this;
    const { bands } = drawer;
    if (this.keptRows > 0) flow.endKeep();
    if (this.isHeaderRepeating) flow.endRepeat();
    layer.noteFailure(drawer, flow);
    const hidesFooter = drawer.drawer.fold?.hidesFooter ?? false;
    const shallower = (): void => {
      if (this.hasHeading) flow.note({ kind: 'shallower' });
    };
    if (count > 0 && bands.others && others > 0 && !isClosed) await this.footer(bands.others, flow);
    if (!hidesFooter) shallower();
    if (count > 0 && bands.footer && !(isClosed && hidesFooter)) await this.footer(bands.footer, flow);
    if (count === 0 && bands.empty && !failure) await layer.band(bands.empty, flow);
    if (hidesFooter) shallower();
    if (drawer.drawer.keepWhole) flow.endKeep();
    flow.note({ kind: 'ends' });
  }
}
