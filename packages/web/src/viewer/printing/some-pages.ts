import type { Page } from '@gaveta/core/internal';
import { api } from '../../api/client.ts';

/** The server gives no more at once. */
const AT_ONCE = 20;

/** Pages of a run by their 1-based numbers, which ascend: those that follow one another are fetched together. */
export async function* somePages(
  run: string,
  numbers: readonly number[],
  fetchPages: typeof api.pages = api.pages,
): AsyncGenerator<{ page: Page; number: number }> {
  for (let i = 0; i < numbers.length; ) {
    const first = numbers[i]!;
    let count = 1;
    while (count < AT_ONCE && numbers[i + count] === first + count) count++;
    const block = await fetchPages(run, first, count);
    // They are gone, or there are fewer than was said.
    if (block.length === 0) return;
    for (const [place, page] of block.entries()) yield { page, number: first + place };
    i += count;
  }
}
