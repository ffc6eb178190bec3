import type { ReportPlan } from '../data/planned.ts';
import type { RowSource } from '../data/rows.ts';

/** Rows of a plan's levels, opened for one run. */
export interface OpenedRows {
  source: RowSource;
  close?(): Promise<void>;
}

/** Opens the rows of a plan for some work, and closes them when it ends, also by an error. */
export const overRows = async <R extends OpenedRows, T>(
  {
    plan,
    open,
    signal,
  }: { plan: ReportPlan; open: (plan: ReportPlan) => Promise<R> | R; signal?: AbortSignal | undefined },
  work: (opened: R) => Promise<T>,
): Promise<T> => {
  const opened = await open(plan);
  try {
    return await work(opened);
  } finally {
    // Who cancels need not wait for a database that takes its time.
    const closed = Promise.resolve(opened.close?.()).catch(() => {});
    if (!signal?.aborted) await closed;
  }
};
