import { type LinkTarget, type PageSizeFrom, type PlaceInRun, pageToSvg } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type MouseEvent, type RefObject, useEffect } from 'react';
import { api } from '../api/client.ts';
import { sizeOfPage } from './page-sizes.ts';
import type { PagePictures } from './pictures.ts';

const BLOCK = 5;
const GAP = 18;

/** Points to CSS pixels at 100%. */
const PIXELS = 96 / 72;

interface PagesProps {
  run: string;
  pictures: PagePictures;
  count: number;
  done: boolean;
  /** Sizes of the pages that are known, in points. */
  sizes: readonly PageSizeFrom[];
  zoom: number;
  scroller: RefObject<HTMLDivElement | null>;
  goTo: RefObject<(place: PlaceInRun) => void>;
  onPage: (page: number) => void;
  /** A link to an anchor or another report was clicked; addresses open by themselves. */
  onLink: (to: Exclude<LinkTarget, { address: string }>) => void;
}

/** Continuous pages; only those near the window are in the document. */
export const Pages = ({ run, pictures, count, done, sizes, zoom, scroller, goTo, onPage, onLink }: PagesProps) => {
  const sizeOf = (index: number): { width: number; height: number } => {
    const { width, height } = sizeOfPage(sizes, index + 1);
    return { width: width * PIXELS * zoom, height: height * PIXELS * zoom };
  };
  const key = `${sizes.length} ${zoom}`;
  const width = Math.max(...sizes.map((size) => size.width)) * PIXELS * zoom;
  const list = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => sizeOf(index).height + GAP,
    overscan: 1,
    paddingStart: GAP,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: sizes must be taken anew when the zoom changes
  useEffect(() => list.measure(), [key]);
  goTo.current = ({ page, y }) => {
    const [start] = list.getOffsetForIndex(page - 1, 'start') ?? [0];
    list.scrollToOffset(Math.max(0, start + y * PIXELS * zoom - GAP));
  };
  const shown = list.getVirtualItemForOffset((list.scrollOffset ?? 0) + (scroller.current?.clientHeight ?? 0) / 3);
  const current = Math.min(count, Math.max(1, (shown?.index ?? 0) + 1));
  const follow = (event: MouseEvent): void => {
    const link = event.target instanceof Element ? event.target.closest('a[data-link]') : null;
    const to = link?.getAttribute('data-link');
    if (!to) return;
    event.preventDefault();
    onLink(JSON.parse(to) as Exclude<LinkTarget, { address: string }>);
  };
  useEffect(() => onPage(current), [current, onPage]);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the links inside are reached by keys, and click when followed
    // biome-ignore lint/a11y/useKeyWithClickEvents: see above
    <div className="relative mx-auto" style={{ height: list.getTotalSize(), width }} onClick={follow}>
      {list.getVirtualItems().map(({ index, start }) => {
        const size = sizeOf(index);
        return (
          <div key={index} className="absolute" style={{ top: start, left: (width - size.width) / 2, ...size }}>
            <OnePage run={run} pictures={pictures} number={index + 1} done={done} />
          </div>
        );
      })}
    </div>
  );
};

interface OnePageProps extends Pick<PagesProps, 'run' | 'pictures' | 'done'> {
  number: number;
}

const OnePage = ({ run, pictures, number, done }: OnePageProps) => {
  const from = Math.floor((number - 1) / BLOCK) * BLOCK + 1;
  // What waits for the number of pages is there only when the run is done, so pages are read again then.
  const block = useQuery({
    queryKey: ['pages', run, from, done],
    queryFn: async () => {
      const pages = await api.pages(run, from, BLOCK);
      await pictures.load(pages);
      return pages;
    },
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 60_000,
  });
  const page = block.data?.find((p) => p.number === number);
  return (
    <div
      className="page-paper size-full bg-white shadow-[0_1px_0_#cfc6b1,0_8px_24px_#5a4d2c1f]"
      data-page={number}
      // The text of every mark is escaped by pageToSvg.
      // biome-ignore lint/security/noDangerouslySetInnerHtml: see above
      dangerouslySetInnerHTML={{ __html: page ? pageToSvg(page, pictures.address) : '' }}
    />
  );
};
