import type { ReportPlan } from '../data/planned.ts';
import { type ContentOptions, type ContentResult, layContent } from '../layout/content-run.ts';
import type { Problem } from '../problems/problem.ts';
import type { FontBook } from '../text/fonts.ts';
import { type OpenedRows, overRows } from './opened-rows.ts';
import { preparedReport } from './prepared-report.ts';

export interface ContentReportOptions<R extends OpenedRows> extends Omit<ContentOptions, 'source'> {
  plan: ReportPlan;
  book: FontBook;
  /** Opens the rows of the plan; what it opened is closed at the end, however that comes. */
  open: (plan: ReportPlan) => Promise<R> | R;
}

export interface ContentReportResult<R extends OpenedRows> extends ContentResult {
  /** Everything found wrong: in the plan, in the fonts, and while rows were laid out. */
  allProblems: Problem[];
  /** As they were opened; closed by now. */
  opened: R;
}

/**
 * Runs a planned report for a document that goes on living: tells `listener` of its bands, with the value behind each text.
 * Throws LayoutCancelled, or what a row source or the listener threw.
 */
export const contentReport = async <R extends OpenedRows>(
  options: ContentReportOptions<R>,
): Promise<ContentReportResult<R>> => {
  const { plan, book, open: _, ...content } = options;
  // Whoever shows such a document turns it round, its columns too.
  const prepared = await preparedReport(plan, book, { mirrors: false });
  return overRows(options, async (opened) => {
    const result = await layContent(prepared, { ...content, source: opened.source });
    return { ...result, allProblems: [...plan.problems, ...prepared.problems, ...result.problems], opened };
  });
};
