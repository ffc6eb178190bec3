import type { Archive } from './archive.ts';
import { PartFile } from './part-file.ts';

/** Characters that are written together. */
const TOGETHER = 64 * 1024;

/** A text that becomes a file of an archive, of which parts may be known when all of the rest is. */
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

  /** A place of what is known later is here; gives its number, from 0. */
  async leaveRoom(): Promise<number> {
    await this.flush();
    return this.parts.push(await PartFile.open()) - 2;
  }

  /** Puts all of it into an archive, with what is known by now in the places that were left, in their order. */
  async into(archive: Archive, name: string, later: readonly string[], signal: AbortSignal): Promise<void> {
    await this.flush();
    const parts = this.parts.flatMap((part, i) => (i > 0 ? [later[i - 1] ?? '', part] : [part]));
    await archive.stitch(name, parts, signal);
  }

  async close(): Promise<void> {
    await Promise.all(this.parts.map((part) => part.close()));
  }
}
