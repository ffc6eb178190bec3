import type { ContentEvent } from '../content/content.ts';
import { type Block, copyBlock, mergeBlock, splitBlock } from './block.ts';
import type { Paper } from './page-frame.ts';
import { asRepeated } from './roles.ts';

export type Parity = 'odd' | 'even' | null;

/** What a flow is told of the rows that its blocks belong to: where they begin and end, and what lies under a heading. */
export type FlowNote = Extract<ContentEvent, { kind: 'begins' | 'ends' }> | { kind: 'deeper' | 'shallower' };

/** What is kept back until it is known whether it fits on the page as a whole. */
interface Kept {
  steps: (() => void)[];
  height: number;
  /** Depth of the keep that started it. */
  depth: number;
}

/** What was put down last, and has not left for its page yet: more that belongs to it may take it along to the next one. */
interface Tail {
  /** Where it begins on the current page. */
  y: number;
  blocks: { block: Block; again: Block | null }[];
}

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
  private kept: Kept | null = null;
  private keeps = 0;
  private tail: Tail | null = null;
  /** The next block belongs to what was put down last. */
  private follows = false;
  /** Whether headers stand again at the top of further pages. */
  protected readonly repeatsHeaders: boolean = true;

  /** Height of the area on the current page. */
  protected abstract limit: number;
  /** Height of the area on a page after the current one. */
  abstract readonly full: number;
  protected abstract put(block: Block, dy: number): void;
  protected abstract nextPage(): void;
  /** 1-based number of the current page; 0 where it is not known yet. */
  abstract readonly pageNumber: number;

  /** Height that is left on the current page, as far as it is known. */
  get available(): number {
    // What is kept together is taken to start at the top of a page.
    if (this.kept) return this.full - this.repeatHeight() - this.kept.height;
    return this.limit - this.y - this.heightOf(this.pending);
  }

  protected get atTop(): boolean {
    return this.y <= this.repeated && this.pending.length === 0;
  }

  private heightOf(blocks: readonly Block[]): number {
    return blocks.reduce((sum, b) => sum + b.height, 0);
  }

  private repeatHeight(): number {
    return this.heightOf(this.repeats);
  }

  /** Does a step now, or later when what it belongs to is kept together. */
  private step(height: number, work: () => void): void {
    const { kept } = this;
    if (!kept) {
      work();
      return;
    }
    kept.steps.push(work);
    kept.height += height;
    if (kept.height > this.full - this.repeatHeight() + 0.01) this.giveUp();
  }

  /** Whatever comes until {@link endKeep} stays on one page, as long as it fits on one. May be nested. */
  beginKeep(): void {
    this.keeps++;
    this.kept ??= { steps: [], height: 0, depth: this.keeps };
  }

  endKeep(): void {
    const { kept } = this;
    if (kept && kept.depth === this.keeps) {
      this.kept = null;
      const height = this.heightOf(this.pending) + kept.height;
      const fits = this.y + height <= this.limit + 0.01;
      if (!fits && height <= this.full - this.repeatHeight() + 0.01 && this.y > this.repeated) this.breakNow();
      for (const step of kept.steps) step();
    }
    this.keeps--;
  }

  /** What is kept back does not fit on a page: it goes where it would have gone. */
  private giveUp(): void {
    const { kept } = this;
    this.kept = null;
    for (const step of kept?.steps ?? []) step();
  }

  /** Keeps a block back until the next one, so that a header never stands alone at the bottom of a page. */
  hold(block: Block): void {
    this.step(block.height, () => this.pending.push(block));
  }

  place(block: Block): void {
    const { follows } = this;
    this.follows = false;
    this.step(block.height, () => {
      if (follows && this.pending.length === 0) this.takeTailAlong(block);
      else this.leaveTail();
      this.makeRoom(block);
      this.placeNow(block);
    });
  }

  /**
   * The next block belongs to what was put down last, as a total does to its rows: where it goes to the next page, that goes
   * along, as long as both fit on one. `follows`: false when there is no such block after all.
   */
  keepWithLast(follows: boolean): void {
    this.follows = follows;
  }

  /** What was put down last goes to the next page where the block that belongs to it has no room below. */
  private takeTailAlong(block: Block): void {
    const { tail } = this;
    if (!tail || this.y + block.height <= this.limit + 0.01 || block.mayBeCut) return;
    const together = this.y - tail.y + block.height;
    if (tail.y <= this.repeated || together > this.full - this.repeatHeight()) return;
    this.tail = null;
    this.y = tail.y;
    // Headers among them stand where they go, and on the pages after that as long as they did before.
    const repeating = new Set(tail.blocks.flatMap(({ again }) => (again && this.repeats.includes(again) ? again : [])));
    const others = this.repeats.filter((again) => !repeating.has(again));
    this.repeats.splice(0, this.repeats.length, ...others);
    this.breakNow();
    for (const { block: moved, again } of tail.blocks)
      this.putLast(moved, again && repeating.has(again) ? again : null);
  }

  /** What was put down last stays where it is. */
  private leaveTail(): void {
    const { tail } = this;
    this.tail = null;
    if (!tail) return;
    let at = tail.y;
    for (const { block } of tail.blocks) {
      this.put(block, at);
      at += block.height;
    }
  }

  /** At the bottom of the current page, or of the next one when there is no room. */
  placeAtBottom(block: Block): void {
    this.step(block.height, () => {
      this.makeRoom(block);
      if (this.y + block.height > this.limit + 0.01 && !this.atTop) this.breakNow();
      this.leaveTail();
      this.y = Math.max(this.y, this.bottomOf(block));
      this.placeNow(block);
      this.leaveTail();
    });
  }

  /** Where a block at the bottom of the page starts. */
  protected bottomOf(block: Block): number {
    return this.limit - block.height;
  }

  /** Starts a new page where what is held back does not fit before the block; puts it down. */
  private makeRoom(block: Block): void {
    const { pending } = this;
    if (pending.length === 0) return;
    this.pending = [];
    const together = this.heightOf(pending) + (block.mayBeCut ? Math.min(block.height, 1) : block.height);
    if (this.y + together > this.limit + 0.01 && together <= this.full - this.repeatHeight() && !this.atTop)
      this.breakNow();
    for (const held of pending) this.placeNow(held);
  }

  /** Puts down what is held back. */
  flush(): void {
    this.step(0, () => this.flushNow());
  }

  private flushNow(): void {
    const { pending } = this;
    if (pending.length === 0) return;
    this.leaveTail();
    this.pending = [];
    for (const held of pending) this.placeNow(held);
  }

  private placeNow(block: Block): void {
    let rest = block;
    for (;;) {
      if (this.y + rest.height <= this.limit + 0.01) break;
      const room = this.full - this.repeatHeight();
      if (rest.height <= room && !this.atTop && !rest.mayBeCut) {
        this.breakNow();
        break;
      }
      const parts = splitBlock(rest, this.limit - this.y, room);
      if (parts) {
        this.putAt(parts[0]);
        rest = parts[1];
        this.breakNow();
      } else if (this.atTop) break;
      else this.breakNow();
    }
    this.putAt(rest);
  }

  private putAt(block: Block): void {
    this.putLast(block, block.repeats && this.repeatsHeaders ? copyBlock(block) : null);
  }

  /** `again`: what stands on further pages from now on. */
  private putLast(block: Block, again: Block | null): void {
    this.tail ??= { y: this.y, blocks: [] };
    this.tail.blocks.push({ block, again });
    this.y += block.height;
    if (again) this.repeats.push(again);
  }

  /** Starts a new page, and puts the headers that stand on every page on it again. */
  breakPage(): void {
    if (this.kept) {
      // The kept blocks were laid out for the top of a page.
      const { kept } = this;
      this.kept = null;
      if (this.y > this.repeated) this.breakNow();
      for (const step of kept.steps) step();
    }
    this.breakNow();
  }

  protected breakNow(): void {
    this.leaveTail();
    this.nextPage();
    this.y = 0;
    for (const block of this.repeats) {
      const copy = copyBlock(block);
      this.put({ ...copy, marks: asRepeated(copy.marks) }, this.y);
      this.y += copy.height;
    }
    this.repeated = this.y;
  }

  /** Starts a new page unless the current one is still empty; with a parity, until the page's number has it. */
  breakUnlessTop(parity: Parity = null): void {
    this.settle();
    if (!this.atTop) this.breakNow();
    if (parity && this.pageNumber > 0 && this.pageNumber % 2 === (parity === 'odd' ? 0 : 1)) this.breakNow();
  }

  /** Puts everything down that is kept back. */
  protected settle(): void {
    this.giveUp();
    this.flushNow();
    this.leaveTail();
  }

  /** From here on pages are of this paper; a column goes on as it is. */
  turnTo(_paper: Paper): void {}

  /** Starts a new page, taking what is held back along, where less than `height` is left on this one. */
  need(height: number): void {
    if (this.available >= height) return;
    this.giveUp();
    if (this.available < height && this.y > this.repeated) this.breakNow();
  }

  /** The numbering of pages by parts starts anew on this page. */
  restartPart(): void {}

  /** Pages know nothing of rows. */
  note(_note: FlowNote): void {}

  /** The block that repeats, put down last, stands on no further page. */
  endRepeat(): void {
    this.step(0, () => {
      this.flushNow();
      this.repeats.pop();
    });
  }
}

/** Fills a column that starts somewhere on a page and goes on over as many pages as it needs. */
export class ColumnFlow extends Flow {
  protected limit: number;
  readonly fragments: Block[] = [{ height: 0, marks: [] }];

  constructor(
    firstHeight: number,
    readonly full: number,
    readonly pageNumber = 0,
  ) {
    super();
    this.limit = firstHeight;
  }

  protected nextPage(): void {
    this.fragments.at(-1)!.height = this.y;
    this.fragments.push({ height: 0, marks: [] });
    this.limit = this.full;
  }

  protected put(block: Block, dy: number): void {
    const fragment = this.fragments.at(-1)!;
    const { height } = fragment;
    mergeBlock(fragment, block, 0, dy);
    fragment.height = height;
  }

  /** A column ends where its rows do, not at the bottom of the page. */
  protected override bottomOf(): number {
    return this.y;
  }

  /** The parts of the column, one for each page it reaches. */
  end(): Block[] {
    this.settle();
    this.fragments.at(-1)!.height = this.y;
    return this.fragments;
  }
}

/** Fills several columns of a page downwards, one after the other, and hands each page's columns over as one block. */
export class ColumnsFlow extends Flow {
  private column = 0;
  private block: Block = { height: 0, marks: [] };
  protected limit: number;
  private first = true;

  constructor(
    private readonly outer: Flow,
    /** The left of each column, in the order in which they are filled, in points. */
    private readonly lefts: readonly number[],
  ) {
    super();
    this.limit = outer.available;
  }

  get full(): number {
    return this.outer.full;
  }

  get pageNumber(): number {
    return this.outer.pageNumber;
  }

  protected nextPage(): void {
    this.column++;
    if (this.column < this.lefts.length) return;
    this.handOver();
    this.outer.breakPage();
    this.column = 0;
    this.first = false;
    this.limit = this.outer.available;
  }

  protected put(block: Block, dy: number): void {
    mergeBlock(this.block, block, this.lefts[this.column]!, dy);
  }

  private handOver(): void {
    this.outer.place(this.block);
    this.block = { height: 0, marks: [] };
  }

  end(): void {
    this.settle();
    if (this.block.height > 0 || this.block.marks.length > 0 || this.first) this.handOver();
  }
}
