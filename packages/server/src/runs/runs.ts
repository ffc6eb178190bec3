import type { ProblemValue } from '@gaveta/core/internal';
import type { Limits } from '../base/limits.ts';
import type { PageStore } from '../pages/page-store.ts';
import { PageSpool } from '../pages/spool.ts';
import type { RunLimits } from '../threads/job.ts';
import type { ReportThreads } from '../threads/report-threads.ts';
import { Run } from './run.ts';
import type { RunBook } from './run-book.ts';
import type { RunRequest } from './run-request.ts';

export type { Run } from './run.ts';
export type { RunRequest } from './run-request.ts';

/** How many runs there may be, and for how long. */
export type RunsLimits = RunLimits &
  Pick<Limits, 'runsAtOnce' | 'runsEach' | 'runsWaiting' | 'keepRuns' | 'keepMinutes' | 'abandonSeconds'>;

/** Milliseconds between two looks for runs that nobody wants any more. */
const LOOK = 2000;

/**
 * The runs of this process: each person has so many at once, others wait, and those that nobody wants any more are let go.
 */
export class Runs implements RunBook {
  private readonly runs = new Map<string, Run>();
  private readonly working = new Set<Promise<void>>();
  private readonly waiting: Run[] = [];
  private readonly looking: NodeJS.Timeout;
  private isClosed = false;

  constructor(
    private readonly threads: ReportThreads,
    private readonly limits: RunsLimits,
    /** Tells the log of an error that nobody expected, and gives the words for whoever runs the report. */
    private readonly wordsFor: (error: unknown) => ProblemValue,
    private readonly openPages: () => Promise<PageStore> = PageSpool.open,
  ) {
    this.looking = setInterval(() => this.look(), LOOK).unref();
  }

  start(request: RunRequest, before: Run | null = null): Run | null {
    const same = request.sameAs === null ? null : this.find((run) => run.request.sameAs === request.sameAs);
    if (same) {
      same.owners.add(request.owner);
      same.seen();
      void request.close?.().catch(() => {});
      return same;
    }
    const own = this.waiting.filter((run) => run.owners.has(request.owner)).length;
    if (own >= this.limits.runsWaiting || this.isClosed) {
      void request.close?.().catch(() => {});
      return null;
    }
    const run = new Run(request, this.openPages, before);
    this.runs.set(run.id, run);
    this.waiting.push(run);
    this.next();
    return run;
  }

  private find(fits: (run: Run) => boolean): Run | null {
    for (const run of this.runs.values()) if (!run.hasEnded && fits(run)) return run;
    return null;
  }

  /** Gives the turn to those that waited longest, as many as there may be at once. */
  private next(): void {
    for (const run of [...this.waiting]) {
      if (this.working.size >= this.limits.runsAtOnce) return;
      const place = this.waiting.indexOf(run);
      if (run.hasEnded) this.waiting.splice(place, 1);
      else if (this.runningOf(run) < this.limits.runsEach) {
        this.waiting.splice(place, 1);
        const work = run.work(this.threads, this.limits, this.wordsFor).finally(() => {
          this.working.delete(work);
          this.next();
        });
        this.working.add(work);
      }
    }
  }

  /** How many runs of the one who asked for it first are at work. */
  private runningOf({ request: { owner } }: Run): number {
    let count = 0;
    for (const run of this.runs.values()) if (run.isRunning && run.request.owner === owner) count++;
    return count;
  }

  get(id: string, owner: string): Run | null {
    const run = this.runs.get(id);
    if (!run?.owners.has(owner)) return null;
    run.seen();
    return run;
  }

  async picture(hash: string, owner: string): Promise<Buffer | null> {
    for (const run of this.runs.values()) {
      const found = run.owners.has(owner) ? await run.picture(hash) : null;
      if (found) return found;
    }
    return null;
  }

  async cancel(run: Run, owner: string): Promise<void> {
    if (run.owners.size > 1) {
      run.owners.delete(owner);
      return;
    }
    run.cancel();
    await run.finished();
  }

  /** Ends what nobody follows any more, and lets go of what was kept long enough. */
  private look(): void {
    const { abandonSeconds, keepMinutes, keepRuns } = this.limits;
    const kept = new Map<string, number>();
    for (const run of [...this.runs.values()].reverse()) {
      if (!run.hasEnded) {
        if (!run.request.keep && run.idle > abandonSeconds * 1000) run.cancel();
        continue;
      }
      const { owner } = run.request;
      const place = kept.get(owner) ?? 0;
      kept.set(owner, place + 1);
      if (run.idle > 0 && (place >= keepRuns || run.idle > keepMinutes * 60_000)) {
        this.runs.delete(run.id);
        void run.close().catch(() => {});
      }
    }
    this.next();
  }

  async close(): Promise<void> {
    this.isClosed = true;
    clearInterval(this.looking);
    for (const run of this.runs.values()) run.cancel();
    await Promise.all(this.working);
    for (const run of this.runs.values()) await run.close();
    this.runs.clear();
  }
}
