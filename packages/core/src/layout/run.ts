import type { Page } from '../page/page.ts';
import { type Problem, problem } from '../problems/problem.ts';
import { AS_STARTED, type FoldState, Folds } from '../shape/folds.ts';
import type { LateFill } from './late-fill.ts';
import { LongFlow } from './long-flow.ts';
import type { Outline } from './outline.ts';
import { PageFlow } from './page-flow.ts';
import type { PreparedReport } from './prepared.ts';
import { ReportRun } from './report-run.ts';
import type { BandWatch, RunShared } from './run-shared.ts';
import { LimitReached, type RunSettings, sharedOf } from './running.ts';
import { type LayoutTrace, Tracing } from './trace.ts';

/** Pages of paper, or one long page without breaks in strips, for screens. */
export const PAGE_FORMS = ['pages', 'long'] as const;
export type PageForm = (typeof PAGE_FORMS)[number];

export interface LayoutOptions extends RunSettings {
  /** Called with each completed page, in order; the layout waits for it, so that pages do not pile up. */
  onPage: (page: Page) => void | Promise<void>;
  /** Of this chart the other kinds that it could be of are told once, as small pictures by kind. */
  sketch?: { item: string; found: (sketches: Readonly<Record<string, string>>) => void } | undefined;
  maxPages?: number;
  /** The outline of the run, when something lists it; see Outline. */
  outline?: Outline;
  /** Adds region marks, by which a click finds its band and rows; `places`: also in bands of pages, and with places of items. */
  regions?: boolean | 'places';
  /** What is opened and closed otherwise than it starts. */
  folds?: FoldState;
  /**
   * Notes what a later run with other folds need not do again. `before`: what this same run noted with the folds before; pages
   * that are as they were then are not handed over, see `from` of the result. Throws TraceDiffers where it is of another run.
   */
  tracing?: { before: LayoutTrace | null };
  /** Asks where a value comes from: unless that stands in a band of pages, nothing is laid out. */
  watch?: BandWatch;
  /** Left out: pages of the report's paper. */
  form?: PageForm;
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

/** Lays a report out page by page. Memory holds the open page and the rows that are read ahead. */
export const layoutReport = async (prepared: PreparedReport, options: LayoutOptions): Promise<LayoutResult> => {
  const started = performance.now();
  const { maxPages, breathe } = options;
  let writing = 0;
  const { folds = AS_STARTED } = options;
  const tracing = options.tracing ? new Tracing(options.tracing.before, folds, () => flow.pageNumber) : null;
  const shared = sharedOf(options, started, {
    isLiving: false,
    regions: options.regions === 'places' ? 'places' : options.regions ? 'rows' : 'none',
    folds: new Folds(folds, tracing),
    tracing,
    sketch: sketching(options.sketch),
    watch: options.watch ?? null,
    outline: options.outline,
    breathe: breathe ? () => breathe({ rows: shared.rows, pages: Math.max(0, flow.pages - 1) }) : null,
    hand: async () => {
      for (let next = flow.finished.shift(); next; next = flow.finished.shift()) {
        const from = performance.now();
        if (next.number >= (tracing?.from ?? 1)) await options.onPage(next);
        writing += performance.now() - from;
        if (maxPages && next.number >= maxPages)
          throw new LimitReached(problem('too-many-pages', {}, { limit: maxPages }));
      }
    },
  });
  const run = new ReportRun(prepared, options.parameters, shared);
  const Form = options.form === 'long' ? LongFlow : PageFlow;
  const flow = new Form(run.paper(prepared.pages), shared.outline);
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
