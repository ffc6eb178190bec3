/** Milliseconds between tries to reach the server again: soon at first, then less often. */
const PAUSES = [500, 1000, 2000, 4000, 8000];

/** Whether the server is reached; tries again by itself while it is not. */
export class Connection {
  private online = true;
  private tries = 0;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly listeners = new Set<(isOnline: boolean) => void>();

  /** `reach`: asks the server something small; rejects while it is away. */
  constructor(private readonly reach: () => Promise<unknown>) {}

  get isOnline(): boolean {
    return this.online;
  }

  lost(): void {
    if (!this.online) return;
    this.online = false;
    this.tries = 0;
    this.tell();
    this.tryLater();
  }

  back(): void {
    if (this.online) return;
    clearTimeout(this.timer);
    this.online = true;
    this.tell();
  }

  tryNow(): void {
    clearTimeout(this.timer);
    this.reach().then(
      () => this.back(),
      () => this.tryLater(),
    );
  }

  follow(listener: (isOnline: boolean) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  private tryLater(): void {
    const pause = PAUSES[Math.min(this.tries++, PAUSES.length - 1)];
    this.timer = setTimeout(() => this.tryNow(), pause);
  }

  private tell(): void {
    for (const listener of this.listeners) listener(this.online);
  }
}

/** That of this page. */
export const connection = new Connection(() => fetch(new URL('api/fonts', document.baseURI), { cache: 'no-store' }));
