import { randomUUID } from 'node:crypto';
import { type FileHandle, open, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { LateFill, Mark, Page } from '@gaveta/core';

/**
 * Pages of a run, kept in a file so that memory holds only where each one starts. The file has no name any more once it
 * is open, so that nothing of it stays behind when the process is ended.
 */
export class PageSpool {
  private readonly at: { offset: number; length: number }[] = [];
  private readonly late = new Map<number, Mark[]>();
  private size = 0;
  private isClosed = false;

  private constructor(
    private readonly file: FileHandle,
    /** Null where the name is gone already. */
    private readonly path: string | null,
  ) {}

  static async open(): Promise<PageSpool> {
    const path = join(tmpdir(), `gaveta-run-${randomUUID()}`);
    const file = await open(path, 'wx+', 0o600);
    // Some systems do not let go of the name while the file is open.
    const isGone = await rm(path).then(
      () => true,
      () => false,
    );
    return new PageSpool(file, isGone ? null : path);
  }

  get count(): number {
    return this.at.length;
  }

  add(page: Page): Promise<void> {
    return this.addWritten(Buffer.from(JSON.stringify(page)));
  }

  /** A page as JSON. */
  async addWritten(data: Uint8Array): Promise<void> {
    let written = 0;
    while (written < data.length) {
      const { bytesWritten } = await this.file.write(data, written, data.length - written, this.size + written);
      written += bytesWritten;
    }
    this.at.push({ offset: this.size, length: data.length });
    this.size += data.length;
  }

  fill(late: Iterable<LateFill>): void {
    for (const { page, marks } of late) this.late.set(page, marks);
  }

  /** 1-based; null when there is no such page. What waited for the number of pages is on it once that is known. */
  async page(number: number): Promise<Page | null> {
    const place = this.at[number - 1];
    if (!place || this.isClosed) return null;
    const data = Buffer.alloc(place.length);
    await this.file.read(data, 0, place.length, place.offset);
    const { late, ...page } = JSON.parse(data.toString()) as Page;
    const more = this.late.get(number);
    return more ? { ...page, marks: [...page.marks, ...more] } : late ? { ...page, late } : page;
  }

  async close(): Promise<void> {
    if (this.isClosed) return;
    this.isClosed = true;
    await this.file.close();
    if (this.path !== null) await rm(this.path, { force: true });
  }
}
