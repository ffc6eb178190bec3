import type { LateFill, Page, PagePicture } from '@gaveta/core/internal';

/** Gives the file of a picture by the hash that marks know it by: a PNG or JPEG. Null where there is none. */
export type PictureFiles = (hash: string) => Promise<Uint8Array | null>;

/** The bytes of a picture that stands in a `data:` address. */
export const pictureFile = ({ source }: PagePicture): Uint8Array =>
  Buffer.from(source.slice(source.indexOf(',') + 1), 'base64');

/** Writes laid-out pages to a file, one after another. Every fixed-layout output has this shape. */
export interface PageWriter {
  /** Takes the next page. Resolves when the writer is ready for more. */
  page(page: Page): Promise<void>;
  /** Takes what waited for the number of pages, and completes the file. */
  end(late: Iterable<LateFill>): Promise<void>;
  /** Lets go of everything, also when the file is not complete. */
  close(): Promise<void>;
}
