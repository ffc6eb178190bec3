import { randomUUID } from 'node:crypto';
import { type FileHandle, open, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { LateFill, Mark, Page } from '@gaveta/core';

/** What is known of a written page without reading it. */
export interface PageHeader {
  /** Bytes. */
  length: number;
  /** Points. */
  height: number;
  /** Something on it waits for the number of pages. */
  late: boolean;
}

/** A page as JSON that ends with its marks, so that more of them can be added to the bytes. */
export const writePage = ({ late: _, marks, ...page }: Page): Uint8Array =>
  Buffer.from(JSON.stringify({ ...page, marks }));

/** Bytes that a written page ends with: of its list of marks, and of itself. */
const ENDING = ']}'.length;

/**
 * Pages of a run, kept in a file so that memory holds only where each one starts. The file has no name any more once it
 * is open, so that nothing of it stays behind when the process is ended.
 */
export class PageSpool {
  private readonly at: (PageHeader & { offset: number })[] = [];
  private readonly late = new Map<number, readonly Mark[]>();
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

  /** Pages as {@link writePage} wrote them, behind one another. */
  async add(data: Uint8Array, pages: readonly PageHeader[]): Promise<void> {
    let written = 0;
    while (written < data.length) {
      const { bytesWritten } = await this.file.write(data, written, data.length - written, this.size + written);
      written += bytesWritten;
    }
    for (const page of pages) {
      this.at.push({ ...page, offset: this.size });
      this.size += page.length;
    }
  }

  fill(late: Iterable<LateFill>): void {
    for (const { page, marks } of late) this.late.set(page, marks);
  }

  /**
   * A page as JSON, by its 1-based number; null when there is no such page. What waited for the number of pages is on it
   * once that is known.
   */
  async written(number: number): Promise<Buffer | null> {
    const place = this.at[number - 1];
    if (!place || this.isClosed) return null;
    const data = Buffer.alloc(place.length);
    await this.file.read(data, 0, place.length, place.offset);
    const more = this.late.get(number);
    if (!more) return place.late ? Buffer.concat([data.subarray(0, -1), Buffer.from(',"late":true}')]) : data;
    if (more.length === 0) return data;
    const body = data.subarray(0, -ENDING);
    const isFirst = body.at(-1) === '['.charCodeAt(0);
    return Buffer.concat([body, Buffer.from(`${isFirst ? '' : ','}${JSON.stringify(more).slice(1)}}`)]);
  }

  /** The same, read. */
  async page(number: number): Promise<Page | null> {
    const written = await this.written(number);
    return written && (JSON.parse(written.toString()) as Page);
  }

  async close(): Promise<void> {
    if (this.isClosed) return;
    this.isClosed = true;
    await this.file.close();
    if (this.path !== null) await rm(this.path, { force: true });
  }
}
