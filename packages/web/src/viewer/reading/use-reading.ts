import type { PageForm, PageSizeFrom, PlaceInRun } from '@gaveta/core/internal';
import { type RefObject, useCallback, useEffect, useRef, useState } from 'react';
import { browserMemory } from '../../ui/memory.ts';
import { NARROW } from '../narrow.ts';
import { GAP, type ReadingMode, type Zoom, zoomIn, zoomStep } from './modes.ts';
import type { PagesHandle } from './page-rows.tsx';
import { type ReadingWay, rememberedReading, rememberReading } from './remembered-reading.ts';

/** Room under a page for the bar at the foot, in CSS pixels. */
const BAR = 52;

const TOP: PlaceInRun = { page: 1, y: 0 };

export interface Reading extends ReadingWay {
  /** The mode that pages stand in: one at a time while they are presented. */
  shownAs: ReadingMode;
  /** The zoom as a number. */
  scale: number;
  zoomAt: RefObject<{ x: number; y: number } | null>;
  /** The page that is read, 1-based. */
  page: number;
  setPage: (page: number) => void;
  handle: RefObject<PagesHandle | null>;
  /** Where reading begins when pages come up anew. */
  start: PlaceInRun;
  goTo: (place: PlaceInRun) => void;
  /** Goes so many pages on or back, as far as there are pages. */
  turn: (by: number, count: number) => void;
  setMode: (mode: ReadingMode) => void;
  /** `at`: the point of the window that stays where it is. */
  setZoom: (zoom: Zoom, at?: { x: number; y: number }) => void;
  zoomBy: (direction: 1 | -1) => void;
  isPresented: boolean;
  present: (on: boolean) => void;
  /** Takes up reading at a place, at a zoom. */
  resume: (place: PlaceInRun, zoom: Zoom) => void;
}

const paddingOf = (element: HTMLElement): { x: number; y: number } => {
  const style = getComputedStyle(element);
  return {
    x: Number.parseFloat(style.paddingLeft) + Number.parseFloat(style.paddingRight),
    y: Number.parseFloat(style.paddingTop),
  };
};

/** The mode and the zoom of the last time, and what changes them. */
export const useReadingWay = () => {
  const [way, setWay] = useState(() => rememberedReading(browserMemory(), matchMedia(NARROW).matches));
  const change = useCallback((next: Partial<ReadingWay>): void => {
    setWay((old) => {
      const now = { ...old, ...next };
      rememberReading(browserMemory(), now);
      return now;
    });
  }, []);
  const [isPresented, setPresented] = useState(false);
  /** Strips of a long page are for reading on; whoever presents shows pages. */
  const form: PageForm = way.mode === 'long' && !isPresented ? 'long' : 'pages';
  return { way, change, isPresented, setPresented, form };
};

/** How the pages in a window are read: their mode, size and place. */
export const useReading = (
  { way, change, isPresented, setPresented }: ReturnType<typeof useReadingWay>,
  scroller: RefObject<HTMLDivElement | null>,
  sizes: readonly PageSizeFrom[],
  /** Whether pages are there. */
  isShown: boolean,
): Reading => {
  const [page, setShown] = useState(1);
  /** The page that one goes to, before it is shown: who turns pages fast turns each of them. */
  const next = useRef(1);
  const setPage = useCallback((shown: number): void => {
    next.current = shown;
    setShown(shown);
  }, []);
  const [start, setStart] = useState(TOP);
  const [room, setRoom] = useState<{ width: number; height: number } | null>(null);
  const handle = useRef<PagesHandle | null>(null);
  const zoomAt = useRef<{ x: number; y: number } | null>(null);
  const foot = isPresented ? 0 : BAR;
  // biome-ignore lint/correctness/useExhaustiveDependencies: measured anew where pages come up
  useEffect(() => {
    const { current } = scroller;
    if (!current) return;
    const measure = (): void => {
      const padding = paddingOf(current);
      const width = current.clientWidth - padding.x;
      const height = current.clientHeight - padding.y - (isPresented ? 0 : GAP) - foot;
      setRoom((old) => (old?.width === width && old.height === height ? old : { width, height }));
    };
    const sizes = new ResizeObserver(measure);
    sizes.observe(current);
    measure();
    return () => sizes.disconnect();
  }, [scroller, foot, isPresented, isShown]);
  const here = useCallback((): void => {
    const place = handle.current?.place();
    if (place) setStart(place);
  }, []);
  const shownAs = isPresented ? 'single' : way.mode;
  const scale = zoomIn(isPresented ? 'page' : way.zoom, shownAs, sizes, page, room);
  const latest = useRef(scale);
  latest.current = scale;
  const present = useCallback(
    (on: boolean): void => {
      here();
      setPresented(on);
      // A frame whose host does not allow it fills its own room.
      if (on) document.documentElement.requestFullscreen?.().catch(() => {});
      else if (document.fullscreenElement) document.exitFullscreen().catch(() => {});
    },
    [here, setPresented],
  );
  useEffect(() => {
    const left = (): void => {
      if (document.fullscreenElement) return;
      here();
      setPresented(false);
    };
    document.addEventListener('fullscreenchange', left);
    return () => document.removeEventListener('fullscreenchange', left);
  }, [here, setPresented]);
  const setZoom = useCallback(
    (zoom: Zoom, at?: { x: number; y: number }): void => {
      zoomAt.current = at ?? null;
      change({ zoom });
    },
    [change],
  );
  const goTo = useCallback((place: PlaceInRun): void => {
    next.current = place.page;
    handle.current?.goTo(place);
  }, []);
  return {
    ...way,
    shownAs,
    scale,
    zoomAt,
    page,
    setPage,
    handle,
    start,
    goTo,
    turn: useCallback(
      (by, count) => {
        const to = next.current + by;
        if (to >= 1 && to <= count) goTo({ page: to, y: 0 });
      },
      [goTo],
    ),
    setMode: useCallback(
      (mode) => {
        here();
        change({ mode });
      },
      [here, change],
    ),
    setZoom,
    zoomBy: useCallback((direction) => setZoom(zoomStep(latest.current, direction)), [setZoom]),
    isPresented,
    present,
    resume: useCallback(
      (place, zoom) => {
        setStart(place);
        setZoom(zoom);
      },
      [setZoom],
    ),
  };
};
