import type { Act } from '@gaveta/core/contract';
import type { Activity, ActivityStore } from '../store/activity-store.ts';
import type { Store } from '../store/store.ts';
import type { Caller, Calls } from './call.ts';
import type { Gate } from './gate.ts';

/** Characters of what is told of one deed. */
const MOST_TOLD = 4000;
/** Deeds that wait to be written; beyond them the oldest are lost, which the log is told. */
const MOST_WAITING = 10_000;
/** Written at once. */
const AT_ONCE = 500;
/** Milliseconds between two looks for what is old. */
const SWEEP = 6 * 3600 * 1000;

/** Notes who did what, in the background: nobody waits for it, and what is done is done when it fails. */
export class ActivityBook {
  private readonly waiting: Omit<Activity, 'id' | 'at'>[] = [];
  private writing: Promise<void> | null = null;
  private sweptAt = 0;

  constructor(
    private readonly store: ActivityStore,
    /** Days for which it is kept; 0: nothing is noted. */
    private readonly days: number,
    private readonly log: (error: unknown) => void,
  ) {}

  note(
    { user, isCode }: Pick<Caller, 'user' | 'isCode'>,
    act: Act,
    thing: { id: string; name: string } | null,
    data: Record<string, unknown> = {},
  ): void {
    if (this.days === 0 || isCode) return;
    const isShort = JSON.stringify(data).length <= MOST_TOLD;
    const told = isShort ? data : { cut: true };
    this.waiting.push({ user, act, thing: thing?.id ?? null, name: thing?.name ?? '', data: told });
    if (this.waiting.length > MOST_WAITING) {
      this.waiting.shift();
      this.log(new Error('The record of who did what cannot be written as fast as it grows: some of it is lost.'));
    }
    this.writing ??= this.write().finally(() => {
      this.writing = null;
    });
  }

  /** Resolves when everything is written. */
  async done(): Promise<void> {
    await this.writing;
  }

  private async write(): Promise<void> {
    // What is noted in the same moment is written together.
    await Promise.resolve();
    while (this.waiting.length > 0) {
      const some = this.waiting.splice(0, AT_ONCE);
      try {
        await this.store.add(some);
        if (Date.now() - this.sweptAt > SWEEP) {
          this.sweptAt = Date.now();
          await this.store.sweep(this.days);
        }
      } catch (error) {
        this.log(error);
      }
    }
  }
}

/** Who did what, for those who may decide about it. */
export const activityService = (store: Store, gate: Gate, book: ActivityBook): Calls<'GET /activity'> => ({
  'GET /activity': async ({ caller, query }) => {
    await book.done();
    return store.activity.list(gate.viewer(caller), query);
  },
});
