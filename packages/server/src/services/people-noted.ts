import type { Session } from '../access/session.ts';
import { dropOldest } from '../base/drop-oldest.ts';
import type { GrantStore } from '../store/grant-store.ts';

/** Milliseconds after which somebody who comes is noted again. */
const AGAIN = 3_600_000;
const MOST_KNOWN = 5000;

/** Notes who comes, and of which groups they are, now and then. Nobody waits for it. */
export class PeopleNoted {
  private readonly at = new Map<string, number>();
  private noting: Promise<void> = Promise.resolve();

  constructor(
    private readonly grants: GrantStore,
    private readonly log: (error: unknown) => void,
  ) {}

  note({ user, groups = [] }: Session): void {
    const key = JSON.stringify([user, groups]);
    const now = Date.now();
    if (now - (this.at.get(key) ?? 0) < AGAIN) return;
    this.at.set(key, now);
    dropOldest(this.at, MOST_KNOWN);
    const viewer = { user, groups, seesAll: false, most: 'see' } as const;
    this.noting = this.noting.then(() => this.grants.notePeople(viewer)).catch(this.log);
  }

  /** Resolves when everybody has been noted. */
  done(): Promise<void> {
    return this.noting;
  }
}
