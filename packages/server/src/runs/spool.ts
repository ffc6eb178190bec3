import { randomUUID } from 'node:crypto';
import { type FileHandle, open, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { LateFill, Mark, Page } from '@gaveta/core';

/** Pages of a run, kept in a file so that memory holds only where each one starts. */
export class PageSpool {
  private readonly at: { offset: number; length: number }[] = [];
  private readonly late = new Map<number, Mark[]>();
  private size = 0;

  private constructor(
    private readonly file: FileHandle,
    private readonly path: string,
  ) {}

  static async open(): Promise<PageSpool> {
    const path = join(tmpdir(), `gaveta-run-${randomUUID()}`);
    return new PageSpool(await open(path, 'wx+', 0o600), path);
  }

  get count(): number {
    return this.at.length;
  }

  async add(page: Page): Promise<void> {
    const data = Buffer.from(JSON.stringify(page));
    await this.file.write(data, 0, data.length, this.size);
    this.at.push({ offset: this.size, length: data.length });
    this.size += data.length;
  }

  fill(late: Iterable<LateFill>): void {
    for (const { page, marks } of late) this.late.set(page, marks);
  }

  /** 1-based; null when there is no such page. What waited for the number of pages is on it once that is known. */
  async page(number: number): Promise<Page | null> {
    const place = this.at[number - 1];
    if (!place) return null;
    const data = Buffer.alloc(place.length);
    await this.file.read(data, 0, place.length, place.offset);
    const { late, ...page } = JSON.parse(data.toString()) as Page;
    const more = this.late.get(number);
    return more ? { ...page, marks: [...page.marks, ...more] } : late ? { ...page, late } : page;
  }

  async close(): Promise<void> {
    await this.file.close();
    await rm(this.path, { force: true });
  }
}
