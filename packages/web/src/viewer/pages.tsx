import { type LinkTarget, type PageSizeFrom, type PlaceInRun, pageToSvg } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { type KeyboardEvent, type MouseEvent, type RefObject, useEffect, useLayoutEffect, useRef } from 'react';
import { FoundMarks } from './find/found-marks.tsx';
import type { Find } from './find/use-find.ts';
import { blockOf } from './page-blocks.ts';
import { sizeOfPage } from './page-sizes.ts';
import type { PagePictures } from './pictures.ts';
import { type Landing, type Looking, lookingAtFold } from './reading-place.ts';
import { useTips } from './tips.tsx';

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
  /** Where reading goes on, after something was opened or closed. */
  landing: Landing | null;
  onFold: (key: string, looking: Looking) => void;
  onPage: (page: number) => void;
  /** What is looked for, and the match that is shown. */
  find: Pick<Find, 'sought' | 'match' | 'goings' | 'isAway'>;
  /** A link to an anchor or another report was clicked; addresses open by themselves. */
  onLink: (to: Exclude<LinkTarget, { address: string }>) => void;
}

/** Continuous pages; only those near the window are in the document. */
export const Pages = (props: PagesProps) => {
  const { run, pictures, count, done, sizes, zoom, scroller, goTo, landing, onFold, onPage, onLink, find } = props;
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
  const placed = useRef<Landing | null>(null);
  const focused = useRef<string | null>(null);
  useLayoutEffect(() => {
    if (!landing || placed.current === landing) return;
    placed.current = landing;
    focused.current = landing.focus ?? null;
    const [start] = list.getOffsetForIndex(landing.place.page - 1, 'start') ?? [0];
    list.scrollToOffset(start + landing.place.y * PIXELS * zoom - landing.below);
  }, [landing, list, zoom]);
  // The keyboard stays on the sign, once its page is there.
  useEffect(() => {
    if (focused.current === null) return;
    const sign = scroller.current?.querySelector<SVGElement>(`[data-fold="${CSS.escape(focused.current)}"]`);
    if (!sign) return;
    focused.current = null;
    sign.focus({ preventScroll: true });
  });
  const press = (event: MouseEvent | KeyboardEvent): boolean => {
    const sign = event.target instanceof Element ? event.target.closest('[data-fold]') : null;
    if (!sign || !scroller.current) return false;
    event.preventDefault();
    onFold(sign.getAttribute('data-fold')!, lookingAtFold(scroller.current, sign, 'key' in event));
    return true;
  };
  const follow = (event: MouseEvent): void => {
    if (press(event)) return;
    const link = event.target instanceof Element ? event.target.closest('a[data-link]') : null;
    const to = link?.getAttribute('data-link');
    if (!to) return;
    event.preventDefault();
    onLink(JSON.parse(to) as Exclude<LinkTarget, { address: string }>);
  };
  useEffect(() => onPage(current), [current, onPage]);
  const tips = useTips();
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the links and signs inside are reached by keys
    <div
      className="relative mx-auto"
      style={{ height: list.getTotalSize(), width }}
      onClick={follow}
      {...tips.handlers}
      onKeyDown={(event) => (event.key === 'Enter' || event.key === ' ') && press(event)}
    >
      {tips.shown}
      {list.getVirtualItems().map(({ index, start }) => {
        const size = sizeOf(index);
        return (
          <div key={index} className="absolute" style={{ top: start, left: (width - size.width) / 2, ...size }}>
            <OnePage {...{ run, pictures, count, done, find }} number={index + 1} />
          </div>
        );
      })}
    </div>
  );
};

interface OnePageProps extends Pick<PagesProps, 'run' | 'pictures' | 'count' | 'done' | 'find'> {
  number: number;
}

const OnePage = ({ run, pictures, number, count, done, find }: OnePageProps) => {
  const paper = useRef<HTMLDivElement>(null);
  const block = useQuery({
    ...blockOf(run, number, { count, done, pictures }),
    // More pages of it, or what they waited for: until they are there, those that are stay.
    placeholderData: (old, before) => (before?.queryKey[1] === run ? old : undefined),
  });
  const page = block.data?.find((p) => p.number === number);
  return (
    <>
      <div
        ref={paper}
        className="page-paper size-full bg-white shadow-[0_1px_0_#cfc6b1,0_8px_24px_#5a4d2c1f]"
        data-page={number}
        // The text of every mark is escaped by pageToSvg.
        // biome-ignore lint/security/noDangerouslySetInnerHtml: see above
        dangerouslySetInnerHTML={{ __html: page ? pageToSvg(page, pictures.address) : '' }}
      />
      {page && find.sought !== null && (
        <FoundMarks
          page={page}
          paper={paper}
          sought={find.sought}
          match={find.match?.page === number ? find.match : null}
          goings={find.goings}
          isAway={find.isAway}
        />
      )}
    </>
  );
};
