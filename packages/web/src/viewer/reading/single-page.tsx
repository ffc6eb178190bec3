import type { PlaceInRun } from '@gaveta/core/internal';
import { useEffect, useImperativeHandle, useLayoutEffect, useRef, useState } from 'react';
import { GAP, PIXELS } from './modes.ts';
import { OnePage } from './one-page.tsx';
import { type PagesProps, useFocusOnSign } from './page-rows.tsx';
import { sizeOfPage } from './page-sizes.ts';
import { useTips } from './tips.tsx';
import { usePagePresses } from './use-page-presses.ts';

/** One page at a time, and beside it nothing. */
export const SinglePage = (props: PagesProps & { around?: number }) => {
  const {
    around = GAP,
    count,
    sizes,
    zoom,
    scroller,
    handle,
    start,
    landing,
    onPage,
    run,
    pictures,
    done,
    find,
  } = props;
  const [wanted, setWanted] = useState(start);
  const page = Math.min(count, wanted.page);
  const size = sizeOfPage(sizes, page);
  const show = (place: PlaceInRun): void => setWanted({ ...place });
  useImperativeHandle(handle, () => ({
    goTo: show,
    place: () => ({ page, y: Math.max(0, (scroller.current?.scrollTop ?? 0) - around) / (PIXELS * zoom) }),
  }));
  const latest = useRef(zoom);
  latest.current = zoom;
  useLayoutEffect(() => {
    scroller.current?.scrollTo(0, wanted.y === 0 ? 0 : wanted.y * PIXELS * latest.current);
  }, [wanted, scroller]);
  const placed = useRef<PagesProps['landing']>(null);
  useLayoutEffect(() => {
    if (!landing || placed.current === landing) return;
    placed.current = landing;
    const { place, below } = landing;
    setWanted({ page: place.page, y: Math.max(0, place.y - (below - GAP) / (PIXELS * latest.current)) });
  }, [landing]);
  useFocusOnSign(scroller, landing);
  useEffect(() => onPage(page), [page, onPage]);
  const presses = usePagePresses(scroller, props);
  const tips = useTips(props.said);
  const box = { width: size.width * PIXELS * zoom, height: size.height * PIXELS * zoom };
  return (
    <div className="relative mx-auto" style={{ ...box, marginTop: around }} {...presses} {...tips.handlers}>
      {tips.shown}
      <OnePage key={page} {...{ run, pictures, count, done, find }} number={page} />
    </div>
  );
};
