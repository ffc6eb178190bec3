import type { Page } from '@gaveta/core/internal';
import { useEffect, useState } from 'react';
import { api } from '../api/client.ts';

/**
 * The pictures of the pages that are looked at, each fetched once. Pages name them by their hashes; an address of the
 * server's would not do, since browsers send no token with it.
 */
export class PagePictures {
  private readonly asked = new Map<string, Promise<void>>();
  private readonly addresses = new Map<string, string>();

  constructor(private readonly fetchPicture: (hash: string) => Promise<Blob> = api.picture) {}

  /** Fetches what the pages show and is not there yet. One that cannot be had is left out. */
  async load(pages: readonly Page[]): Promise<void> {
    const wanted = pages.flatMap(({ marks }) =>
      marks.flatMap((mark) => (mark.kind === 'picture' ? [mark.picture] : [])),
    );
    await Promise.all([...new Set(wanted)].map((hash) => this.one(hash)));
  }

  private one(hash: string): Promise<void> {
    let asked = this.asked.get(hash);
    if (!asked) {
      asked = this.fetchPicture(hash).then(
        (blob) => void this.addresses.set(hash, URL.createObjectURL(blob)),
        // The next page that shows it asks again.
        () => void this.asked.delete(hash),
      );
      this.asked.set(hash, asked);
    }
    return asked;
  }

  /** Where a picture that was loaded is found; an address of nothing for any other. */
  readonly address = (hash: string): string => this.addresses.get(hash) ?? 'data:,';

  close(): void {
    for (const address of this.addresses.values()) URL.revokeObjectURL(address);
    this.addresses.clear();
    this.asked.clear();
  }
}

export const usePagePictures = (): PagePictures => {
  const [pictures] = useState(() => new PagePictures());
  useEffect(() => () => pictures.close(), [pictures]);
  return pictures;
};
