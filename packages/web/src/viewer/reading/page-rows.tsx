import type { PageSizeFrom, PlaceInRun } from '@gaveta/core/internal';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type RefObject, useEffect, useImperativeHandle, useLayoutEffect, useRef } from 'react';
import { GAP, PIXELS, pagesOf, perRow, type ReadingMode, rowCount, rowOf, rowSize, widestRow } from './modes.ts';
import { OnePage, type ShownRun } from './one-page.tsx';
import { sizeOfPage } from './page-sizes.ts';
import type { Landing } from './reading-place.ts';
import { useTips } from './tips.tsx';
import { type PagePresses, usePagePresses } from './use-page-presses.ts';

/** What pages can be asked for by those around them. */
export interface PagesHandle {
  /** Brings a place to the top of the window. */
  goTo: (place: PlaceInRun) => void;
  /** What is at the top of the window. */
  place: () => PlaceInRun;
}

export interface PagesProps extends ShownRun, PagePresses {
  mode: ReadingMode;
  /** Sizes of the pages that are known, in points. */
  sizes: readonly PageSizeFrom[];
  zoom: number;
  /** Point of the window, in CSS pixels from its corner, that stays where it is when the zoom changes; null: in its upper third. */
  zoomAt: RefObject<{ x: number; y: number } | null>;
  scroller: RefObject<HTMLDivElement | null>;
  handle: RefObject<PagesHandle | null>;
  /** Where reading begins. */
  start: PlaceInRun;
  /** Where reading goes on, after something was opened or closed. */
  landing: Landing | null;
  onPage: (page: number) => void;
  /** What is wrong with items, by their ids. */
  said: ReadonlyMap<string, string>;
}

/** The keyboard stays on the sign of what was opened or closed, once its page is there. */
export const useFocusOnSign = (scroller: RefObject<HTMLElement | null>, landing: Landing | null): void => {
  const focused = useRef<string | null>(null);
  const seen = useRef<Landing | null>(null);
  useEffect(() => {
    if (landing && seen.current !== landing) {
      seen.current = landing;
      focused.current = landing.focus ?? null;
    }
    if (focused.current === null) return;
    const sign = scroller.current?.querySelector<SVGElement>(`[data-fold="${CSS.escape(focused.current)}"]`);
    if (!sign) return;
    focused.current = null;
    sign.focus({ preventScroll: true });
  });
};

/** Pages in rows one below the other; only those near the window are in the document. */
export const PageRows = (props: PagesProps) => {
  const { mode, count, sizes, zoom, zoomAt, scroller, handle, start, landing, onPage } = props;
  const { run, pictures, done, find } = props;
  const gap = mode === 'long' ? 0 : GAP;
  const rowAt = (index: number) => rowSize(pagesOf(mode, index, count), sizes, zoom);
  const width = widestRow(mode, sizes, zoom);
  const list = useVirtualizer({
    count: rowCount(mode, count),
    getScrollElement: () => scroller.current,
    estimateSize: (index) => rowAt(index).height + gap,
    overscan: 1,
    paddingStart: GAP,
  });
  const topOf = (page: number): number => list.measurementsCache[rowOf(mode, page)]?.start ?? 0;
  const pageAt = (offset: number): number =>
    Math.min(count, (list.getVirtualItemForOffset(offset)?.index ?? 0) * perRow(mode) + 1);

  useImperativeHandle(handle, () => ({
    goTo: ({ page, y }) => list.scrollToOffset(Math.max(0, topOf(page) + y * PIXELS * zoom - GAP)),
    place: () => {
      const offset = (list.scrollOffset ?? 0) + GAP;
      // A window scrolls by whole pixels, which may fall short of where a page begins.
      const page = pageAt(offset + 1);
      const y = (offset - topOf(page)) / (PIXELS * zoom);
      return { page, y: Math.max(0, Math.min(sizeOfPage(sizes, page).height, y)) };
    },
  }));

  // What was looked at stays where it is when pages get larger or smaller.
  const kept = useRef<{ page: number; inside: number; x: number; y: number; across: number } | null>(null);
  const laid = useRef({ zoom, width });
  const key = `${sizes.length} ${zoom}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: sizes must be taken anew when the zoom changes
  useLayoutEffect(() => {
    const { current } = scroller;
    const before = laid.current;
    laid.current = { zoom, width };
    if (current && before.zoom !== zoom) {
      const { x, y } = zoomAt.current ?? { x: current.clientWidth / 2, y: current.clientHeight / 3 };
      const offset = current.scrollTop + y;
      const page = pageAt(offset);
      const across = (current.scrollLeft + x) / Math.max(before.width, current.clientWidth);
      kept.current = { page, inside: (offset - topOf(page)) / before.zoom, x, y, across };
    }
    list.measure();
  }, [key]);
  useLayoutEffect(() => {
    const { current } = scroller;
    if (!kept.current || !current || laid.current.zoom !== zoom) return;
    const { page, inside, x, y, across } = kept.current;
    kept.current = null;
    current.scrollTop = topOf(page) + inside * zoom - y;
    current.scrollLeft = across * Math.max(width, current.clientWidth) - x;
  });

  const begun = useRef(false);
  useLayoutEffect(() => {
    if (begun.current || (start.page === 1 && start.y === 0)) return;
    // Until as many pages are there.
    if (count < start.page) return;
    begun.current = true;
    handle.current?.goTo(start);
  }, [start, count, handle]);
  const placed = useRef<Landing | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each landing
  useLayoutEffect(() => {
    if (!landing || placed.current === landing) return;
    placed.current = landing;
    list.scrollToOffset(topOf(landing.place.page) + landing.place.y * PIXELS * zoom - landing.below);
  }, [landing, list, zoom]);
  useFocusOnSign(scroller, landing);

  const height = scroller.current?.clientHeight ?? 0;
  const first = pageAt((list.scrollOffset ?? 0) + height / 3);
  // Of pages at the end that are all in sight, the last one is read.
  const isAtEnd = height > 0 && (list.scrollOffset ?? 0) + height >= list.getTotalSize() - 1;
  const current = isAtEnd && mode === 'two' ? count : Math.max(1, first);
  useEffect(() => onPage(current), [current, onPage]);
  const presses = usePagePresses(scroller, props);
  const tips = useTips(props.said);
  return (
    <div className="relative mx-auto" style={{ height: list.getTotalSize(), width }} {...presses} {...tips.handlers}>
      {tips.shown}
      {list.getVirtualItems().map(({ index, start: top }) => {
        const pages = pagesOf(mode, index, count);
        const row = rowSize(pages, sizes, zoom);
        const left = mode === 'two' ? 0 : (width - row.width) / 2;
        return (
          <div key={index} className="absolute flex" style={{ top, insetInlineStart: left, ...row, gap: GAP }}>
            {pages.map((number) => {
              const size = sizeOfPage(sizes, number);
              const box = { width: size.width * PIXELS * zoom, height: size.height * PIXELS * zoom };
              return (
                <div key={number} className="relative flex-none" style={box}>
                  <OnePage {...{ run, pictures, count, done, find }} number={number} isStrip={mode === 'long'} />
                </div>
              );
            })}
          </div>
        );
      })}
    </div>
  );
};
