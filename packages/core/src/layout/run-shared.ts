import type { GivenParameters } from '../data/parameters.ts';
import type { ReportPlan } from '../data/planned.ts';
import type { RowSource } from '../data/rows.ts';
import type { Problem } from '../problems/problem.ts';
import type { Folds } from '../shape/folds.ts';
import type { ReportRows } from '../shape/report-rows.ts';
import type { CellAsk } from '../shape/summary.ts';
import type { Moment } from '../value/date.ts';
import type { LayoutLimits } from './limits.ts';
import type { Outline } from './outline.ts';
import type { Tracing } from './trace.ts';

/** A band that is asked about, with the rows that are current. */
export interface AskedBand {
  /** The report that it stands in. */
  plan: ReportPlan;
  key: string;
  rows: ReportRows;
  /** The 1-based page that it stands on, where pages are made. */
  page: number;
}

/** Whoever asks where a value of one band comes from. */
export interface BandWatch {
  /** Only bands of pages are asked about, so that pages must be made. */
  isOfPages: boolean;
  asks: CellAsk;
  /** The rows of a report, or of one nested in it, are about to come. */
  begins: (plan: ReportPlan, rows: ReportRows) => void;
  isAsked: (band: AskedBand) => boolean;
  /** Rows of its items can be read now. */
  reads: (band: AskedBand) => Promise<void>;
  /** It has come, and the rows of its items have been read. */
  has: (band: AskedBand) => void;
}

/** What regions of pages tell: their band and row, also where the items of the band stand, or nothing as there are none. */
export type RegionDetail = 'none' | 'rows' | 'places';

/** What a run and the nested reports in it share. */
export interface RunShared {
  source: RowSource;
  signal: AbortSignal | undefined;
  regions: RegionDetail;
  /** The language of the rows around a nested report, where rows decide on theirs; null for that of the run. */
  speaking: string | null;
  /** Texts become pieces of a document that goes on living, instead of marks. */
  isLiving: boolean;
  /** What is closed. */
  folds: Folds;
  /** Notes what the run does; null when nobody needs that. */
  tracing: Tracing | null;
  /** Asks where a value of one band comes from, so that nothing is laid out; null when nobody does. */
  watch: BandWatch | null;
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
  /** The item of the outermost report that a nested one runs in; null for that report itself. */
  readonly inItem: string | null;
}
