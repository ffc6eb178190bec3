import { MessageChannel } from 'node:worker_threads';
import { Piscina } from 'piscina';
import { joined } from './calls.ts';
import type { ReportJob, ReportTask, RunCalls, TaskAnswers, ThreadCalls, ThreadTask } from './job.ts';
import { plainConnections, type ReportRows, RowServer } from './row-server.ts';

/** Milliseconds after which a thread without work is let go; the last one stays. */
const IDLE = 60_000;

/** Threads for the short questions of those who design, which never wait behind runs. */
const SHORT = 2;

/** Milliseconds that a thread gets to end by itself before it is ended. */
const GRACE = 1000;

/** It took longer than it may, and its thread was ended. */
export class TookTooLong extends Error {}

/** It took more memory than it may, and its thread was ended. */
export class TookTooMuch extends Error {}

export interface ThreadLimits {
  /** Runs at once. */
  runsAtOnce: number;
  /** Megabytes that one report may take while it is planned and laid out. */
  reportMemory: number;
}

interface Asked {
  job: ReportJob;
  rows: ReportRows;
  signal: AbortSignal;
  /** Seconds after which its thread is ended. */
  seconds: number;
}

/**
 * Threads in which reports are planned and laid out, one report at a time in each: what takes long holds up nobody else, and
 * can be ended. Rows come from the connections, which stay in this thread.
 */
export class ReportThreads {
  private runs: Pool | null = null;
  private short: Pool | null = null;

  constructor(private readonly limits: ThreadLimits) {}

  /** Starts a first thread ahead of the first run, which else waits for it. */
  warm(): void {
    this.poolOf('run');
  }

  private poolOf(kind: ReportTask['kind']): Pool {
    const { runsAtOnce, reportMemory } = this.limits;
    if (kind === 'run') {
      this.runs ??= pool(runsAtOnce, reportMemory);
      return this.runs;
    }
    this.short ??= pool(SHORT, reportMemory);
    return this.short;
  }

  /**
   * Does one task and gives what it came to. Throws TookTooLong, TookTooMuch, the signal's reason, or what went wrong in the
   * thread. Whatever was opened for it is closed then.
   */
  async work<T extends ReportTask>(task: T, asked: Asked, heard?: RunCalls): Promise<TaskAnswers[T['kind']]> {
    const { job, rows, signal, seconds } = asked;
    signal.throwIfAborted();
    const { port1, port2 } = new MessageChannel();
    const server = new RowServer(rows, job.claims, job.seconds);
    const thread = joined<ThreadCalls>(port1, { ...server.calls, ...heard });
    const stop = new AbortController();
    let grace: NodeJS.Timeout | undefined;
    const cancel = (): void => {
      server.cancel();
      thread.cancel().catch(() => {});
      grace ??= setTimeout(() => stop.abort(), GRACE).unref();
    };
    let isLate = false;
    const patience = setTimeout(() => {
      isLate = true;
      cancel();
    }, seconds * 1000).unref();
    signal.addEventListener('abort', cancel, { once: true });
    try {
      const connections = plainConnections(rows.connections);
      const given: ThreadTask = { task, job, connections, modelsKey: rows.modelsKey, port: port2 };
      const answer = await this.poolOf(task.kind).run(given, { transferList: [port2], signal: stop.signal });
      return answer as TaskAnswers[T['kind']];
    } catch (error) {
      signal.throwIfAborted();
      if (isLate) throw new TookTooLong(`It took longer than ${seconds} seconds.`);
      if (codeOf(error) === 'ERR_WORKER_OUT_OF_MEMORY')
        throw new TookTooMuch(`It takes more than ${this.limits.reportMemory} MB of memory.`);
      throw error;
    } finally {
      clearTimeout(patience);
      clearTimeout(grace);
      signal.removeEventListener('abort', cancel);
      port1.close();
      // Who cancels need not wait for a database that takes its time.
      const closed = server.close();
      if (!stop.signal.aborted && !signal.aborted) await closed;
    }
  }

  async close(): Promise<void> {
    await Promise.all([this.runs?.destroy(), this.short?.destroy()]);
    this.runs = null;
    this.short = null;
  }
}

type Pool = Piscina<ThreadTask, TaskAnswers[keyof TaskAnswers]>;

const pool = (maxThreads: number, memory: number): Pool => {
  const threads: Pool = new Piscina({
    filename: new URL('./report-thread-start.mjs', import.meta.url).href,
    minThreads: 1,
    maxThreads,
    idleTimeout: IDLE,
    resourceLimits: { maxOldGenerationSizeMb: memory },
  });
  // A thread that dies while it has nothing to do, or before it could begin, is replaced by the next one.
  threads.on('error', () => {});
  return threads;
};

const codeOf = (error: unknown): unknown =>
  typeof error === 'object' && error !== null && 'code' in error ? error.code : null;
