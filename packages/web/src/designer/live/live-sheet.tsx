import { pageSize, type SvgPage } from '@gaveta/core/internal';
import { memo, type ReactNode, useEffect, useLayoutEffect, useRef, useState } from 'react';
import { showPage } from '../../live/patch.ts';
import { useLiveState } from './live-state.ts';

/** How long nothing was edited before pages out of sight follow, in milliseconds. */
const LAG = 500;

/** CSS pixels for a point at real size. */
const REAL_SIZE = 96 / 72;

/** Pages out of sight that are to be shown anew: one at a time, so that no edit waits for many. */
const lateQueue = new Set<() => void>();

const pump = (): void => {
  requestIdleCallback(
    () => {
      const [next] = lateQueue;
      if (!next) return;
      lateQueue.delete(next);
      next();
      if (lateQueue.size > 0) pump();
    },
    { timeout: LAG },
  );
};

let quiet: ReturnType<typeof setTimeout> | undefined;

const showLater = (show: () => void): void => {
  lateQueue.add(show);
  clearTimeout(quiet);
  quiet = setTimeout(pump, LAG);
};

interface Props {
  page: SvgPage;
  /** From 1. */
  number: number;
  /** What lies over it while it is in sight. */
  over: ((page: SvgPage, number: number) => ReactNode) | null;
}

/** One page. In sight it follows at once; out of sight when there is nothing else to do. */
export const LiveSheet = memo(({ page, number, over }: Props) => {
  const frame = useRef<HTMLDivElement>(null);
  const sheet = useRef<HTMLDivElement>(null);
  const [inSight, setInSight] = useState(number <= 2);
  const zoom = useLiveState((s) => s.zoom);
  useEffect(() => {
    const watch = new IntersectionObserver(([entry]) => setInSight(entry!.isIntersecting), {
      root: frame.current!.parentElement,
      rootMargin: '200px',
    });
    watch.observe(frame.current!);
    return () => watch.disconnect();
  }, []);
  useLayoutEffect(() => {
    const show = (): void => showPage(sheet.current!, page);
    if (inSight) {
      show();
      return;
    }
    showLater(show);
    return () => {
      lateQueue.delete(show);
    };
  }, [page, inSight]);
  const { width } = pageSize(page);
  useLayoutEffect(() => {
    if (number !== 1) return;
    const watch = new ResizeObserver(([entry]) =>
      useLiveState.setState({ shownZoom: entry!.contentRect.width / (width * REAL_SIZE) }),
    );
    watch.observe(frame.current!);
    return () => watch.disconnect();
  }, [number, width]);
  return (
    <div
      ref={frame}
      className={`relative mx-auto mb-2.5 bg-white shadow-[0_1px_0_#cfc6b1,0_6px_18px_#5a4d2c24] [&_svg]:block ${zoom === 'fit' ? 'max-w-[1100px]' : ''}`}
      data-live-page={number}
      // Pages out of sight cost nothing.
      style={{
        contentVisibility: 'auto',
        containIntrinsicSize: 'auto 500px',
        width: zoom === 'fit' ? undefined : width * REAL_SIZE * zoom,
      }}
    >
      {/* Each drawn for itself, so that what moves over a page does not draw the page anew. */}
      <div ref={sheet} className="isolate [&>svg]:h-auto [&>svg]:w-full" />
      {inSight && over?.(page, number)}
    </div>
  );
});
