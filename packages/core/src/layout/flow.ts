import type { Mark, Page } from '../page/page.ts';
import { type Block, copyBlock, type LaidMark, type LateMark, type PagePlace, shiftLaid, splitBlock } from './block.ts';

/**
 * Takes blocks one after another and puts them on pages, or on the parts of pages that a column has.
 * Lengths in points, from the top of the area that the flow fills.
 */
export abstract class Flow {
  protected y = 0;
  private pending: Block[] = [];
  private readonly repeats: Block[] = [];
  /** Height of the repeated headers at the top of the current page. */
  private repeated = 0;

  /** Height of the area on the current page. */
  protected abstract limit: number;
  /** Height of the area on a page after the current one. */
  abstract readonly full: number;
  protected abstract put(marks: LaidMark[], dy: number): void;
  protected abstract nextPage(): void;

  get available(): number {
    return this.limit - this.y - this.pending.reduce((sum, b) => sum + b.height, 0);
  }

  private get atTop(): boolean {
    return this.y <= this.repeated && this.pending.length === 0;
  }

  /** Keeps a block back until the next one, so that a header never stands alone at the bottom of a page. */
  hold(block: Block): void {
    this.pending.push(block);
  }

  place(block: Block): void {
    const { pending } = this;
    if (pending.length === 0) {
      this.placeNow(block);
      return;
    }
    this.pending = [];
    const together = pending.reduce((sum, b) => sum + b.height, 0) + block.height;
    if (this.y + together > this.limit + 0.01 && together <= this.full - this.repeatHeight() && !this.atTop)
      this.breakPage();
    for (const held of pending) this.placeNow(held);
    this.placeNow(block);
  }

  /** Puts down what is held back. */
  flush(): void {
    const { pending } = this;
    this.pending = [];
    for (const held of pending) this.placeNow(held);
  }

  private placeNow(block: Block): void {
    let rest = block;
    for (;;) {
      if (this.y + rest.height <= this.limit + 0.01) break;
      const room = this.full - this.repeatHeight();
      if (rest.height <= room && !this.atTop) {
        this.breakPage();
        break;
      }
      const parts = splitBlock(rest, this.limit - this.y, room);
      if (parts) {
        this.putAt(parts[0]);
        rest = parts[1];
        this.breakPage();
      } else if (this.atTop) break;
      else this.breakPage();
    }
    this.putAt(rest);
  }

  private putAt(block: Block): void {
    this.put(block.marks, this.y);
    this.y += block.height;
  }

  /** Starts a new page, and puts the headers that stand on every page on it again. */
  breakPage(): void {
    this.nextPage();
    this.y = 0;
    for (const block of this.repeats) this.putAt(copyBlock(block));
    this.repeated = this.y;
  }

  /** Starts a new page unless the current one is still empty. */
  breakUnlessTop(): void {
    this.flush();
    if (!this.atTop) this.breakPage();
  }

  private repeatHeight(): number {
    return this.repeats.reduce((sum, b) => sum + b.height, 0);
  }

  /** From now on the block stands at the top of every new page, until {@link endRepeat}. */
  repeat(block: Block): void {
    this.repeats.push(copyBlock(block));
  }

  endRepeat(): void {
    this.repeats.pop();
  }
}

/** Bands that stand on every page. Built anew for each page, since they may show its number. */
export interface PageFrame {
  header: (page: PagePlace) => Block | null;
  footer: (page: PagePlace) => Block | null;
}

export interface PageGeometry {
  width: number;
  height: number;
  top: number;
  bottom: number;
  left: number;
}

/** Marks of one page that had to wait for the number of pages. */
export interface LateFill {
  /** 1-based. */
  page: number;
  marks: Mark[];
}

/** Fills real pages and hands each one over when it is complete. */
export class PageFlow extends Flow {
  private page: Page | null = null;
  private number = 0;
  private bodyTop = 0;
  protected limit = 0;
  full: number;
  /** Completed pages that wait to be handed over. */
  readonly finished: Page[] = [];
  private readonly late: { page: number; mark: LateMark }[] = [];

  constructor(
    private readonly geometry: PageGeometry,
    private readonly frame: PageFrame,
  ) {
    super();
    this.full = geometry.height - geometry.top - geometry.bottom;
    this.nextPage();
  }

  protected nextPage(): void {
    this.finishPage();
    const { geometry } = this;
    this.number++;
    this.page = { number: this.number, width: geometry.width, height: geometry.height, marks: [] };
    const place: PagePlace = { number: this.number, count: null };
    const header = this.frame.header(place);
    const footer = this.frame.footer(place);
    const bottom = geometry.height - geometry.bottom - (footer?.height ?? 0);
    this.bodyTop = geometry.top + (header?.height ?? 0);
    this.limit = Math.max(20, bottom - this.bodyTop);
    this.full = this.limit;
    if (header) this.put(header.marks, -header.height);
    if (footer) this.put(footer.marks, bottom - this.bodyTop);
  }

  protected put(marks: LaidMark[], dy: number): void {
    const page = this.page!;
    const x = this.geometry.left;
    const y = this.bodyTop + dy;
    for (const mark of marks) {
      shiftLaid(mark, x, y);
      if (mark.kind !== 'late') page.marks.push(mark);
      else if (mark.needs === 'count') {
        this.late.push({ page: page.number, mark });
        page.late = true;
      } else page.marks.push(...settle(mark, { number: page.number, count: null }));
    }
  }

  private finishPage(): void {
    if (this.page) this.finished.push(this.page);
    this.page = null;
  }

  /** Completes the last page. Gives the number of pages. */
  end(): number {
    this.flush();
    this.finishPage();
    return this.number;
  }

  get pages(): number {
    return this.number;
  }

  /** Marks that show the number of pages, page by page in order. Call after {@link end}. */
  *lateFills(): Iterable<LateFill> {
    let current: LateFill | null = null;
    for (const { page, mark } of this.late) {
      if (current && current.page !== page) {
        yield current;
        current = null;
      }
      current ??= { page, marks: [] };
      current.marks.push(...settle(mark, { number: page, count: this.number }));
    }
    if (current) yield current;
  }
}

const settle = (late: LateMark, page: PagePlace): Mark[] => {
  const marks = late.make(page);
  for (const mark of marks) shiftLaid(mark, late.x, late.y);
  return marks;
};

/** Fills a column that starts somewhere on a page and goes on over as many pages as it needs. */
export class ColumnFlow extends Flow {
  protected limit: number;
  readonly fragments: Block[] = [{ height: 0, marks: [] }];

  constructor(
    firstHeight: number,
    readonly full: number,
  ) {
    super();
    this.limit = firstHeight;
  }

  protected nextPage(): void {
    this.fragments.push({ height: 0, marks: [] });
    this.limit = this.full;
  }

  protected put(marks: LaidMark[], dy: number): void {
    const fragment = this.fragments.at(-1)!;
    for (const mark of marks) {
      shiftLaid(mark, 0, dy);
      fragment.marks.push(mark);
    }
  }

  /** The parts of the column, one for each page it reaches. */
  end(): Block[] {
    this.flush();
    this.fragments.at(-1)!.height = this.y;
    return this.fragments;
  }

  override breakPage(): void {
    this.fragments.at(-1)!.height = this.y;
    super.breakPage();
  }
}
