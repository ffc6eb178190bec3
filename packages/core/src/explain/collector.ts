import { Accumulator, type TotalName } from '../formula/functions/index.ts';
import type { ReportRows } from '../shape/report-rows.ts';
import type { TextOrder } from '../text/text-order.ts';
import { List, type Value } from '../value/value.ts';

/** Rows that are listed of a total; all of them are counted. */
export const MOST_LISTED = 1000;

export interface CollectedRow {
  /** What is shown of it, one value for each column. */
  shown: readonly Value[];
  rows: string;
}

/** What a total has counted. */
export interface Collected {
  list: CollectedRow[];
  count: number;
  /** Rows that have something to count. */
  filled: number;
  value: Value;
}

/**
 * Stands beside a total: counts the same rows at the same moments, and keeps the first of them. Its values are lists of
 * what is counted, the values that groups go by, and what is shown of the row.
 */
export class Collector extends Accumulator {
  private list: CollectedRow[] = [];
  private tally = 0;
  private filled = 0;
  private readonly total: Accumulator;
  /** Rows of the report that it stands in; theirs is set before the first row comes. */
  rows: ReportRows | null = null;
  private instance = -1;
  private isWanted = false;
  /** What it is asked for is still to begin. */
  private isEarly = false;
  /** What was wanted; null until it is complete. */
  found: Collected | null = null;

  constructor(
    name: TotalName,
    texts: TextOrder,
    /** Leaves out rows of other cells. `keys`: what groups go by, as many as there are. */
    private readonly keys: number,
    private readonly holds: (keys: readonly Value[]) => boolean,
    /** It counts what lands on a page, from the first page on. */
    private readonly isOfPage = false,
  ) {
    super(name, texts);
    this.total = new Accumulator(name, texts);
  }

  override add(value: Value): void {
    if (this.found || !(value instanceof List)) return;
    const [argument = null, ...rest] = value.values;
    if (!this.holds(rest.slice(0, this.keys))) return;
    this.tally++;
    if (argument !== null) this.filled++;
    this.total.add(argument);
    if (this.list.length < MOST_LISTED)
      this.list.push({ shown: rest.slice(this.keys), rows: this.rows?.rowPath() ?? '' });
  }

  override result(): Value {
    return this.total.result();
  }

  /** Its scope begins anew; what was wanted of the one before is complete. */
  override reset(): void {
    if (this.isWanted && !this.isEarly) this.complete();
    this.isEarly = false;
    this.clear();
    this.instance = this.rows?.instance ?? -1;
  }

  override over(): void {
    if (!this.isEarly) this.complete();
  }

  private clear(): void {
    this.list = [];
    this.tally = 0;
    this.filled = 0;
    this.total.reset();
  }

  /** What is counted here and now is wanted. `now`: as far as it has been counted. */
  want(now: boolean): void {
    this.isWanted = true;
    this.isEarly = !this.isOfPage && this.instance !== this.rows?.instance;
    if (now) this.complete();
  }

  /** No more rows come. */
  complete(): void {
    if (this.found || !this.isWanted) return;
    const { list, tally, filled } = this;
    this.found = { list, count: tally, filled, value: this.total.result() };
  }
}
