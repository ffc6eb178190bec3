import type { ContentListener } from '../content/content.ts';
import type { Problem } from '../problems/problem.ts';
import { AS_STARTED, type FoldState, Folds } from '../shape/folds.ts';
import { ContentFlow } from './content-flow.ts';
import type { PreparedReport } from './prepared.ts';
import { ReportRun } from './report-run.ts';
import { LimitReached, type RunSettings, sharedOf } from './running.ts';

export interface ContentOptions extends RunSettings {
  /** Told of the document in order, before its pages are made; the run waits for it, so that nothing piles up. */
  listener: ContentListener;
  /** What the reader has closed. All rows are told of all the same, with what is closed noted. */
  folds?: FoldState | undefined;
  /** Called every few dozen milliseconds of work, so that others get their turn. */
  breathe?: (rows: number) => Promise<void>;
}

export interface ContentResult {
  rows: number;
  /** Problems met while running; those of the plan are not repeated. */
  problems: Problem[];
  /** False when a limit ended it early. */
  complete: boolean;
}

/** Goes through what a report shows as a document that goes on living: its bands before they are put on pages. */
export const layContent = async (prepared: PreparedReport, options: ContentOptions): Promise<ContentResult> => {
  const { folds = AS_STARTED, listener, breathe } = options;
  const shared = sharedOf(options, performance.now(), {
    isLiving: true,
    regions: 'rows',
    folds: new Folds(folds, null, true),
    tracing: null,
    sketch: null,
    watch: null,
    breathe: breathe ? () => breathe(shared.rows) : null,
    hand: async () => {
      for (const event of flow.waiting.splice(0)) {
        const told = listener(event);
        if (told) await told;
      }
    },
  });
  const run = new ReportRun(prepared, options.parameters, shared);
  const flow = new ContentFlow(run.paper(prepared.pages));
  let complete = true;
  try {
    await run.all(flow, 1);
    flow.end();
    await shared.deliver();
  } catch (error) {
    if (!(error instanceof LimitReached)) throw error;
    complete = false;
    shared.problems.push(error.problem);
  } finally {
    run.close();
  }
  return { rows: shared.rows, problems: shared.problems, complete };
};
