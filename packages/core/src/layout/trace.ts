import { closedBy, type FoldLog, type FoldSign, type FoldState } from '../shape/folds.ts';
import type { Block, TracedBand } from './block.ts';

/** What was decided of a fold, and the 1-based number of the page that was open then. */
export interface FoldDecision extends FoldSign {
  startsClosed: boolean;
  page: number;
}

/**
 * What a run noted of its bands and folds, in order, so that the same report with other folds can pass quickly over the pages
 * that stay as they are.
 */
export interface LayoutTrace {
  /** Of each band that was laid out, in points; 0 for one that was left out. */
  heights: number[];
  /** The last page that it stands on, 1-based; 0 for one that must be laid out again, whatever page it stands on. */
  pages: number[];
  folds: FoldDecision[];
}

/** Bands of one run that are noted; a run that has more is laid out anew as a whole. */
const MOST_BANDS = 300_000;

/** The run is not the one that its trace is of: the trace must not be used. */
export class TraceDiffers extends Error {}

/** Place of the first decision that is another one when folds are in another state; -1 when none is. */
const firstChanged = ({ folds }: LayoutTrace, state: FoldState): number => {
  const isClosed = closedBy(state);
  return folds.findIndex((fold) => isClosed(fold.key, fold.startsClosed) !== fold.isClosed);
};

/** Notes what a run does, and tells it what it need not lay out, since nobody will see it. */
export class Tracing implements FoldLog {
  /** Pages before this one are as they were in the run before. */
  readonly from: number;
  private readonly bands: TracedBand[] = [];
  private readonly folds: FoldDecision[] = [];
  /** Decisions until here are as they were. */
  private readonly changed: number;
  private isSame: boolean;
  private isOver = false;

  constructor(
    /** Of the run before; null when there is none. */
    private readonly before: LayoutTrace | null,
    state: FoldState,
    private readonly openPage: () => number,
  ) {
    this.changed = before ? firstChanged(before, state) : -1;
    this.from = before?.folds[this.changed]?.page ?? 1;
    this.isSame = this.from > 1;
  }

  /** The next band in its height, without its marks, when it stands on a page that nobody will see; null for any other. */
  passed(): Block | null {
    if (!this.isSame) return null;
    const place = this.bands.length;
    const page = this.before!.pages[place] ?? 0;
    if (page < 1 || page >= this.from) return null;
    return this.note({ height: this.before!.heights[place]!, marks: [] });
  }

  /** Notes the next band as it was laid out. */
  note<B extends Block | null>(block: B): B {
    if (this.isOver) return block;
    const band: TracedBand = { height: block?.height ?? 0, page: 0, isNeeded: block === null || needsMore(block) };
    if (block) block.traced = [band];
    this.bands.push(band);
    if (this.bands.length >= MOST_BANDS) this.isOver = true;
    return block;
  }

  /** What was decided before, as long as nothing differs: its name need not be worked out. */
  next(): FoldSign | null {
    if (!this.isSame || this.folds.length >= this.changed) return null;
    const known = this.before!.folds[this.folds.length]!;
    this.folds.push(known);
    return known;
  }

  /** Throws TraceDiffers where the run before decided on something else. */
  decided(sign: FoldSign, startsClosed: boolean): void {
    const page = this.openPage();
    if (this.isSame) {
      const was = this.before!.folds[this.changed];
      if (was?.key !== sign.key || was.page !== page) throw new TraceDiffers('the run is not the one of the trace');
      this.isSame = false;
    }
    this.folds.push({ ...sign, startsClosed, page });
  }

  /** The run has ended. Throws TraceDiffers where it did not come to what is to be another one. */
  end(): void {
    if (this.isSame) throw new TraceDiffers('the run is not the one of the trace');
  }

  /** Null when there was too much to note. */
  get trace(): LayoutTrace | null {
    if (this.isOver) return null;
    return {
      heights: this.bands.map(({ height }) => height),
      pages: this.bands.map(({ page, isNeeded }) => (isNeeded ? 0 : page)),
      folds: this.folds,
    };
  }
}

const needsMore = ({ mayBeCut, marks }: Block): boolean =>
  mayBeCut === true || marks.some((mark) => mark.kind === 'late' && mark.needs === 'count');
