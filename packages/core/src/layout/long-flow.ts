import type { Block } from './block.ts';
import type { Parity } from './flow.ts';
import type { Outline } from './outline.ts';
import { PageFlow } from './page-flow.ts';
import type { PageFrame, Paper } from './page-frame.ts';

/** Height of the strips that the page is made of, in points. */
const STRIP = 3000;

/** The same paper as one strip: no bands of pages, but for the header above everything. */
const stripOf = ({ geometry, frame }: Paper, isFirst: boolean): Paper => {
  const bare: PageFrame = {
    own: { first: false, even: false },
    header: isFirst ? frame.header : () => null,
    footer: () => null,
    background: () => null,
    overlay: () => null,
    completed: frame.completed,
    hasRow: frame.hasRow,
  };
  const top = isFirst ? geometry.top : 0;
  return { geometry: { ...geometry, height: STRIP, top, bottom: 0, continuous: true }, frame: bare };
};

/**
 * One long page without breaks, for screens: strips that stand one below the other without a gap, each as high as what is
 * on it. Page breaks are passed over, and nothing stands on every page.
 */
export class LongFlow extends PageFlow {
  protected override readonly repeatsHeaders = false;
  private readonly bottom: number;

  constructor(paper: Paper, outline: Outline | null = null) {
    super(stripOf(paper, true), outline);
    this.bottom = paper.geometry.bottom;
    // Strips after the first one have no header.
    this.useNext(stripOf(paper, false));
  }

  override breakUnlessTop(_parity: Parity = null): void {
    this.settle();
  }

  override placeAtBottom(block: Block): void {
    this.place(block);
  }

  override restartPart(): void {}

  override turnTo(paper: Paper): void {
    // Wider paper begins with a strip of its own; bands of its pages are left out.
    super.turnTo(stripOf(paper, false));
  }

  override end(): number {
    this.settle();
    this.endWith(this.bottom);
    return super.end();
  }
}
