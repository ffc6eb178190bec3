import type { Archive } from './archive.ts';
import { NamelessFile } from './nameless-file.ts';

/** Bytes that are written together. */
const TOGETHER = 256 * 1024;

/** A part of an archive that is written while others are; it waits in a temporary file. */
export class PartFile {
  private waiting: Uint8Array[] = [];
  private length = 0;
  private written: Promise<void> = Promise.resolve();

  private constructor(private readonly file: NamelessFile) {}

  static async open(): Promise<PartFile> {
    return new PartFile(await NamelessFile.open());
  }

  /** Gives a promise where whoever writes must wait. */
  write(data: Uint8Array): Promise<void> | undefined {
    this.waiting.push(data);
    this.length += data.length;
    return this.length < TOGETHER ? undefined : this.flush();
  }

  /** One stretch after the other; what goes wrong is heard by the next who waits as well. */
  private flush(): Promise<void> {
    const data = Buffer.concat(this.waiting);
    this.waiting = [];
    this.length = 0;
    this.written = this.written.then(() => this.file.append(data));
    this.written.catch(() => {});
    return this.written;
  }

  /** All that was written. */
  async *chunks(): AsyncGenerator<Uint8Array> {
    await this.flush();
    yield* this.file.chunks();
  }

  /** Puts all of it into an archive. */
  async into(archive: Archive, name: string, signal: AbortSignal): Promise<void> {
    await archive.stitch(name, [this], signal);
  }

  async close(): Promise<void> {
    await this.written.catch(() => {});
    await this.file.close();
  }
}
