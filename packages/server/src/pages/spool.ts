import type { LateFill, Mark, Page } from '@gaveta/core/internal';
import { NamelessFile } from '@gaveta/output/nameless-file';
import type { PageHeader, PageStore } from './page-store.ts';
import { type FoundOnPage, PageWords } from './page-words.ts';

export type { PageHeader };

/** A page as JSON that ends with its marks, so that more of them can be added to the bytes. */
export const writePage = ({ late: _, marks, ...page }: Page): Uint8Array =>
  Buffer.from(JSON.stringify({ ...page, marks }));

/** Bytes that are looked through at once, before others have their turn. */
const BLOCK = 1024 * 1024;

const endOf = ({ offset, length }: { offset: number; length: number }): number => offset + length;

/** Bytes that a written page ends with: of its list of marks, and of itself. */
const ENDING = ']}'.length;

/** Pages of a run, kept in a file so that memory holds only where each one starts. */
export class PageSpool implements PageStore {
  private readonly at: (PageHeader & { offset: number })[] = [];
  private readonly pictures = new Map<string, { offset: number; length: number }>();
  private traced: { offset: number; length: number } | null = null;
  private readonly late = new Map<number, readonly Mark[]>();

  private constructor(
    private readonly file: NamelessFile,
    private readonly words: PageWords,
  ) {}

  static async open(): Promise<PageSpool> {
    const file = await NamelessFile.open();
    try {
      return new PageSpool(file, await PageWords.open());
    } catch (error) {
      await file.close();
      throw error;
    }
  }

  get count(): number {
    return this.at.length;
  }

  async add(
    data: Uint8Array,
    words: Uint8Array,
    pages: readonly PageHeader[],
    pictures: readonly { hash: string; data: Uint8Array }[] = [],
  ): Promise<void> {
    for (const picture of pictures) {
      this.pictures.set(picture.hash, { offset: this.file.size, length: picture.data.length });
      await this.file.append(picture.data);
    }
    let offset = this.file.size;
    await this.file.append(data);
    await this.words.add(
      words,
      pages.map((page) => page.words),
    );
    for (const page of pages) {
      this.at.push({ ...page, offset });
      offset += page.length;
    }
  }

  find(sought: string): Promise<FoundOnPage[] | null> {
    return this.words.find(sought);
  }

  async pageWith(bytes: Uint8Array): Promise<number | null> {
    for (let first = 0; first < this.at.length; ) {
      const { offset } = this.at[first]!;
      let next = first + 1;
      // Pictures of pages lie between them.
      while (next < this.at.length && endOf(this.at[next]!) - offset <= BLOCK) next++;
      const data = await this.file.read(offset, endOf(this.at[next - 1]!) - offset);
      if (!data) return null;
      for (let at = data.indexOf(bytes); at >= 0; at = data.indexOf(bytes, at + 1)) {
        const page = this.at.slice(first, next).findIndex((one) => {
          const from = one.offset - offset;
          return at >= from && at + bytes.length <= from + one.length;
        });
        if (page >= 0) return first + page + 1;
      }
      first = next;
    }
    return null;
  }

  fill(late: Iterable<LateFill>): void {
    for (const { page, marks } of late) {
      this.late.set(page, marks);
      this.words.fill(page, marks);
    }
  }

  async page(number: number): Promise<Buffer | null> {
    const place = this.at[number - 1];
    const data = place && (await this.file.read(place.offset, place.length));
    if (!data) return null;
    const more = this.late.get(number);
    if (!more) return place.late ? Buffer.concat([data.subarray(0, -1), Buffer.from(',"late":true}')]) : data;
    if (more.length === 0) return data;
    const body = data.subarray(0, -ENDING);
    const isFirst = body.at(-1) === '['.charCodeAt(0);
    return Buffer.concat([body, Buffer.from(`${isFirst ? '' : ','}${JSON.stringify(more).slice(1)}}`)]);
  }

  async picture(hash: string): Promise<Buffer | null> {
    const place = this.pictures.get(hash);
    return place ? this.file.read(place.offset, place.length) : null;
  }

  async take(before: PageStore, count: number): Promise<void> {
    // Every store of a process is one of these.
    if (!(before instanceof PageSpool) || this.file.size > 0) throw new Error('pages can only be taken first');
    const last = before.at[count - 1];
    const end = last ? last.offset + last.length : 0;
    await this.file.copy(before.file, end);
    await this.words.take(before.words, count);
    this.at.push(...before.at.slice(0, count));
    for (const [hash, place] of before.pictures) if (place.offset + place.length <= end) this.pictures.set(hash, place);
  }

  async keepTrace(data: Uint8Array): Promise<void> {
    this.traced = { offset: this.file.size, length: data.length };
    await this.file.append(data);
  }

  async trace(): Promise<Buffer | null> {
    return this.traced && this.file.read(this.traced.offset, this.traced.length);
  }

  async close(): Promise<void> {
    await this.words.close();
    await this.file.close();
  }
}
