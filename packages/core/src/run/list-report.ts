import type { ReportPlan } from '../data/planned.ts';
import { LAYOUT_LIMITS } from '../layout/limits.ts';
import { type ListOptions, type ListResult, listRows, type RowListener } from '../listing/list-rows.ts';
import type { ListedSet } from '../listing/listed.ts';
import { listingOf, outermostSets } from '../listing/listing.ts';
import type { Problem } from '../problems/problem.ts';
import { Moment } from '../value/date.ts';
import { type OpenedRows, overRows } from './opened-rows.ts';

export interface ListReportOptions<R extends OpenedRows>
  extends Omit<ListOptions, 'source' | 'runAt' | 'maxAhead'>,
    Partial<Pick<ListOptions, 'runAt' | 'maxAhead'>> {
  /** Opens the rows of the plan; what it opened is closed at the end, however that comes. */
  open: (plan: ReportPlan) => Promise<R> | R;
}

export interface ListReportResult<R extends OpenedRows> extends ListResult {
  /** Everything found wrong: in the plan, and while rows were read. */
  allProblems: Problem[];
  /** As they were opened; closed by now. */
  opened: R;
}

/** The rows that a report shows, as values. */
export interface ReportListing {
  /** The outermost sets: those of its drawers and of items that show groups of rows, each with those inside it. */
  sets: readonly ListedSet[];
  /** Tells of all rows, with everything open. Throws the signal’s reason, or what a row source or the listener threw. */
  rows: <R extends OpenedRows>(listener: RowListener, options: ListReportOptions<R>) => Promise<ListReportResult<R>>;
}

export const listReport = (plan: ReportPlan): ReportListing => {
  const source = listingOf(plan);
  return {
    sets: outermostSets(source),
    rows: (listener, options) => {
      const { open, runAt = new Moment(Date.now()), maxAhead = LAYOUT_LIMITS.maxAhead, ...rest } = options;
      return overRows({ plan, open, signal: options.signal }, async (opened) => {
        const given = { ...rest, source: opened.source, runAt, maxAhead };
        const result = await listRows(plan, source, listener, given);
        return { ...result, allProblems: [...plan.problems, ...result.problems], opened };
      });
    },
  };
};
