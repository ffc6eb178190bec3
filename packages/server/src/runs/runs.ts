import { randomUUID } from 'node:crypto';
import { EventEmitter } from 'node:events';
import {
  type FontBook,
  LayoutCancelled,
  layoutReport,
  type PlanContext,
  type Problem,
  planReport,
  prepareReport,
  type Report,
  type RunProfile,
  type RunState,
  type Value,
} from '@gaveta/core';
import { type OpenQuery, openRows, type SourceOptions } from '../sql/row-source.ts';
import { RunNavigation } from './navigation.ts';
import { PageSpool } from './spool.ts';

export interface RunRequest {
  report: Report;
  parameters: Record<string, Value>;
  problems: Problem[];
  owner: string;
  plans: PlanContext;
  rows: Omit<SourceOptions, 'parameters'>;
  /** Lets go of connections that were opened for this run alone. */
  close?: () => Promise<void>;
}

export interface RunLimits {
  maxRows: number;
  maxPages: number;
  maxSeconds: number;
  /** Finished runs that are kept; older ones are let go. */
  keep: number;
}

/** A report being run, or run: its pages can be read as soon as they are laid out. */
export class Run {
  readonly id = randomUUID();
  readonly changes = new EventEmitter();
  private readonly abort = new AbortController();
  private readonly started = performance.now();
  private ended = 0;
  private status: RunState['status'] = 'running';
  private rows = 0;
  private problems: Problem[] = [];
  private detail: string | null = null;
  private queries: OpenQuery[] = [];
  private worked: Omit<RunProfile, 'queries' | 'peakMemory'> | null = null;
  private peakMemory = 0;
  private readonly heights: number[] | null;
  readonly navigation = new RunNavigation();

  constructor(
    readonly owner: string,
    readonly report: Report,
    readonly spool: PageSpool,
  ) {
    this.changes.setMaxListeners(0);
    this.heights = report.page.continuous ? [] : null;
  }

  get state(): RunState {
    const { id, status, rows, problems, detail, heights } = this;
    return {
      id,
      report: this.report.name,
      status,
      pages: this.spool.count,
      rows,
      problems,
      milliseconds: Math.round((this.ended || performance.now()) - this.started),
      detail,
      headings: this.navigation.headings.length,
      heights,
    };
  }

  /** What the run did, and where its time went; null before it is done. */
  profile(withSql: boolean): RunProfile | null {
    if (!this.worked) return null;
    const queries = this.queries.map(({ report, level, query, rows, milliseconds }) => ({
      report,
      drawer: level.drawer.name,
      sql: withSql ? query.text : null,
      rows,
      milliseconds,
    }));
    return { ...this.worked, queries, peakMemory: this.peakMemory };
  }

  private measure(): void {
    this.peakMemory = Math.max(this.peakMemory, process.memoryUsage.rss());
  }

  cancel(): void {
    this.abort.abort();
  }

  async finished(): Promise<RunState> {
    while (this.status === 'running') await new Promise((resolve) => this.changes.once('change', resolve));
    return this.state;
  }

  async work(request: RunRequest, book: FontBook, limits: RunLimits): Promise<void> {
    let last = 0;
    this.measure();
    try {
      const plan = planReport(request.report, request.plans);
      const prepared = prepareReport(plan, book);
      this.problems = [...request.problems, ...plan.problems, ...prepared.problems];
      const planned = performance.now();
      const opened = await openRows(plan, {
        ...request.rows,
        parameters: request.parameters,
        signal: this.abort.signal,
        seconds: limits.maxSeconds,
      });
      this.queries = opened.queries;
      const planning = planned - this.started;
      const opening = performance.now() - planned;
      try {
        const result = await layoutReport(prepared, {
          parameters: request.parameters,
          source: opened.source,
          regions: true,
          signal: this.abort.signal,
          maxPages: limits.maxPages,
          maxSeconds: limits.maxSeconds,
          onPage: async (page) => {
            await this.spool.add(page);
            this.navigation.add(page);
            this.heights?.push(page.height);
            if (page.number === 1) this.changes.emit('change');
          },
          breathe: async ({ rows }) => {
            this.rows = rows;
            this.measure();
            if (performance.now() - last > 100) this.changes.emit('change');
            last = performance.now();
            // Lets other requests in.
            await new Promise(setImmediate);
          },
        });
        this.worked = { ...result.work, planning, opening };
        this.spool.fill(result.late);
        this.rows = result.rows;
        this.problems.push(...result.problems);
        this.status = 'done';
      } finally {
        // Who cancels need not wait for a database that takes its time.
        const closed = opened.close();
        if (this.abort.signal.aborted) closed.catch(() => {});
        else await closed;
      }
    } catch (error) {
      this.status = error instanceof LayoutCancelled || this.abort.signal.aborted ? 'cancelled' : 'failed';
      if (this.status === 'failed') this.detail = error instanceof Error ? error.message : String(error);
    } finally {
      await request.close?.().catch(() => {});
      this.ended = performance.now();
      this.changes.emit('change');
    }
  }
}

/** The runs of a server. */
export class Runs {
  private readonly runs = new Map<string, Run>();

  constructor(
    private readonly book: FontBook,
    private readonly limits: RunLimits,
  ) {}

  async start(request: RunRequest): Promise<Run> {
    const run = new Run(request.owner, request.report, await PageSpool.open());
    this.runs.set(run.id, run);
    void run.work(request, this.book, this.limits);
    await this.letGo();
    return run;
  }

  /** Only to whom it belongs: pages hold rows of the owner's scope. */
  get(id: string, owner: string): Run | null {
    const run = this.runs.get(id);
    return run && run.owner === owner ? run : null;
  }

  private async letGo(): Promise<void> {
    const finished = [...this.runs.values()].filter((run) => run.state.status !== 'running');
    for (const run of finished.slice(0, Math.max(0, finished.length - this.limits.keep))) {
      this.runs.delete(run.id);
      await run.spool.close();
    }
  }

  async close(): Promise<void> {
    for (const run of this.runs.values()) {
      run.cancel();
      await run.finished();
      await run.spool.close();
    }
    this.runs.clear();
  }
}
