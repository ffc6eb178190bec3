import { randomUUID } from 'node:crypto';
import { EventEmitter } from 'node:events';
import {
  type FontBook,
  LayoutCancelled,
  type LayoutLimits,
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
  /** The person, with the claims that decide on their rows. */
  owner: string;
  /** Equal for two requests that give the same pages; null for one that must be made by itself. */
  sameAs: string | null;
  /** The run goes on when nobody follows it. */
  keep: boolean;
  plans: PlanContext;
  rows: Omit<SourceOptions, 'parameters'>;
  /** Lets go of connections that were opened for this run alone. */
  close?: () => Promise<void>;
}

export interface RunLimits {
  maxRows: number;
  maxPages: number;
  maxSeconds: number;
  layout: LayoutLimits;
}

/** A report being run, or run: its pages can be read as soon as they are laid out. */
export class Run {
  readonly id = randomUUID();
  readonly changes = new EventEmitter();
  /** Those whose run it is; several when they asked for the same at once. */
  readonly owners = new Set<string>();
  readonly report: Report;
  readonly navigation = new RunNavigation();
  private readonly abort = new AbortController();
  private readonly asked = performance.now();
  private started = 0;
  private ended = 0;
  private status: RunState['status'] = 'waiting';
  private rows = 0;
  private problems: Problem[] = [];
  private detail: string | null = null;
  private queries: OpenQuery[] = [];
  private worked: Omit<RunProfile, 'queries' | 'peakMemory'> | null = null;
  private peakMemory = 0;
  private readonly heights: number[] | null;
  private spool: PageSpool | null = null;
  /** Those who follow or read it at this moment. */
  private readers = 0;
  private lastSeen = performance.now();

  constructor(readonly request: RunRequest) {
    this.report = request.report;
    this.owners.add(request.owner);
    this.changes.setMaxListeners(0);
    this.heights = request.report.page.continuous ? [] : null;
  }

  get state(): RunState {
    const { id, status, rows, problems, detail, heights } = this;
    return {
      id,
      report: this.report.name,
      status,
      pages: this.pageCount,
      rows,
      problems,
      milliseconds: Math.round((this.ended || performance.now()) - (this.started || this.asked)),
      detail,
      headings: this.navigation.headings.length,
      heights,
    };
  }

  get hasEnded(): boolean {
    return this.ended > 0;
  }

  get isRunning(): boolean {
    return this.status === 'running';
  }

  get pageCount(): number {
    return this.spool?.count ?? 0;
  }

  /** 1-based; null when there is no such page. */
  async page(number: number) {
    return (await this.spool?.page(number)) ?? null;
  }

  /** Milliseconds since somebody followed it, read it or asked for it; 0 while somebody does. */
  get idle(): number {
    return this.readers > 0 ? 0 : performance.now() - this.lastSeen;
  }

  /** Notes that somebody asks for it. */
  seen(): void {
    this.lastSeen = performance.now();
  }

  /** Counts somebody who follows or reads it, until the function that it gives is called. */
  hold(): () => void {
    this.readers++;
    let isHeld = true;
    return () => {
      if (!isHeld) return;
      isHeld = false;
      this.readers--;
      this.seen();
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

  /** Ends it. One that still waits for its turn never starts. */
  cancel(): void {
    this.abort.abort();
    if (this.status !== 'waiting') return;
    this.status = 'cancelled';
    void this.finish();
  }

  async finished(): Promise<RunState> {
    while (!this.hasEnded) await new Promise((resolve) => this.changes.once('change', resolve));
    return this.state;
  }

  async close(): Promise<void> {
    await this.spool?.close();
  }

  private async finish(): Promise<void> {
    await this.request.close?.().catch(() => {});
    this.ended = performance.now();
    this.changes.emit('change');
  }

  /** Never rejects: what goes wrong is in its state. */
  async work(book: FontBook, limits: RunLimits): Promise<void> {
    const { request } = this;
    let last = 0;
    this.started = performance.now();
    this.status = 'running';
    this.measure();
    try {
      const spool = await PageSpool.open();
      this.spool = spool;
      this.changes.emit('change');
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
          host: request.rows.host ?? {},
          source: opened.source,
          regions: true,
          signal: this.abort.signal,
          maxPages: limits.maxPages,
          maxSeconds: limits.maxSeconds,
          limits: limits.layout,
          onPage: async (page) => {
            await spool.add(page);
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
        spool.fill(result.late);
        this.rows = result.rows;
        this.problems.push(...result.problems);
        this.status = 'done';
      } finally {
        // Who cancels need not wait for a database that takes its time.
        const closed = opened.close().catch(() => {});
        if (!this.abort.signal.aborted) await closed;
      }
    } catch (error) {
      this.status = error instanceof LayoutCancelled || this.abort.signal.aborted ? 'cancelled' : 'failed';
      if (this.status === 'failed') this.detail = error instanceof Error ? error.message : String(error);
    } finally {
      await this.finish();
    }
  }
}
