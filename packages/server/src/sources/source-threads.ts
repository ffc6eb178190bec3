import { once } from 'node:events';
import { MessageChannel } from 'node:worker_threads';
import { phrase, type WireRow } from '@gaveta/core/internal';
import { Piscina } from 'piscina';
import { threadStart } from '../base/package-files.ts';
import { plainWanted, type WantedField } from '../connection/connection.ts';
import type { SourceToRead } from './load.ts';
import { SourceError } from './raw.ts';
import type { RowsMessage, SourceAnswer, SourceTask } from './source-thread.ts';
import type { SourceTable, TableLook } from './tables.ts';

/** Milliseconds after which a thread without work is let go. */
const IDLE = 10_000;

/** Files read at once; more wait. */
const AT_ONCE = 2;

type Task<T> = T extends unknown ? Omit<T, 'source'> : never;

/**
 * Reads files and services in threads of their own, with limits on memory and time: whatever they hold, everybody else
 * goes on. A thread that nobody uses ends by itself.
 */
export class SourceThreads {
  private threads: Piscina<SourceTask, SourceAnswer> | null = null;
  private memory = 0;

  /** The tables of a source, and how they look. Throws SourceError with words for the one who set it up. */
  async describe(source: SourceToRead, signal: AbortSignal): Promise<{ tables: SourceTable[]; looks: TableLook[] }> {
    const timer = new AbortController();
    const patience = setTimeout(() => timer.abort(), source.limits.fileSeconds * 1000);
    try {
      const answer = await this.run(source, { kind: 'describe' }, [], AbortSignal.any([signal, timer.signal]));
      if ('refused' in answer) throw new SourceError(answer.refused);
      return answer;
    } catch (error) {
      throw this.inWords(error, source, timer.signal, signal);
    } finally {
      clearTimeout(patience);
    }
  }

  /** Rows of one of its tables in batches. Throws SourceError. */
  async *rows(
    source: SourceToRead,
    table: SourceTable,
    fields: readonly WantedField[],
    signal: AbortSignal,
  ): AsyncGenerator<WireRow[]> {
    const { port1, port2 } = new MessageChannel();
    const timer = new AbortController();
    const stop = new AbortController();
    const patience = setTimeout(() => timer.abort(), source.limits.fileSeconds * 1000);
    const wanted = fields.map(plainWanted);
    const ended = AbortSignal.any([signal, timer.signal, stop.signal]);
    const work = this.run(source, { kind: 'rows', table, fields: wanted, port: port2 }, [port2], ended);
    // Whoever waits for the next batch hears of it as well.
    const failed = work.then(
      (answer) => ('refused' in answer ? new SourceError(answer.refused) : null),
      (error: unknown) => error ?? new Error('the thread ended'),
    );
    try {
      for (;;) {
        const said = await Promise.race([
          once(port1, 'message').then(([message]) => message as RowsMessage),
          failed.then((error) => (error === null ? new Promise<never>(() => {}) : { error })),
        ]);
        clearTimeout(patience);
        if ('error' in said) throw this.inWords(said.error, source, timer.signal, signal);
        if ('end' in said) return;
        yield said.rows;
        signal.throwIfAborted();
        port1.postMessage('more');
      }
    } finally {
      clearTimeout(patience);
      port1.close();
      stop.abort();
      await failed;
    }
  }

  private run(
    source: SourceToRead,
    task: Task<SourceTask>,
    transferList: readonly (typeof MessageChannel.prototype.port2)[],
    signal: AbortSignal,
  ): Promise<SourceAnswer> {
    const { fileMemory } = source.limits;
    if (!this.threads || this.memory !== fileMemory) {
      void this.close();
      this.memory = fileMemory;
      this.threads = new Piscina<SourceTask, SourceAnswer>({
        filename: threadStart('source-thread', import.meta.url).href,
        minThreads: 0,
        maxThreads: AT_ONCE,
        idleTimeout: IDLE,
        resourceLimits: { maxOldGenerationSizeMb: fileMemory },
      });
      // A thread that dies while it has nothing to do, or before it could begin, is replaced by the next one.
      this.threads.on('error', () => {});
    }
    return this.threads.run({ ...task, source } as SourceTask, { signal, transferList: [...transferList] });
  }

  private inWords(error: unknown, { limits }: SourceToRead, timedOut: AbortSignal, given: AbortSignal): unknown {
    if (given.aborted) return given.reason;
    if (timedOut.aborted) return new SourceError(phrase('file-slow', { seconds: limits.fileSeconds }));
    const code = typeof error === 'object' && error !== null && 'code' in error ? error.code : null;
    if (code === 'ERR_WORKER_OUT_OF_MEMORY') return new SourceError(phrase('file-heavy', { most: limits.fileMemory }));
    return error;
  }

  async close(): Promise<void> {
    const { threads } = this;
    this.threads = null;
    await threads?.destroy();
  }
}
