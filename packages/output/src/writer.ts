import type { LateFill, Page } from '@gaveta/core';

/** Writes laid-out pages to a file, one after another. Every fixed-layout output has this shape. */
export interface PageWriter {
  /** Takes the next page. Resolves when the writer is ready for more. */
  page(page: Page): Promise<void>;
  /** Takes what waited for the number of pages, and completes the file. */
  end(late: Iterable<LateFill>): Promise<void>;
  /** Lets go of everything, also when the file is not complete. */
  close(): Promise<void>;
}
