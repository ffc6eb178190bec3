import { Worker } from 'node:worker_threads';
import { phrase } from '@gaveta/core/internal';
import { threadStart } from '../base/package-files.ts';
import { ConnectionError, StatementEnded } from './connection.ts';
import type { Done, Task } from './pglite-work.ts';

/** Where an embedded database's data lies: a packed file that is unpacked into memory, a folder, or nothing yet. */
export type EmbeddedData = { file: string } | { folder: string } | null;

/** What the database answered to a task that failed. */
export class TaskFailure extends Error {
  constructor(
    message: string,
    readonly code: string | null,
    /** 1-based, as PostgreSQL counts. */
    readonly position: string | null,
  ) {
    super(message);
  }
}

/** Milliseconds that a statement nobody waits for may still take before its thread is ended. */
const GRACE = 1500;

interface Waiting {
  task: Task;
  seconds: number;
  signal: AbortSignal | undefined;
  resolve: (done: Done) => void;
  reject: (error: Error) => void;
  /** It waits no more: from now on its signal is looked after by what works on it. */
  begin: () => void;
}

/**
 * An embedded PostgreSQL in a thread of its own. It has no way to end a statement, so the thread is ended and started
 * anew when a task takes longer than it may or is not wanted any more; what waits behind it goes on then.
 */
export class EmbeddedThread {
  private worker: Promise<Worker> | null = null;
  private waiting: Waiting[] = [];
  private isBusy = false;
  private isClosed = false;
  private isKept = false;
  /** How often it was ended: cursors and tables of an earlier life are gone. */
  life = 0;

  constructor(
    private readonly data: EmbeddedData | (() => Promise<EmbeddedData>),
    /** Statements that are run at each start. */
    private readonly prepare = '',
  ) {}

  run(task: Task, { seconds, signal }: { seconds: number; signal?: AbortSignal | undefined }): Promise<Done> {
    return new Promise((resolve, reject) => {
      if (this.isClosed) return reject(new ConnectionError(phrase('database-closed')));
      if (signal?.aborted) return reject(new StatementEnded(phrase('statement-cancelled')));
      const giveUp = (): void => {
        const place = this.waiting.indexOf(job);
        if (place < 0) return;
        this.waiting.splice(place, 1);
        reject(new StatementEnded(phrase('statement-cancelled')));
      };
      const job: Waiting = {
        task,
        seconds,
        signal,
        resolve,
        reject,
        begin: () => signal?.removeEventListener('abort', giveUp),
      };
      signal?.addEventListener('abort', giveUp, { once: true });
      this.waiting.push(job);
      void this.next();
    });
  }

  /** Starts it before there is work for it, and again at once whenever it was ended: the next one who comes need not wait. */
  keepReady(): void {
    if (this.isKept) return;
    this.isKept = true;
    this.startAhead();
  }

  private startAhead(): void {
    // Whoever has work for it is told what is wrong.
    if (!this.isClosed) this.begin().catch(() => {});
  }

  /** The thread, started where there is none. */
  private async begin(): Promise<Worker> {
    this.worker ??= this.start();
    try {
      return await this.worker;
    } catch (error) {
      this.worker = null;
      throw new ConnectionError(error instanceof Error ? error.message : String(error));
    }
  }

  async close(): Promise<void> {
    this.isClosed = true;
    for (const job of this.waiting.splice(0)) {
      job.begin();
      job.reject(new ConnectionError(phrase('database-closed')));
    }
    await this.end();
  }

  private async end(): Promise<void> {
    const { worker } = this;
    this.worker = null;
    this.life++;
    await (await worker?.catch(() => null))?.terminate();
    if (this.isKept) this.startAhead();
  }

  private start(): Promise<Worker> {
    const started: Promise<Worker> = new Promise((resolve, reject) => {
      // Stays for the thread's life: one that dies while it has nothing to do is started anew for the next task.
      const gone = (error: Error): void => {
        reject(error);
        if (this.worker !== started) return;
        this.worker = null;
        this.life++;
      };
      const open = async (): Promise<void> => {
        const data = typeof this.data === 'function' ? await this.data() : this.data;
        const worker = new Worker(threadStart('pglite-worker', import.meta.url), {
          workerData: { data, prepare: this.prepare },
        });
        worker.on('error', (error) => gone(error instanceof Error ? error : new Error(String(error))));
        worker.on('exit', () => gone(new Error('the database stopped')));
        worker.once('message', (said: { ready: boolean; message?: string }) => {
          if (said.ready) {
            // A process that ends need not wait for an idle thread.
            worker.unref();
            resolve(worker);
          } else {
            void worker.terminate();
            reject(new Error(said.message));
          }
        });
      };
      open().catch(reject);
    });
    return started;
  }

  private async next(): Promise<void> {
    if (this.isBusy || this.isClosed) return;
    const job = this.waiting.shift();
    if (!job) return;
    job.begin();
    this.isBusy = true;
    try {
      job.resolve(await this.work(await this.begin(), job));
    } catch (error) {
      job.reject(error as Error);
    } finally {
      this.isBusy = false;
      void this.next();
    }
  }

  private work(worker: Worker, { task, seconds, signal, reject: giveUp }: Waiting): Promise<Done> {
    return new Promise((resolve, reject) => {
      // While the thread was started nobody looked.
      if (signal?.aborted) return reject(new StatementEnded(phrase('statement-cancelled')));
      worker.ref();
      const settle = (): void => {
        worker.unref();
        clearTimeout(timer);
        clearTimeout(grace);
        signal?.removeEventListener('abort', cancel);
        worker.off('message', onMessage);
        worker.off('error', onError);
        worker.off('exit', onExit);
      };
      const stop = (error: Error): void => {
        settle();
        void this.end().then(() => reject(error));
      };
      let grace: NodeJS.Timeout | undefined;
      // Nobody waits any more, but starting anew takes longer than most statements do.
      const cancel = (): void => {
        const cancelled = new StatementEnded(phrase('statement-cancelled'));
        giveUp(cancelled);
        grace = setTimeout(() => stop(cancelled), GRACE);
      };
      const onMessage = (
        said: { done: Done } | { failed: { message: string; code: string | null; position: string | null } },
      ): void => {
        settle();
        if ('done' in said) resolve(said.done);
        else reject(new TaskFailure(said.failed.message, said.failed.code, said.failed.position));
      };
      const onError = (error: unknown): void =>
        stop(
          new ConnectionError(
            phrase('database-stopped-as', { said: error instanceof Error ? error.message : String(error) }),
          ),
        );
      const onExit = (): void => stop(new ConnectionError(phrase('database-stopped')));
      const timer = setTimeout(() => stop(new StatementEnded(phrase('statement-slow', { seconds }))), seconds * 1000);
      worker.on('message', onMessage);
      worker.on('error', onError);
      worker.on('exit', onExit);
      signal?.addEventListener('abort', cancel, { once: true });
      worker.postMessage(task);
    });
  }
}
