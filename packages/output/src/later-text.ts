import type { Writable } from 'node:stream';
import { PartFile } from './part-file.ts';
import { TextSink } from './text-sink.ts';

/** A text of which a part is known when all of the rest is: what comes after its place waits in a temporary file. */
export class LaterText {
  private readonly sink: TextSink;
  private rest: PartFile | null = null;
  private readonly signal: AbortSignal;

  constructor(stream: Writable, signal: AbortSignal) {
    this.sink = new TextSink(stream, signal);
    this.signal = signal;
  }

  /** Gives a promise where whoever writes must wait. */
  write(text: string): Promise<void> | undefined {
    return this.rest ? this.rest.write(Buffer.from(text)) : this.sink.write(text);
  }

  /** The place of what is known later is here; of several the first. */
  async leaveRoom(): Promise<void> {
    this.rest ??= await PartFile.open();
  }

  get hasRoom(): boolean {
    return this.rest !== null;
  }

  /** Fills the place that was left, and completes the text. */
  async end(later: string): Promise<void> {
    if (this.rest) {
      await this.sink.write(later);
      for await (const chunk of this.rest.chunks()) {
        this.signal.throwIfAborted();
        await this.sink.bytes(chunk);
      }
    }
    await this.sink.end();
  }

  async close(): Promise<void> {
    await this.rest?.close();
  }
}
