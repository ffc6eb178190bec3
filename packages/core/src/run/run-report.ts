import { bandsOf, plansOf } from '../data/plan.ts';
import type { ReportPlan } from '../data/planned.ts';
import type { LateFill } from '../layout/late-fill.ts';
import { Outline } from '../layout/outline.ts';
import type { PreparedReport } from '../layout/prepared.ts';
import { type LayoutOptions, type LayoutResult, layoutReport } from '../layout/run.ts';
import type { Problem } from '../problems/problem.ts';
import type { FontBook } from '../text/fonts.ts';
import { type OpenedRows, overRows } from './opened-rows.ts';
import { preparedReport } from './prepared-report.ts';

export interface RunOptions<R extends OpenedRows> extends Omit<LayoutOptions, 'source'> {
  plan: ReportPlan;
  book: FontBook;
  /** Opens the rows of the plan; what it opened is closed at the end of the run, however that comes. */
  open: (plan: ReportPlan) => Promise<R> | R;
  /** Told of what is wrong before any row is fetched: problems of the plan and of the fonts at hand. */
  onPrepared?: (problems: readonly Problem[], prepared: PreparedReport) => void | Promise<void>;
}

export interface RunResult<R extends OpenedRows> extends Omit<LayoutResult, 'late'> {
  /** What pages lacked because it shows the number of pages; see LayoutResult. */
  late: LateFill[];
  /** Everything found wrong: in the plan, in the fonts, and while rows were laid out. */
  allProblems: Problem[];
  prepared: PreparedReport;
  /** As they were opened; closed by now. */
  opened: R;
  /** Milliseconds until everything was prepared, and until rows were opened after that. */
  preparing: number;
  opening: number;
}

/**
 * Runs a planned report: prepares it, opens its rows, and lays it out page by page. Whoever starts a run owns it: its
 * signal ends every stage, and its rows are closed when it ends, also by an error. Throws LayoutCancelled, or what a row
 * source or `onPage` threw.
 */
export const runReport = async <R extends OpenedRows>(options: RunOptions<R>): Promise<RunResult<R>> => {
  const { plan, book, open: _, onPrepared, tracing, ...layout } = options;
  const started = performance.now();
  const prepared = await preparedReport(plan, book);
  const found = [...plan.problems, ...prepared.problems];
  const ready = performance.now();
  await onPrepared?.(found, prepared);
  const isListed = listsOutline(plan);
  const outline = isListed ? await counted(options, prepared) : new Outline();
  // A list of the outline changes with every fold, wherever it stands.
  const traced = tracing && !isListed ? { tracing } : {};
  const asked = performance.now();
  return overRows(options, async (opened) => {
    const begun = performance.now();
    const { late, ...result } = await layoutReport(prepared, {
      ...layout,
      ...traced,
      // Both times that it is laid out count.
      since: ready,
      source: opened.source,
      outline,
    });
    return {
      ...result,
      late: [...late],
      allProblems: [...found, ...result.problems],
      prepared,
      opened,
      preparing: ready - started,
      opening: begun - asked,
    };
  });
};

/** Whether something in the report, or in one nested in it, lists its outline. */
const listsOutline = (plan: ReportPlan): boolean =>
  [...plansOf(plan)].some((one) => [...bandsOf(one)].some(({ items }) => items.some((item) => item.readsOutline)));

/** Lays the report out once to count what its outline will hold, and keeps nothing of its pages. */
const counted = async <R extends OpenedRows>(options: RunOptions<R>, prepared: PreparedReport): Promise<Outline> => {
  const { plan: _, book: __, open: ___, onPrepared: ____, onPicture: _____, tracing: ______, ...layout } = options;
  const outline = new Outline(null, true);
  await overRows(options, ({ source }) => layoutReport(prepared, { ...layout, source, outline, onPage: () => {} }));
  const levels = outline.entries.map(({ level }) => level);
  return new Outline(levels, true);
};
