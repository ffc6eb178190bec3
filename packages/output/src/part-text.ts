import type { Archive } from './archive.ts';
import { PartFile } from './part-file.ts';

/** Characters that are written together. */
const TOGETHER = 64 * 1024;

/** A text that becomes a file of an archive, of which a part may be known when all of the rest is. */
export class PartText {
  private readonly parts: PartFile[];
  private waiting: string[] = [];
  private length = 0;

  private constructor(first: PartFile) {
    this.parts = [first];
  }

  static async open(): Promise<PartText> {
    return new PartText(await PartFile.open());
  }

  /** Gives a promise where whoever writes must wait. */
  write(text: string): Promise<void> | undefined {
    this.waiting.push(text);
    this.length += text.length;
    return this.length < TOGETHER ? undefined : this.flush();
  }

  private flush(): Promise<void> | undefined {
    const text = this.waiting.join('');
    this.waiting = [];
    this.length = 0;
    return text === '' ? undefined : this.parts.at(-1)!.write(Buffer.from(text));
  }

  /** The place of what is known later is here; of several the first. */
  async leaveRoom(): Promise<void> {
    if (this.hasRoom) return;
    await this.flush();
    this.parts.push(await PartFile.open());
  }

  get hasRoom(): boolean {
    return this.parts.length > 1;
  }

  /** Puts all of it into an archive, with `later` in the place that was left. */
  async into(archive: Archive, name: string, later: string, signal: AbortSignal): Promise<void> {
    await this.flush();
    await archive.stitch(
      name,
      this.parts.flatMap((part, i) => (i > 0 ? [later, part] : [part])),
      signal,
    );
  }

  async close(): Promise<void> {
    await Promise.all(this.parts.map((part) => part.close()));
  }
}
