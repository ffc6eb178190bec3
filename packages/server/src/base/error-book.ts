/** Errors that are remembered. */
const MOST = 50;

/** Characters of one that are. */
const LONGEST = 2000;

export interface NotedError {
  /** When it came last. */
  at: Date;
  said: string;
  /** How many times in a row. */
  times: number;
}

/** The last errors that went to a log, for the developer who looks for them. */
export class ErrorBook {
  private readonly noted: NotedError[] = [];

  note(error: unknown): void {
    const said = (error instanceof Error ? error.message : String(error)).slice(0, LONGEST);
    const last = this.noted.at(-1);
    if (last?.said === said) {
      last.at = new Date();
      last.times++;
      return;
    }
    this.noted.push({ at: new Date(), said, times: 1 });
    if (this.noted.length > MOST) this.noted.shift();
  }

  /** Newest first. */
  all(): NotedError[] {
    return [...this.noted].reverse();
  }
}
