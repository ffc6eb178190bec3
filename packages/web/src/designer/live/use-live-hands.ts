import {
  allBands,
  type Edit,
  findItem,
  type LaidBand,
  laidItemsAt,
  nearestInstances,
  placesIn,
  type Report,
  reachedBands,
} from '@gaveta/core/internal';
import { type KeyboardEvent, type MouseEvent, type PointerEvent, useCallback, useEffect, useMemo, useRef } from 'react';
import { useStore } from 'zustand';
import { useTranslation } from '../../i18n/use-translation.ts';
import type { Live } from '../../live/use-live.ts';
import { editHere } from '../board/edit-here.ts';
import { type Handle, type HandReach, pressBoard, pressGrip, pressHandle, pressItem } from '../board/hand.ts';
import { pressKey } from '../board/keys.ts';
import { useGesture } from '../design/gesture.ts';
import { useDesigner } from '../design/state.ts';
import { holds, noticePointer, showSurface } from '../design/surfaces.ts';
import { itemLabel } from '../design/words.ts';
import { type Instance, isSame, useLiveState } from './live-state.ts';
import {
  bandsOn,
  type LivePoint,
  livePointAt,
  liveSheet,
  liveSurface,
  pageOfSurface,
  type Shown,
  surfaceOf,
} from './live-surface.ts';

/** How near to the lower edge of a band a press takes hold of it, in CSS pixels. */
const EDGE = 4;

/** Room for grips left of a band, in CSS pixels. */
const GRIP_ROOM = 26;

/** What a hand does on the live page, where its pages lie. */
export interface LiveHands {
  /** What scrolls. */
  outer: React.RefObject<HTMLDivElement | null>;
  onPointerDown: (event: PointerEvent) => void;
  onPointerMove: (event: PointerEvent) => void;
  onPointerLeave: () => void;
  onDoubleClick: (event: MouseEvent) => void;
  onKeyDown: (event: KeyboardEvent) => void;
  /** For what lies over a page: its handles and grips. */
  onHandle: (event: PointerEvent, handle: Handle, page: number, band: LaidBand) => void;
  onGrip: (event: PointerEvent, page: number, band: LaidBand) => void;
}

const instanceOf = (page: number, { key, rows }: LaidBand): Instance => ({ page, band: key, rows });

/** The band whose lower edge is near a point; null where none is. */
const edgeAt = ({ bands, x, y, scale }: LivePoint): LaidBand | null =>
  reachedBands(bands).find(
    (band) => Math.abs(y - band.top - band.height) * scale <= EDGE && x >= band.left && x <= band.left + band.width,
  ) ?? null;

const bandUnder = ({ bands, x, y, scale }: LivePoint): LaidBand | null =>
  reachedBands(bands).findLast(
    (band) =>
      y >= band.top && y < band.top + band.height && x >= band.left - GRIP_ROOM / scale && x <= band.left + band.width,
  ) ?? null;

/** Whether an event is of the pages themselves: not of what opens from there, nor of what looks after its own. */
const isOwn = <E extends PointerEvent | MouseEvent>(event: E): event is E & { target: Element } =>
  event.target instanceof Element &&
  event.currentTarget.contains(event.target) &&
  event.target.closest('[data-own-press]') === null;

/** How long at least lies between two edits that are tried, in milliseconds: a frame that shows one takes two of those that move the hand. */
const PACE = 60;
/** How long the live page may take for an edit that is tried until the next one is, in milliseconds. */
const PATIENCE = 80;

/** Shows edits while they are tried, the newest one whenever the live page has shown the one before: the hand stays ahead of it. */
const useAttempts = (live: Live): ((edit: Edit | null) => void) => {
  const waiting = useRef<{ edit: Edit | null; frame: number } | null>(null);
  useEffect(
    () => () => {
      if (waiting.current) cancelAnimationFrame(waiting.current.frame);
    },
    [],
  );
  const tried = useRef<{ report: Report | null; at: number }>({ report: null, at: 0 });
  return useCallback(
    (edit) => {
      if (waiting.current) {
        waiting.current.edit = edit;
        return;
      }
      const look = (): void => {
        const made = waiting.current;
        if (!made) return;
        const { report, at } = tried.current;
        const isShown = report === null || live.view.getState().of === report;
        const waited = performance.now() - at;
        if (made.edit !== null && waited < (isShown ? PACE : PATIENCE)) {
          made.frame = requestAnimationFrame(look);
          return;
        }
        waiting.current = null;
        // Let go meanwhile: the edit itself was made.
        if (made.edit !== null && useGesture.getState().surface === null) return;
        useDesigner.getState().attempt(made.edit);
        tried.current = { report: useDesigner.getState().trial, at: performance.now() };
      };
      waiting.current = { edit, frame: requestAnimationFrame(look) };
    },
    [live],
  );
};

/** The hands of a maker on the live page: as on the board, over real rows. */
export const useLiveHands = (live: Live, report: Report): LiveHands => {
  const { t } = useTranslation();
  const outer = useRef<HTMLDivElement>(null);
  const attempt = useAttempts(live);
  const latest = useRef({ t, report });
  latest.current = { t, report };
  const shown = useCallback(
    (): Shown => ({ report: latest.current.report, pages: live.view.getState().pages }),
    [live],
  );
  const editing = useDesigner((s) => (s.editingOn === 'live' ? s.editing : null));
  const pages = useStore(live.view, (view) => view.pages);
  const whole = useStore(live.view, (view) => view.whole);

  useEffect(() => {
    const words = (id: string): string => {
      const found = findItem(latest.current.report, id);
      return found ? itemLabel(latest.current.t, found.item, useDesigner.getState().reportNames) : '';
    };
    return showSurface(liveSurface(outer.current!, shown, words));
  }, [shown]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: when the pages follow, what was let go is where it belongs
  useEffect(() => {
    const { landed } = useGesture.getState();
    const page = pageOfSurface(landed?.surface ?? null);
    if (landed && (page === null || page <= 2 || whole !== null)) useGesture.setState({ landed: null });
  }, [pages, whole]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: what is edited stays where it was opened
  useEffect(() => {
    if (editing === null) return;
    const { active } = useLiveState.getState();
    const places = pages.flatMap((page, i) =>
      bandsOn(latest.current.report, page)
        .filter((band) => placesIn(band).some(([item]) => item.id === editing))
        .map((band) => instanceOf(i + 1, band)),
    );
    if (!places.some((place) => isSame(active, place))) useLiveState.setState({ active: places[0] ?? null });
  }, [editing]);

  const reachOf = useCallback(
    (page: number, band: LaidBand | null): HandReach | null => {
      const now = shown();
      const sheet = outer.current?.querySelector<HTMLElement>(`[data-live-page="${page}"]`);
      const of = sheet && liveSheet(now, sheet);
      if (!of) return null;
      const { bands, scale } = of;
      return {
        t: latest.current.t,
        report: now.report,
        surface: surfaceOf(page),
        bands: band ? nearestInstances(bands, band) : bands,
        landings: band && !reachedBands([band])[0] ? [...bands] : reachedBands(bands),
        scale,
        covers: (x, y) => holds(outer.current!.getBoundingClientRect(), x, y),
        under: (x, y) => {
          const point = livePointAt(now, x, y);
          return point ? laidItemsAt(point.bands, point).map(({ item }) => item.id) : [];
        },
        attempt,
      };
    },
    [shown, attempt],
  );

  return useMemo((): LiveHands => {
    const pointOf = ({ clientX, clientY }: { clientX: number; clientY: number }): LivePoint | null =>
      livePointAt(shown(), clientX, clientY);
    const activate = (instance: Instance): void => useLiveState.setState({ active: instance });
    return {
      outer,
      onPointerDown: (event) => {
        if (event.button !== 0 || !isOwn(event) || event.target.closest('[data-fold]')) return;
        const point = pointOf(event);
        if (!point) {
          if (event.target === outer.current) useDesigner.getState().select([], null);
          return;
        }
        // Text is not marked while things are moved.
        event.preventDefault();
        outer.current?.focus({ preventScroll: true });
        const [first] = laidItemsAt(point.bands, point);
        const edge = first ? null : edgeAt(point);
        const band = first?.band ?? edge ?? bandUnder(point);
        const reach = reachOf(point.number, band);
        if (!reach) return;
        if (band) activate(instanceOf(point.number, band));
        if (first) pressItem(event, first.item.id, reach);
        else if (edge) pressGrip(event, edge, reach);
        else pressBoard(event, point.sheet, { ...reach, bands: point.bands });
      },
      onPointerMove: (event) => {
        noticePointer(event.clientX, event.clientY);
        // On its way to the grip of a band, the pointer leaves the band.
        if (event.buttons !== 0 || (event.target as Element).closest('[data-own-press]')) return;
        const point = pointOf(event);
        const band = point && bandUnder(point);
        const hovered = band && instanceOf(point.number, band);
        const { hovered: was } = useLiveState.getState();
        if (hovered ? !isSame(was, hovered) : was) useLiveState.setState({ hovered });
        const isEdge = point !== null && laidItemsAt(point.bands, point).length === 0 && edgeAt(point) !== null;
        outer.current!.style.cursor = isEdge ? 'row-resize' : '';
      },
      onPointerLeave: () => useLiveState.setState({ hovered: null }),
      onDoubleClick: (event) => {
        if (!isOwn(event) || event.target.closest('[data-fold]')) return;
        const point = pointOf(event);
        const [first] = point ? laidItemsAt(point.bands, point) : [];
        if (point && first) {
          activate(instanceOf(point.number, first.band));
          editHere(first.item, 'live');
        }
      },
      onKeyDown: (event) => {
        const { report: now } = latest.current;
        const order = [...allBands(now)].flatMap(({ band }) => band.items.map(({ id }) => id));
        pressKey(event, { t: latest.current.t, report: now, order, on: 'live' });
      },
      onHandle: (event, handle, page, band) => {
        event.stopPropagation();
        const reach = reachOf(page, band);
        if (!reach) return;
        activate(instanceOf(page, band));
        pressHandle(event, handle, reach);
      },
      onGrip: (event, page, band) => {
        event.stopPropagation();
        const reach = reachOf(page, band);
        if (reach) pressGrip(event, band, reach);
      },
    };
  }, [shown, reachOf]);
};
