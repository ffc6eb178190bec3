import type { GivenParameters } from '../data/parameters.ts';
import type { RowSource } from '../data/rows.ts';
import type { Problem } from '../problems/problem.ts';
import type { Folds } from '../shape/folds.ts';
import type { ReportRows } from '../shape/report-rows.ts';
import type { Moment } from '../value/date.ts';
import type { LayoutLimits } from './limits.ts';
import type { Outline } from './outline.ts';
import type { Tracing } from './trace.ts';

/** What a run and the nested reports in it share. */
export interface RunShared {
  source: RowSource;
  signal: AbortSignal | undefined;
  regions: boolean;
  /** Texts become pieces of a document that goes on living, instead of marks. */
  isLiving: boolean;
  /** What is closed. */
  folds: Folds;
  /** Notes what the run does; null when nobody needs that. */
  tracing: Tracing | null;
  runAt: Moment;
  problems: Problem[];
  outline: Outline;
  rows: number;
  /** Milliseconds that all readers have waited. */
  waited: () => number;
  work: { formulas: number };
  /** Hands over a picture that a mark shows, once for each. */
  show: (hash: string, source: string) => void;
  /** Shows the other kinds that an item could be of; null when nobody wants to see them. */
  sketch: ((item: string, make: () => Readonly<Record<string, string>>) => void) | null;
  limits: LayoutLimits;
  /** Values of parameters that only the host sets. */
  host: GivenParameters;
  /** Throws when the run was cancelled or has run out of time, and lets others have their turn. */
  pause: () => Promise<void>;
  /** As {@link pause}, and hands completed pages over first. */
  deliver: () => Promise<void>;
}

/** What an item that takes as many pages as it needs sees of the run of its report. */
export interface FlowHost {
  readonly rows: ReportRows;
  readonly shared: RunShared;
}
