import type { ProblemValue } from '@gaveta/core/internal';
import { threadStart } from '../base/package-files.ts';
import type { FileCalls, FileTask } from './file-thread.ts';
import type {
  KeepCalls,
  ListCalls,
  PartCalls,
  ReportJob,
  ReportTask,
  RunCalls,
  TaskAnswers,
  ThreadTask,
} from './job.ts';
import { plainConnections, type ReportRows, RowServer } from './row-server.ts';
import type { ThreadStart } from './thread-equipment.ts';
import { FileRefused, ThreadPool } from './thread-pool.ts';

/** Threads that write files; they wait for nobody, so that more would only share the processor. */
const FILES = 4;

export interface ThreadLimits {
  /** Runs at once, and as many short questions about reports. */
  runsAtOnce: number;
  /** Megabytes that one report may take while it is planned and laid out, or written to a file. */
  reportMemory: number;
}

interface Asked {
  job: ReportJob;
  rows: ReportRows;
  signal: AbortSignal;
  /** Seconds after which its thread is ended. */
  seconds: number;
}

/** Pages that become a file of an output. */
export type FileAsked = Omit<FileTask, 'port'>;

type ReportPool = ThreadPool<ThreadTask, TaskAnswers[keyof TaskAnswers]>;

/**
 * Threads in which reports are planned, laid out and written to files, one report at a time in each: what takes long holds up
 * nobody else, and can be ended. Rows come from the connections, which stay in this thread.
 */
export class ReportThreads {
  private runs: ReportPool | null = null;
  private short: ReportPool | null = null;
  private lists: ReportPool | null = null;
  private files: ThreadPool<FileTask, ProblemValue | null> | null = null;

  /** `modules`: addresses of those that add to the equipment. */
  constructor(
    private readonly limits: ThreadLimits,
    private readonly modules: readonly string[] = [],
  ) {}

  private start(name: string): { module: URL; data: ThreadStart } {
    return { module: threadStart(name, import.meta.url), data: { modules: this.modules } };
  }

  /** Starts a first thread ahead of the first run, which else waits for it. */
  warm(): void {
    this.poolOf('run');
  }

  private poolOf(kind: ReportTask['kind']): ReportPool {
    const start = this.start('report-thread');
    const { runsAtOnce, reportMemory } = this.limits;
    if (kind === 'list') {
      this.lists ??= new ThreadPool(start, FILES, reportMemory);
      return this.lists;
    }
    if (kind === 'run' || kind === 'parts') {
      this.runs ??= new ThreadPool(start, runsAtOnce, reportMemory);
      return this.runs;
    }
    // The short questions of those who design never wait behind runs.
    this.short ??= new ThreadPool(start, runsAtOnce, reportMemory);
    return this.short;
  }

  /**
   * Does one task and gives what it came to. Throws TookTooLong, TookTooMuch, the signal's reason, or what went wrong in the
   * thread. Whatever was opened for it is closed then.
   */
  async work<T extends ReportTask>(
    task: T,
    asked: Asked,
    heard?: RunCalls | ListCalls | PartCalls | Pick<KeepCalls, 'kept'>,
  ): Promise<TaskAnswers[T['kind']]> {
    const { job, rows, signal, seconds } = asked;
    const server = new RowServer(rows, job.claims, job.seconds);
    let isCancelled = false;
    const cancelled = (): void => {
      isCancelled = true;
      server.cancel();
    };
    const offered = { ...server.calls, ...heard };
    const given = { task, job, connections: plainConnections(rows.connections), modelsKey: rows.modelsKey };
    try {
      const answer = await this.poolOf(task.kind).run(given, { offered, signal, seconds, cancelled });
      return answer as TaskAnswers[T['kind']];
    } finally {
      // Who cancels need not wait for a database that takes its time.
      const closed = server.close().catch(() => {});
      if (!isCancelled) await closed;
    }
  }

  /** Writes pages to a file, which leaves through `calls.write`. Throws as {@link work} does, and FileRefused. */
  async file(task: FileAsked, calls: FileCalls, signal: AbortSignal, seconds: number): Promise<void> {
    const start = this.start('file-thread');
    this.files ??= new ThreadPool(start, FILES, this.limits.reportMemory);
    const refused = await this.files.run(task, { offered: calls, signal, seconds });
    if (refused !== null) throw new FileRefused(refused);
  }

  async close(): Promise<void> {
    await Promise.all([this.runs, this.short, this.lists, this.files].map((pool) => pool?.close()));
    this.runs = null;
    this.short = null;
    this.lists = null;
    this.files = null;
  }
}
