import type { RunState } from '../../api/client.ts';
import { api } from '../../api/client.ts';
import type { PagePictures } from '../pictures.ts';

/** Pages that are fetched together. */
const BLOCK = 5;

/** The query of the block with a page, 1-based; `count`: pages that are there, `done`: nothing of them is still to come. */
export const blockOf = (
  run: string,
  page: number,
  { count, done, pictures }: { count: number; done: boolean; pictures: PagePictures },
) => {
  const from = Math.floor((page - 1) / BLOCK) * BLOCK + 1;
  const there = Math.min(BLOCK, count - from + 1);
  return {
    // What waits for the number of pages is there only when the run is done, so pages are read again then.
    queryKey: ['pages', run, from, there, done],
    queryFn: async () => {
      const pages = await api.pages(run, from, BLOCK);
      await pictures.load(pages);
      return pages;
    },
    staleTime: Number.POSITIVE_INFINITY,
    // Who leafs through thousands of pages holds those around the one that is read; others come again in milliseconds.
    gcTime: 5000,
  };
};

/** The queries of the blocks with a page and those beside it. */
export const blocksAround = ({ id, pages: count, status }: RunState, page: number, pictures: PagePictures) => {
  const given = { count, done: status === 'done', pictures };
  const near = [page - 1, page, page + 1].filter((one) => one >= 1 && one <= count);
  const blocks = near.map((one) => blockOf(id, one, given));
  return blocks.filter((block, i) => i === 0 || block.queryKey[2] !== blocks[i - 1]!.queryKey[2]);
};
