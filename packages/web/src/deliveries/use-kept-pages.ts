import type { Page } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { deliveries } from '../api/deliveries.ts';
import { usePagePictures } from '../viewer/pictures.ts';

/** Pages that are asked for at once. */
const AT_ONCE = 20;

/** Pages of a kept result from the first one on, with their pictures. */
export const useKeptPages = (id: string, count: number) => {
  const pictures = usePagePictures();
  const pages = useQuery({
    queryKey: ['kept-pages', id, count],
    queryFn: async () => {
      const all: Page[] = [];
      for (let from = 1; from <= count; from += AT_ONCE)
        all.push(...(await deliveries.keptPages(id, from, Math.min(AT_ONCE, count - from + 1))));
      await pictures.load(all);
      return all;
    },
    enabled: count > 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
  return { pages: pages.data ?? null, error: pages.error, addressOf: pictures.address };
};
