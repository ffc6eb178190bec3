import type { Page, PictureAddress } from '@gaveta/core/internal';
import type { PictureFiles } from './writer.ts';

/** First byte of a PNG (its specification, section 5.2). */
const PNG = 0x89;

/** Bytes of pictures that are kept for the pages that follow. */
const MOST_KEPT = 64 * 1024 * 1024;

/** Pictures as `data:` addresses, for pages that hold what they show themselves. */
export class PagePictures {
  private readonly kept = new Map<string, string>();
  private size = 0;

  constructor(private readonly files: PictureFiles) {}

  /** The addresses of a page’s pictures; an empty one where there is none. */
  async of(page: Page): Promise<PictureAddress> {
    const found = new Map<string, string>();
    for (const mark of page.marks)
      if (mark.kind === 'picture' && !found.has(mark.picture))
        found.set(mark.picture, this.kept.get(mark.picture) ?? (await this.read(mark.picture)));
    return (hash) => found.get(hash) ?? '';
  }

  private async read(hash: string): Promise<string> {
    const bytes = await this.files(hash);
    const address = bytes
      ? `data:image/${bytes[0] === PNG ? 'png' : 'jpeg'};base64,${Buffer.from(bytes).toString('base64')}`
      : '';
    this.size += address.length;
    if (this.size <= MOST_KEPT) this.kept.set(hash, address);
    return address;
  }
}
