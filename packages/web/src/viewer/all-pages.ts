import type { Page } from '@gaveta/core/internal';
import { api } from '../api/client.ts';

/** The server gives no more at once. */
const AT_ONCE = 20;

/** All pages of a run, from the first, as many at a time as the server gives. */
export async function* allPages(
  run: string,
  count: number,
  fetchPages: typeof api.pages = api.pages,
): AsyncGenerator<{ page: Page; number: number }> {
  for (let next = 1; next <= count; ) {
    const block = await fetchPages(run, next, AT_ONCE);
    // They are gone, or there are fewer than was said.
    if (block.length === 0) return;
    for (const page of block) yield { page, number: next++ };
  }
}
