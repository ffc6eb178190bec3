import {
  type ComparedPages,
  type ComparedTotal,
  compareRevisions,
  compareTotals,
  type Page,
  type Report,
} from '@gaveta/core/internal';
import { useEffect, useMemo, useState } from 'react';
import { api, type RunState } from '../api/client.ts';
import { usePagePictures } from '../viewer/pictures.ts';

/** Pages that are compared, from the first one on, and those at the end, where totals stand. */
const MOST = 40;
const LAST = 3;
/** Pages that are asked for at once. */
const AT_ONCE = 20;

/** Pages that are shown while the others are laid out. */
const FIRST = 3;

/** A revision as it runs now. */
export interface RevisionRun {
  report: Report;
  state: RunState | null;
  /** The first ones and the last ones; null until the run has ended. */
  pages: Page[] | null;
  /** What there is to see of them by now. */
  shown: Page[];
  error: unknown;
}

const NOTHING = { state: null, pages: null, shown: [], error: null } satisfies Omit<RevisionRun, 'report'>;

/** Values for which a report is designed stand in for those that somebody would give. */
const samplesOf = ({ parameters }: Report) =>
  Object.fromEntries(
    parameters.flatMap(({ name, sample, fromHost }) => (sample === undefined || fromHost ? [] : [[name, sample]])),
  );

/** Runs a revision over the rows as they are now. */
export const useRevisionRun = (report: Report | null) => {
  const [run, setRun] = useState<RevisionRun | null>(null);
  const pictures = usePagePictures();
  useEffect(() => {
    if (!report) return;
    const abort = new AbortController();
    const { signal } = abort;
    let id: string | null = null;
    const put = (part: Partial<RevisionRun>): void => {
      if (!signal.aborted) setRun((before) => ({ ...(before ?? { report, ...NOTHING }), ...part }));
    };
    let isSeen = false;
    /** Shows the first pages while others are laid out; they come again in the end. */
    const seeFirst = async (run: string): Promise<void> => {
      const shown = await api.pages(run, 1, FIRST).catch(() => []);
      await pictures.load(shown);
      setRun((before) => (signal.aborted || !before || before.pages ? before : { ...before, shown }));
    };
    const work = async (): Promise<void> => {
      setRun({ report, ...NOTHING });
      const started = await api.run({ definition: report }, samplesOf(report) as never);
      id = started.id;
      let state = started;
      await api.follow(
        id,
        (now) => {
          state = now;
          put({ state: now });
          if (now.pages >= FIRST && !isSeen) {
            isSeen = true;
            void seeFirst(started.id);
          }
        },
        signal,
      );
      const numbers = [...Array(Math.min(MOST, state.pages)).keys()].map((i) => i + 1);
      const pages: Page[] = [];
      for (let from = 1; from <= numbers.length; from += AT_ONCE)
        pages.push(...(await api.pages(id, from, Math.min(AT_ONCE, numbers.length - from + 1))));
      const rest = Math.max(numbers.length + 1, state.pages - LAST + 1);
      if (rest <= state.pages) pages.push(...(await api.pages(id, rest, LAST)));
      await pictures.load(pages);
      put({ state, pages, shown: pages });
    };
    work().catch((error: unknown) => put({ error }));
    return () => {
      abort.abort();
      // Nobody waits for it any more; one that has ended hears nothing of it.
      if (id !== null) void api.cancel(id).catch(() => {});
    };
  }, [report, pictures]);
  return { run: run?.report === report ? run : null, addressOf: pictures.address };
};

/** What differs between two revisions that have run; null until both have. */
export const useCompared = (
  older: RevisionRun | null,
  newer: RevisionRun | null,
): { pages: ComparedPages; totals: ComparedTotal[] } | null => {
  return useMemo(() => {
    const [before, after] = [older?.pages, newer?.pages];
    if (!older || !newer || !before || !after) return null;
    return {
      pages: compareRevisions(
        before.filter(({ number }) => number <= MOST),
        after.filter(({ number }) => number <= MOST),
      ),
      totals: compareTotals({ report: older.report, pages: before }, { report: newer.report, pages: after }),
    };
  }, [older, newer]);
};
