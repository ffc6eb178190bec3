import type { Work } from '../store/delivery-records.ts';

/**
 * Hands out what is to be done. What there is stands in the store, and whoever does it takes it there, so that a queue may forget or
 * hand out twice.
 */
export interface WorkQueue {
  /** Puts something to be done soon; what waits already is put once. */
  put(work: Work): Promise<void>;
  /** Does what is put from then on, several at once. `todo` never rejects. */
  start(todo: (work: Work) => Promise<void>): Promise<void>;
  /** Takes no more, and resolves when what is under way is over. */
  close(): Promise<void>;
}

/** Done at once by one process. */
export const AT_ONCE = 4;

export const keyOf = ({ kind, run }: Work): string => `${kind} ${run}`;

/** The queue of one process, in its memory. */
export class ProcessQueue implements WorkQueue {
  private readonly waiting = new Map<string, Work>();
  private readonly working = new Map<string, Promise<void>>();
  private todo: ((work: Work) => Promise<void>) | null = null;

  async put(work: Work): Promise<void> {
    const key = keyOf(work);
    if (!this.working.has(key)) this.waiting.set(key, work);
    this.next();
  }

  async start(todo: (work: Work) => Promise<void>): Promise<void> {
    this.todo = todo;
    this.next();
  }

  async close(): Promise<void> {
    this.todo = null;
    this.waiting.clear();
    await Promise.all(this.working.values());
  }

  private next(): void {
    const { todo } = this;
    if (!todo) return;
    for (const [key, work] of this.waiting) {
      if (this.working.size >= AT_ONCE) return;
      this.waiting.delete(key);
      const done = todo(work).finally(() => {
        this.working.delete(key);
        this.next();
      });
      this.working.set(key, done);
    }
  }
}
