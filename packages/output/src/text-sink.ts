import type { Writable } from 'node:stream';
import { Target } from './target.ts';

/** Characters that leave together. */
const TOGETHER = 64 * 1024;

/** Where text goes: what comes in small pieces leaves in large ones, no faster than it is taken. */
export class TextSink {
  private waiting: string[] = [];
  private length = 0;
  private readonly target: Target;

  constructor(
    private readonly stream: Writable,
    private readonly signal: AbortSignal,
    private readonly encode: (text: string) => Uint8Array = (text) => Buffer.from(text),
  ) {
    this.target = new Target(stream);
  }

  /** Gives a promise where whoever writes must wait. Throws what is wrong with the target, and the signal’s reason. */
  write(text: string): Promise<void> | undefined {
    this.waiting.push(text);
    this.length += text.length;
    if (this.length < TOGETHER) return undefined;
    const flushed = this.flush();
    // Whoever does not wait for it hears of it with the next that waits.
    flushed.catch(() => {});
    return flushed;
  }

  /** Bytes as they are, behind what was written before. */
  async bytes(data: Uint8Array): Promise<void> {
    await this.flush();
    if (!this.stream.write(data)) await this.target.drained();
  }

  async flush(): Promise<void> {
    this.signal.throwIfAborted();
    this.target.check();
    const text = this.waiting.join('');
    this.waiting = [];
    this.length = 0;
    if (text !== '' && !this.stream.write(this.encode(text))) await this.target.drained();
  }

  /** Resolves when everything has been taken. */
  async end(): Promise<void> {
    await this.flush();
    this.stream.end();
    await this.target.finished();
  }
}
