import { MessageChannel, type MessagePort } from 'node:worker_threads';
import { phrase, SaidError } from '@gaveta/core/internal';
import { Piscina } from 'piscina';
import { joined } from './calls.ts';
import type { ThreadStart } from './thread-equipment.ts';

/** Milliseconds after which a thread without work is let go; the last one stays. */
const IDLE = 60_000;

/** Milliseconds that a thread gets to end by itself before it is ended. */
const GRACE = 1000;

/** It took longer than it may, and its thread was ended. */
export class TookTooLong extends SaidError {}

/** It took more memory than it may, and its thread was ended. */
export class TookTooMuch extends SaidError {}

/** A file cannot be made of what it was to be made of. */
export class FileRefused extends SaidError {}

/** What may be asked of every thread. */
export interface ThreadCalls {
  cancel(): Promise<void>;
}

interface Asked {
  /** Functions that the thread may call. */
  offered: object;
  signal: AbortSignal;
  /** Seconds after which its thread is ended. */
  seconds: number;
  /** Called when the task is cancelled or takes too long, before its thread is ended. */
  cancelled?: () => void;
}

/** Threads that do one task at a time each, within limits on time and memory. */
export class ThreadPool<Task extends { port: MessagePort }, Answer> {
  private readonly threads: Piscina<Task, Answer>;

  /**
   * `start`: the module that threads run, and what each is started with. `most`: how many of them; further tasks wait.
   * `memory`: megabytes of each.
   */
  constructor(
    start: { module: URL; data: ThreadStart },
    most: number,
    private readonly memory: number,
  ) {
    this.threads = new Piscina({
      filename: start.module.href,
      workerData: start.data,
      minThreads: 1,
      maxThreads: most,
      idleTimeout: IDLE,
      resourceLimits: { maxOldGenerationSizeMb: memory },
    });
    // A thread that dies while it has nothing to do, or before it could begin, is replaced by the next one.
    this.threads.on('error', () => {});
  }

  /** Throws TookTooLong, TookTooMuch, the signal's reason, or what went wrong in the thread. */
  async run(task: Omit<Task, 'port'>, { offered, signal, seconds, cancelled }: Asked): Promise<Answer> {
    signal.throwIfAborted();
    const { port1, port2 } = new MessageChannel();
    const thread = joined<ThreadCalls>(port1, offered);
    const stop = new AbortController();
    let grace: NodeJS.Timeout | undefined;
    const cancel = (): void => {
      cancelled?.();
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
      const given = { ...task, port: port2 } as unknown as Task;
      return await this.threads.run(given, { transferList: [port2], signal: stop.signal });
    } catch (error) {
      signal.throwIfAborted();
      if (isLate) throw new TookTooLong(phrase('took-long', { seconds }));
      if (codeOf(error) === 'ERR_WORKER_OUT_OF_MEMORY')
        throw new TookTooMuch(phrase('took-much', { most: this.memory }));
      throw error;
    } finally {
      clearTimeout(patience);
      clearTimeout(grace);
      signal.removeEventListener('abort', cancel);
      port1.close();
    }
  }

  close(): Promise<void> {
    return this.threads.destroy();
  }
}

const codeOf = (error: unknown): unknown =>
  typeof error === 'object' && error !== null && 'code' in error ? error.code : null;
