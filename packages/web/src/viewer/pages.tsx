import { pageToSvg } from '@gaveta/core';
import { useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type RefObject, useEffect } from 'react';
import { api } from '../api/client.ts';

const BLOCK = 5;
const GAP = 18;

/** Points to CSS pixels at 100%. */
const PIXELS = 96 / 72;

interface PagesProps {
  run: string;
  count: number;
  done: boolean;
  /** Size of a page in points. */
  size: { width: number; height: number };
  zoom: number;
  scroller: RefObject<HTMLDivElement | null>;
  goTo: RefObject<(page: number) => void>;
  onPage: (page: number) => void;
}

/** Continuous pages; only those near the window are in the document. */
export const Pages = ({ run, count, done, size, zoom, scroller, goTo, onPage }: PagesProps) => {
  const height = size.height * PIXELS * zoom;
  const width = size.width * PIXELS * zoom;
  const list = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => height + GAP,
    overscan: 1,
    paddingStart: GAP,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: sizes must be taken anew when the zoom changes
  useEffect(() => list.measure(), [height]);
  goTo.current = (page) => list.scrollToIndex(page - 1, { align: 'start' });
  const offset = list.scrollOffset ?? 0;
  const current = Math.min(count, Math.max(1, Math.floor((offset + (height + GAP) / 3) / (height + GAP)) + 1));
  useEffect(() => onPage(current), [current, onPage]);
  return (
    <div className="relative mx-auto" style={{ height: list.getTotalSize(), width }}>
      {list.getVirtualItems().map(({ index, start }) => (
        <div key={index} className="absolute left-0" style={{ top: start, width, height }}>
          <OnePage run={run} number={index + 1} done={done} />
        </div>
      ))}
    </div>
  );
};

const OnePage = ({ run, number, done }: { run: string; number: number; done: boolean }) => {
  const from = Math.floor((number - 1) / BLOCK) * BLOCK + 1;
  // What waits for the number of pages is there only when the run is done, so pages are read again then.
  const block = useQuery({
    queryKey: ['pages', run, from, done],
    queryFn: () => api.pages(run, from, BLOCK),
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
      dangerouslySetInnerHTML={{ __html: page ? pageToSvg(page) : '' }}
    />
  );
};
