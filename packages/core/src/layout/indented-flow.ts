import { type Block, shiftLaid } from './block.ts';
import { Flow, type FlowNote, type Parity } from './flow.ts';
import type { Paper } from './page-frame.ts';

/** Hands what it is given on to another flow, so far to the right. Points. */
export class IndentedFlow extends Flow {
  constructor(
    private readonly outer: Flow,
    private readonly x: number,
    /** Is given each block before it is handed on. */
    private readonly stamp: (block: Block) => void = () => {},
  ) {
    super();
  }

  private shifted(block: Block): Block {
    this.stamp(block);
    if (this.x !== 0) for (const mark of block.marks) shiftLaid(mark, this.x, 0);
    return block;
  }

  protected get limit(): number {
    return this.outer.available;
  }

  get full(): number {
    return this.outer.full;
  }

  get pageNumber(): number {
    return this.outer.pageNumber;
  }

  override get available(): number {
    return this.outer.available;
  }

  override beginKeep(): void {
    this.outer.beginKeep();
  }

  override endKeep(): void {
    this.outer.endKeep();
  }

  override hold(block: Block): void {
    this.outer.hold(this.shifted(block));
  }

  override place(block: Block): void {
    this.outer.place(this.shifted(block));
  }

  override keepWithLast(follows: boolean): void {
    this.outer.keepWithLast(follows);
  }

  override placeAtBottom(block: Block): void {
    this.outer.placeAtBottom(this.shifted(block));
  }

  override flush(): void {
    this.outer.flush();
  }

  override breakPage(): void {
    this.outer.breakPage();
  }

  override breakUnlessTop(parity: Parity = null): void {
    this.outer.breakUnlessTop(parity);
  }

  override turnTo(paper: Paper): void {
    this.outer.turnTo(paper);
  }

  override need(height: number): void {
    this.outer.need(height);
  }

  override restartPart(): void {
    this.outer.restartPart();
  }

  override note(note: FlowNote): void {
    this.outer.note(note);
  }

  override endRepeat(): void {
    this.outer.endRepeat();
  }

  protected put(block: Block): void {
    this.place(block);
  }

  protected nextPage(): void {
    this.outer.breakPage();
  }
}
