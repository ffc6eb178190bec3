import type { Page } from '@gaveta/core/internal';

/**
 * Hands pages from a run, which gives them, to an output, which takes them: one at a time, so that they never pile up. Either side
 * may end it: the run when it has given the last page or failed, the output when it has failed.
 */
export class PageChannel implements AsyncIterable<Page> {
  private page: Page | null = null;
  private isEnded = false;
  private failure: unknown = null;
  private wake: (() => void) | null = null;

  /** Resolves when the page has been taken. Throws what the channel was ended with. */
  async put(page: Page): Promise<void> {
    this.page = page;
    this.stir();
    while (this.page && !this.isEnded) await this.changed();
    if (this.failure !== null) throw this.failure;
  }

  /** No page comes any more; with a failure, whoever puts or takes throws it. */
  end(failure: unknown = null): void {
    if (this.isEnded) return;
    this.isEnded = true;
    this.failure = failure;
    this.stir();
  }

  async *[Symbol.asyncIterator](): AsyncGenerator<Page> {
    for (;;) {
      while (!this.page && !this.isEnded) await this.changed();
      if (this.failure !== null) throw this.failure;
      const { page } = this;
      if (!page) return;
      this.page = null;
      this.stir();
      yield page;
    }
  }

  private stir(): void {
    this.wake?.();
    this.wake = null;
  }

  private changed(): Promise<void> {
    return new Promise((resolve) => {
      const before = this.wake;
      this.wake = () => {
        before?.();
        resolve();
      };
    });
  }
}
