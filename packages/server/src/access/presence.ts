/** Somebody who has a report open to change it. */
export interface Present {
  user: string;
  /** When they opened it, in milliseconds since 1970. */
  since: number;
}

interface Window extends Present {
  seen: number;
}

/** Windows that say nothing for so long count as closed, in milliseconds. */
const PATIENCE = 25_000;

/** Who has which report open. */
export interface PresenceBook {
  /** Notes that a window has a report open, and gives the others that do. */
  notice(report: string, window: string, user: string): Promise<Present[]>;
  leave(report: string, window: string): Promise<void>;
}

/** Those whose windows speak to this process. Kept in memory: windows tell again every few seconds. */
export class MemoryPresence implements PresenceBook {
  private readonly windows = new Map<string, Map<string, Window>>();

  constructor(private readonly now: () => number = Date.now) {}

  async notice(report: string, window: string, user: string): Promise<Present[]> {
    const now = this.now();
    const open = this.windows.get(report) ?? new Map<string, Window>();
    this.windows.set(report, open);
    open.set(window, { user, since: open.get(window)?.since ?? now, seen: now });
    for (const [other, { seen }] of open) if (now - seen > PATIENCE) open.delete(other);
    return [...open].filter(([other]) => other !== window).map(([, { user: who, since }]) => ({ user: who, since }));
  }

  async leave(report: string, window: string): Promise<void> {
    const open = this.windows.get(report);
    open?.delete(window);
    if (open?.size === 0) this.windows.delete(report);
  }
}
