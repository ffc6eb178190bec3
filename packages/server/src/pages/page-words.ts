import { type Page, plainWords, wordsOfPage } from '@gaveta/core/internal';
import { NamelessFile } from '@gaveta/output/nameless-file';

/** Bytes that are looked through at once, before others have their turn. */
const BLOCK = 1024 * 1024;

/** Stands between pages, and in no words, so that nothing is found across two pages. */
const END = Buffer.from('\n');
const SPACE = Buffer.from(' ');

/** The words of a page as they are looked for, with what ends them. */
export const writeWords = (page: Pick<Page, 'marks'>): Uint8Array => Buffer.from(`${wordsOfPage(page)}\n`);

/** How often words stand on a page: its 1-based number, and how many there are. */
export type FoundOnPage = [page: number, count: number];

/**
 * The words of a run's pages, in a file: what is looked for is found in its bytes, so that memory holds only where each page
 * ends. UTF-8 finds in bytes what there is in signs.
 */
export class PageWords {
  /** Where the words of each page end in the file. */
  private readonly ends: number[] = [];
  private readonly late = new Map<number, Buffer>();

  private constructor(private readonly file: NamelessFile) {}

  static async open(): Promise<PageWords> {
    return new PageWords(await NamelessFile.open());
  }

  /** Words of pages as `writeWords` wrote them, behind one another, and how many bytes each page has. */
  async add(data: Uint8Array, lengths: readonly number[]): Promise<void> {
    let end = this.file.size;
    await this.file.append(data);
    for (const length of lengths) {
      end += length;
      this.ends.push(end);
    }
  }

  /** What came to a page, 1-based, when the number of pages was known. */
  fill(page: number, marks: Page['marks']): void {
    const words = wordsOfPage({ marks });
    if (words !== '') this.late.set(page, Buffer.from(words));
  }

  /** Takes the words of the first `count` pages of another run. Comes first. */
  async take(before: PageWords, count: number): Promise<void> {
    const ends = before.ends.slice(0, count);
    await this.file.copy(before.file, ends.at(-1) ?? 0);
    this.ends.push(...ends);
  }

  /** The pages on which words stand, and how often; null once the words are gone. */
  async find(sought: string): Promise<FoundOnPage[] | null> {
    const wanted = Buffer.from(plainWords(sought).trim());
    const found: FoundOnPage[] = [];
    if (wanted.length === 0) return found;
    for (let first = 0; first < this.ends.length; ) {
      const start = this.ends[first - 1] ?? 0;
      let next = first + 1;
      while (next < this.ends.length && this.ends[next]! - start <= BLOCK) next++;
      const data = await this.file.read(start, this.ends[next - 1]! - start);
      if (!data) return null;
      for (let page = first; page < next; page++) {
        const words = data.subarray((this.ends[page - 1] ?? 0) - start, this.ends[page]! - start - END.length);
        const count = occurrences(this.whole(page + 1, words), wanted);
        if (count > 0) found.push([page + 1, count]);
      }
      first = next;
    }
    return found;
  }

  /** Words of a page, with those that came late. */
  private whole(page: number, words: Buffer): Buffer {
    const late = this.late.get(page);
    if (!late) return words;
    return words.length === 0 ? late : Buffer.concat([words, SPACE, late]);
  }

  close(): Promise<void> {
    return this.file.close();
  }
}

const occurrences = (words: Buffer, wanted: Buffer): number => {
  let count = 0;
  for (let at = words.indexOf(wanted); at >= 0; at = words.indexOf(wanted, at + wanted.length)) count++;
  return count;
};
