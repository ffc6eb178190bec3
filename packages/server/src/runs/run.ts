import { randomUUID } from 'node:crypto';
import { EventEmitter } from 'node:events';
import {
  AS_STARTED,
  type AskedValue,
  type PageSizeFrom,
  type PlaceInRun,
  type Problem,
  type ProblemValue,
  problem,
  type Report,
  type RunProfile,
  type RunState,
  saidValue,
} from '@gaveta/core/internal';
import { fileName } from '@gaveta/output/file-name';
import { fileTypeOf } from '@gaveta/output/output';
import { RunNavigation } from '../pages/navigation.ts';
import type { PageStore } from '../pages/page-store.ts';
import type { FoundOnPage } from '../pages/page-words.ts';
import { RowSpool } from '../pages/row-spool.ts';
import type { KeepCalls, RunCalls, RunLimits, RunResult, TaskAnswers } from '../threads/job.ts';
import type { ReportThreads } from '../threads/report-threads.ts';
import { TookTooLong, TookTooMuch } from '../threads/thread-pool.ts';
import { explainedOf, type MadeRun, pagesTo, rowsTo } from './made-of-run.ts';
import { RunFile, RunFiles, type WriteFile } from './run-file.ts';
import { type FileOfOutput, fileKey, GRACE, type RunRequest } from './run-request.ts';
import { type ZipEntry, zipOf } from './zip-file.ts';

/** A report being run, or run: its pages can be read as soon as they are laid out. */
export class Run implements MadeRun {
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
  private said: ProblemValue | null = null;
  private result: Pick<RunResult, 'queries' | 'work'> | null = null;
  private peakMemory = 0;
  private readonly sizes: PageSizeFrom[] = [];
  private pages: PageStore | null = null;
  /** Lets go of the run that it is laid out from. */
  private readonly letGoBefore: () => void;
  private isFoldable = false;
  private place: PlaceInRun | null = null;
  /** Its rows, so that it can be laid out anew and become files of rows; null where none were kept. */
  private kept: RowSpool | null;
  private readonly files = new RunFiles();
  /** Those who follow or read it at this moment. */
  private readers = 0;
  private lastSeen = performance.now();

  constructor(
    readonly request: RunRequest,
    /** Opens a place for its pages, which the run closes. */
    private readonly openPages: () => Promise<PageStore>,
    /** The run that it is laid out from; let go of when it has ended. */
    private before: Run | null = null,
  ) {
    this.report = request.report;
    this.kept = request.again?.rows ?? null;
    this.letGoBefore = before?.hold() ?? (() => {});
    this.owners.add(request.owner);
    this.changes.setMaxListeners(0);
  }

  get state(): RunState {
    const { id, status, rows, problems, said, sizes, isFoldable, place } = this;
    return {
      id,
      report: this.report.name,
      status,
      pages: this.pageCount,
      rows,
      problems,
      milliseconds: Math.round((this.ended || performance.now()) - (this.started || this.asked)),
      detail: said === null ? null : saidValue(said),
      said,
      headings: this.navigation.headings.length,
      sizes,
      isFoldable,
      folds: this.request.again?.folds ?? AS_STARTED,
      form: this.request.form,
      language: this.report.language,
      place,
    };
  }

  private noteSize(page: number, { width, height }: { width: number; height: number }): void {
    const last = this.sizes.at(-1);
    if (last?.width !== width || last.height !== height) this.sizes.push({ page, width, height });
  }

  /** Rows that were read so far. */
  get rowCount(): number {
    return this.rows;
  }

  get hasEnded(): boolean {
    return this.ended > 0;
  }

  get isRunning(): boolean {
    return this.status === 'running';
  }

  get pageCount(): number {
    return this.pages?.count ?? 0;
  }

  /** A page as JSON, by its 1-based number; null when there is no such page. */
  async page(number: number): Promise<Buffer | null> {
    return (await this.pages?.page(number)) ?? null;
  }

  /** The pages so far on which words stand, and how often; null once they are gone. */
  async find(sought: string): Promise<FoundOnPage[] | null> {
    return (await this.pages?.find(sought)) ?? null;
  }

  /** The first page that has these bytes in its JSON, by its 1-based number; null when none does. */
  async pageWith(bytes: Uint8Array): Promise<number | null> {
    return (await this.pages?.pageWith(bytes)) ?? null;
  }

  /** The file of a picture on its pages, by its hash; null when there is none. */
  async picture(hash: string): Promise<Buffer | null> {
    return (await this.pages?.picture(hash)) ?? null;
  }

  /** A file of an output, made once for the same options. Only when it has ended. Fails as threads do. */
  file({ output, options, attached }: FileOfOutput, threads: ReportThreads, limits: RunLimits): RunFile {
    const asked = { output: output.name, options };
    const over = { threads, limits };
    const write = (): WriteFile => {
      if (output.takes !== 'pages') return rowsTo(this, asked, over);
      const inside = attached && { of: attached, file: () => this.file(attached, threads, limits) };
      return pagesTo(this, asked, inside, over);
    };
    return this.files.of(fileKey(asked), () => new RunFile(write()));
  }

  /** Several files in one, each called `name`. */
  zip(files: readonly FileOfOutput[], name: string, threads: ReportThreads, limits: RunLimits): RunFile {
    const options = { name, files: files.map(({ output, options: given }) => [output.name, given]) };
    const entries = files.map((one) => () => this.entry(one, name, threads, limits));
    const make = (): RunFile => new RunFile(zipOf(entries));
    return this.files.of(fileKey({ output: 'zip', options }), make);
  }

  private entry(asked: FileOfOutput, name: string, threads: ReportThreads, limits: RunLimits): ZipEntry {
    const { extension } = fileTypeOf(asked.output, asked.options);
    return { name: `${fileName(name, 'report')}.${extension}`, file: this.file(asked, threads, limits) };
  }

  /** Files of it that are being made, and how far they are. */
  get making(): { output: string; done: number; of: number }[] {
    return this.files.making.map(({ key, done, of }) => ({ output: (JSON.parse(key) as [string])[0], done, of }));
  }

  /** Where a value on its pages comes from; null when no page has it. Fails as threads do. */
  async explain(
    asked: AskedValue,
    threads: ReportThreads,
    limits: RunLimits,
    signal: AbortSignal,
  ): Promise<TaskAnswers['explain']> {
    const found = await explainedOf(this, asked, { threads, limits }, signal);
    // Rows that were kept were read by the run.
    return found && found.queries.length === 0 ? { ...found, queries: this.result?.queries ?? [] } : found;
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
    if (!this.result) return null;
    const { queries, work } = this.result;
    const shown = queries.map((query) => ({ ...query, sql: withSql ? query.sql : null }));
    return { ...work, queries: shown, peakMemory: this.peakMemory };
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

  /** What it was asked for, and its rows, held for one more run that is laid out from them; null when they are not all there. */
  again(): { request: RunRequest; rows: RowSpool | null } {
    return { request: this.request, rows: this.kept?.isWhole ? this.kept.hold() : null };
  }

  async close(): Promise<void> {
    await this.files.close();
    await this.pages?.close();
    await this.kept?.letGo();
    this.kept = null;
  }

  private async finish(): Promise<void> {
    this.letGoBefore();
    this.before = null;
    await this.request.close?.().catch(() => {});
    this.ended = performance.now();
    this.changes.emit('change');
  }

  /** Never rejects: what goes wrong is in its state. `wordsFor` finds them for an error that nobody expected. */
  async work(threads: ReportThreads, limits: RunLimits, wordsFor: (error: unknown) => ProblemValue): Promise<void> {
    const { job, rows, again = null } = this.request;
    let last = 0;
    this.started = performance.now();
    this.status = 'running';
    this.measure();
    try {
      const pages = await this.openPages();
      this.pages = pages;
      this.changes.emit('change');
      const asked = { job, rows, signal: this.abort.signal, seconds: limits.maxSeconds + GRACE };
      const task = {
        kind: 'run' as const,
        limits,
        form: this.request.form,
        again: again && {
          folds: again.folds,
          at: again.at,
          rows: again.rows && { id: again.rows.id, bytes: again.rows.bytes },
        },
      };
      const result = await threads.work(task, asked, {
        ...this.keeping(limits),
        ...this.after(pages),
        planned: async (problems, isFoldable) => {
          this.problems = problems;
          this.isFoldable = isFoldable;
        },
        pages: async ({ data, words, pages: written, pictures, navigation, place }) => {
          const before = pages.count;
          await pages.add(data, words, written, pictures);
          this.navigation.add(navigation);
          for (const [i, page] of written.entries()) this.noteSize(before + i + 1, page);
          const isPlaced = place !== null && this.place === null;
          this.place = place;
          if (before === 0 || isPlaced) this.changes.emit('change');
        },
        progress: async (read) => {
          this.rows = read;
          if (performance.now() - last < 100) return;
          last = performance.now();
          this.measure();
          this.changes.emit('change');
        },
      });
      this.result = result;
      pages.fill(result.late);
      this.rows = result.rows;
      this.place = result.place;
      this.problems = withoutDoubles([...this.problems, ...result.problems]);
      this.status = 'done';
    } catch (error) {
      this.failed(error, limits, wordsFor);
    } finally {
      await this.finish();
    }
  }

  /** What the thread calls to begin where the run before is another one, and to note what a run after it can begin with. */
  private after(pages: PageStore): Pick<RunCalls, 'reuse' | 'traceBefore' | 'trace'> {
    const { before } = this;
    return {
      reuse: async (count) => {
        if (!before?.pages) throw new Error('there is no run before');
        await pages.take(before.pages, count);
        this.navigation.take(before.navigation, count);
        this.sizes.push(...before.sizes.filter(({ page }) => page <= count));
        // What was wrong on pages that were not laid out again is not told again.
        this.problems = withoutDoubles([...this.problems, ...before.problems]);
      },
      traceBefore: async () => (await before?.pages?.trace()) ?? null,
      trace: (data) => pages.keepTrace(data),
    };
  }

  /** What the thread calls to keep rows, and to have them again. */
  private keeping({ keepRowBytes }: RunLimits): KeepCalls {
    let opening: Promise<RowSpool> | null = null;
    // Rows of several levels come at once, and all of them go into one.
    const opened = (): Promise<RowSpool> => {
      opening ??= RowSpool.open(keepRowBytes).then((spool) => {
        this.kept = spool;
        return spool;
      });
      return opening;
    };
    return {
      keep: async (level, data) => (await opened()).add(level, data),
      broke: async (level, problem) => (await opened()).broke(level, problem),
      keptAll: async () => (await opened()).complete(),
      kept: async (level, place) => (await this.kept?.batch(level, place)) ?? null,
    };
  }

  private failed(error: unknown, { maxSeconds }: RunLimits, wordsFor: (error: unknown) => ProblemValue): void {
    if (this.abort.signal.aborted) this.status = 'cancelled';
    else if (error instanceof TookTooLong && this.pageCount > 0) {
      // It has what it has so far, and says so.
      this.problems.push(problem('too-long', {}, { limit: maxSeconds }));
      this.status = 'done';
    } else {
      this.status = 'failed';
      this.said = error instanceof TookTooLong || error instanceof TookTooMuch ? error.said : wordsFor(error);
    }
  }
}

/** Each problem once. */
const withoutDoubles = (problems: readonly Problem[]): Problem[] => [
  ...new Map(problems.map((one) => [JSON.stringify(one), one])).values(),
];
