import type { Writable } from 'node:stream';

/** Whoever was to get the file went away before it was complete. */
export class TargetGone extends Error {}

/** Where the file goes. It may fail or go away at any time, and everybody who waits for it hears of that. */
export class Target {
  /** Never resolves; rejects once the target has failed. */
  readonly failed: Promise<never>;
  private failure: Error | null = null;
  private waiting: (() => void)[] = [];
  private isFinished = false;

  constructor(private readonly stream: Writable) {
    let reject: (error: Error) => void = () => {};
    this.failed = new Promise((_, fail) => {
      reject = fail;
    });
    // Heard by whoever waits for something else meanwhile.
    this.failed.catch(() => {});
    const wake = (): void => {
      if (this.failure) reject(this.failure);
      for (const resolve of this.waiting.splice(0)) resolve();
    };
    stream.on('error', (error: Error) => {
      this.failure ??= error;
      wake();
    });
    stream.on('close', () => {
      if (!this.isFinished) this.failure ??= new TargetGone('nobody takes the file any more');
      wake();
    });
    stream.on('finish', () => {
      this.isFinished = true;
      wake();
    });
    stream.on('drain', wake);
    if (!stream.destroyed) return;
    this.failure = stream.errored ?? new TargetGone('nobody takes the file any more');
    wake();
  }

  /** Throws once the target has failed. */
  check(): void {
    if (this.failure) throw this.failure;
  }

  /** Waits until there is room for more. */
  async drained(): Promise<void> {
    while (this.stream.writableNeedDrain) await this.woken();
  }

  async finished(): Promise<void> {
    while (!this.isFinished) await this.woken();
  }

  private async woken(): Promise<void> {
    this.check();
    await new Promise<void>((resolve) => this.waiting.push(resolve));
    this.check();
  }
}
