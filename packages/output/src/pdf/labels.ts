import type { Page } from '@gaveta/core/internal';

/** Numbers of pages as they are printed on them, which readers show and go to. */
export class PageLabels {
  private count = 0;
  private next = 1;
  /** Where a number does not follow the one before: the page’s place in the file, from 0, and its number. */
  private readonly starts: { place: number; number: number }[] = [];

  page({ number, partNumber }: Pick<Page, 'number' | 'partNumber'>): void {
    const shown = partNumber ?? number;
    if (shown !== this.next) this.starts.push({ place: this.count, number: shown });
    this.next = shown + 1;
    this.count++;
  }

  /** The tree of labels (ISO 32000-1, 12.4.2); null where pages are counted from 1 as they stand. */
  get tree(): { Nums: unknown[] } | null {
    const { starts } = this;
    if (starts.length === 0) return null;
    const all = starts[0]!.place === 0 ? starts : [{ place: 0, number: 1 }, ...starts];
    return { Nums: all.flatMap(({ place, number }) => [place, { S: 'D', St: number }]) };
  }
}
