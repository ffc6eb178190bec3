import type { GivenParameters } from '../data/parameters.ts';
import type { RowSource } from '../data/rows.ts';
import type { Page, PagePicture } from '../page/page.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { AS_STARTED, type FoldState, Folds } from '../shape/folds.ts';
import { Moment } from '../value/date.ts';
import type { Value } from '../value/value.ts';
import { LAYOUT_LIMITS, type LayoutLimits } from './limits.ts';
import { Outline } from './outline.ts';
import { type LateFill, PageFlow } from './page-flow.ts';
import type { PreparedReport } from './prepared.ts';
import { ReportRun } from './report-run.ts';
import type { RunShared } from './run-shared.ts';
import { type LayoutTrace, Tracing } from './trace.ts';

export interface LayoutOptions {
  parameters: Record<string, Value>;
  source: RowSource;
  /** Called with each completed page, in order; the layout waits for it, so that pages do not pile up. */
  onPage: (page: Page) => void | Promise<void>;
  /** Called with each picture once, before the first page that shows it; one that waits for the number of pages may come after. */
  onPicture?: (picture: PagePicture) => void;
  /** Of this chart the other kinds that it could be of are told once, as small pictures by kind. */
  sketch?: { item: string; found: (sketches: Readonly<Record<string, string>>) => void } | undefined;
  runAt?: Moment;
  signal?: AbortSignal;
  maxPages?: number;
  maxSeconds?: number;
  /** When they began, by performance.now(); with the layout itself when it is left out. */
  since?: number;
  limits?: Partial<LayoutLimits>;
  /** Values of parameters that only the host sets, for nested reports. */
  host?: GivenParameters;
  /** The outline of the run, when something lists it; see Outline. */
  outline?: Outline;
  /** Adds region marks, by which a click finds its band and rows. */
  regions?: boolean;
  /** What is opened and closed otherwise than it starts. */
  folds?: FoldState;
  /**
   * Notes what a later run with other folds need not do again. `before`: what this same run noted with the folds before; pages
   * that are as they were then are not handed over, see `from` of the result. Throws TraceDiffers where it is of another run.
   */
  tracing?: { before: LayoutTrace | null };
  /** Called every few dozen milliseconds of work, so that others get their turn; also where no page is ready. */
  breathe?: (progress: LayoutProgress) => Promise<void>;
}

export interface LayoutProgress {
  rows: number;
  pages: number;
}

/** What a run did, and where its time went. Milliseconds. */
export interface LayoutWork {
  rows: number;
  pages: number;
  /** Formulas worked out for items and highlights. */
  formulas: number;
  /** Waiting for rows. */
  waiting: number;
  /** Handing pages over. */
  writing: number;
  /** The rest: formulas, totals and layout. */
  layout: number;
}

export interface LayoutResult {
  pages: number;
  /** Rows laid out, those of nested reports included. */
  rows: number;
  /** Problems met while running; those of the plan are not repeated. */
  problems: Problem[];
  /** What pages lacked because it shows the number of pages. Drawn on top of the pages that were handed over. */
  late: Iterable<LateFill>;
  /** False when a limit ended the run early. */
  complete: boolean;
  /** Number of the first page that was handed over; those before it are as they were in the run before. */
  from: number;
  /** For a run with other folds; null when none was asked for, or there was too much to note. */
  trace: LayoutTrace | null;
  work: LayoutWork;
}

/** The run was cancelled through its signal. */
export class LayoutCancelled extends Error {}

class LimitReached extends Error {
  constructor(readonly problem: Problem) {
    super(problem.code);
  }
}

/** Hands on the sketches of the first instance of the item; null when nobody wants them. */
const sketching = (wanted: LayoutOptions['sketch']): RunShared['sketch'] => {
  if (!wanted) return null;
  let isDone = false;
  return (item, make) => {
    if (isDone || item !== wanted.item) return;
    isDone = true;
    wanted.found(make());
  };
};

/** Work done between two chances for others, in milliseconds. */
const BREATH = 40;

/** Lays a report out page by page. Memory holds the open page and the rows that are read ahead. */
export const layoutReport = async (prepared: PreparedReport, options: LayoutOptions): Promise<LayoutResult> => {
  const started = performance.now();
  const { signal, maxPages, maxSeconds, since = started } = options;
  let breath = started;
  let writing = 0;
  const shown = new Set<string>();
  const { folds = AS_STARTED } = options;
  const tracing = options.tracing ? new Tracing(options.tracing.before, folds, () => flow.pageNumber) : null;
  const check = (): void => {
    if (signal?.aborted) throw new LayoutCancelled('The run was cancelled');
    if (maxSeconds && performance.now() - since > maxSeconds * 1000)
      throw new LimitReached(problem('too-long', {}, { limit: maxSeconds }));
  };
  const shared: RunShared = {
    source: options.source,
    signal,
    regions: options.regions ?? false,
    folds: new Folds(options.folds, tracing),
    tracing,
    runAt: options.runAt ?? new Moment(Date.now()),
    problems: [],
    outline: options.outline ?? new Outline(),
    rows: 0,
    waited: () => 0,
    work: { formulas: 0 },
    show: (hash, source) => {
      if (shown.has(hash)) return;
      shown.add(hash);
      options.onPicture?.({ hash, source });
    },
    sketch: sketching(options.sketch),
    limits: { ...LAYOUT_LIMITS, ...options.limits },
    host: options.host ?? {},
    pause: async () => {
      check();
      if (!options.breathe || performance.now() - breath < BREATH) return;
      await options.breathe({ rows: shared.rows, pages: Math.max(0, flow.pages - 1) });
      breath = performance.now();
      check();
    },
    deliver: async () => {
      check();
      for (let next = flow.finished.shift(); next; next = flow.finished.shift()) {
        const from = performance.now();
        if (next.number >= (tracing?.from ?? 1)) await options.onPage(next);
        writing += performance.now() - from;
        if (maxPages && next.number >= maxPages)
          throw new LimitReached(problem('too-many-pages', {}, { limit: maxPages }));
      }
      await shared.pause();
    },
  };
  const run = new ReportRun(prepared, options.parameters, shared);
  const flow = new PageFlow(run.paper(prepared.pages), shared.outline);
  let complete = true;
  try {
    await run.all(flow, 1);
    flow.end();
    tracing?.end();
    await shared.deliver();
  } catch (error) {
    if (!(error instanceof LimitReached)) throw error;
    complete = false;
    flow.end();
    shared.problems.push(error.problem);
    if (error.problem.code === 'too-long')
      for (const page of flow.finished.splice(0)) if (page.number >= (tracing?.from ?? 1)) await options.onPage(page);
  } finally {
    run.close();
  }
  const pages = complete || !maxPages ? flow.pages : Math.min(flow.pages, maxPages);
  const { rows, problems, work } = shared;
  const waiting = shared.waited();
  const layout = performance.now() - started - waiting - writing;
  return {
    pages,
    rows,
    problems,
    late: flow.lateFills(),
    complete,
    from: tracing?.from ?? 1,
    trace: complete ? (tracing?.trace ?? null) : null,
    work: { rows, pages, formulas: work.formulas, waiting, writing, layout },
  };
};
