import {
  findItem,
  type Item,
  type LaidBand,
  MILLIMETRES,
  type Place,
  pageSize,
  placesIn,
  type SvgPage,
} from '@gaveta/core/internal';
import { memo, type PointerEvent, useLayoutEffect, useRef, useState } from 'react';
import { useStore } from 'zustand';
import { useTranslation } from '../../i18n/use-translation.ts';
import type { Live } from '../../live/use-live.ts';
import { Guides } from '../board/guides.tsx';
import { HANDLES, type Handle } from '../board/hand.ts';
import { HandleView } from '../board/handle-view.tsx';
import { useGesture } from '../design/gesture.ts';
import { useDesigner } from '../design/state.ts';
import { bandLabel } from '../design/words.ts';
import { roomOfKind } from '../items/rooms.ts';
import { isSame, useLiveState } from './live-state.ts';
import { bandsOn, surfaceOf } from './live-surface.ts';
import type { LiveHands } from './use-live-hands.ts';

interface Props {
  page: SvgPage;
  /** From 1. */
  number: number;
  live: Live;
  hands: LiveHands;
}

/** What lies over a page of the live page: the selection with its handles, the band under the pointer, and what is edited in place. */
export const SheetHands = memo(({ page, number, live, hands }: Props) => {
  const cover = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(0);
  const selection = useDesigner((s) => s.selection);
  const editing = useDesigner((s) => (s.editingOn === 'live' ? s.editing : null));
  const active = useLiveState((s) => (s.active?.page === number ? s.active : null));
  useLayoutEffect(() => {
    const watch = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width));
    watch.observe(cover.current!);
    return () => watch.disconnect();
  }, []);
  const scale = width / (pageSize(page).width * MILLIMETRES);
  // Of the report as it was laid out: an edit that the page does not show yet finds the same bands.
  const report = useStore(live.view, (view) => view.of);
  const bands = report ? bandsOn(report, page) : [];
  const chosen = bands.flatMap((band) =>
    placesIn(band).flatMap(([item, place]) => (selection.includes(item.id) ? [{ item, place, band }] : [])),
  );
  const isActive = (band: LaidBand): boolean => isSame(active, { page: number, band: band.key, rows: band.rows });
  const held =
    chosen.length === 0 || selection.length > 1 ? null : (chosen.find((c) => isActive(c.band)) ?? chosen[0]!);
  const over = useGesture((s) => s.over?.item ?? null);
  /** What a field hangs over, or else what is selected. */
  const tagged = over === null ? held : firstOf(bands, over);
  const edited = editing !== null && chosen.find(({ item, band }) => item.id === editing && isActive(band));
  return (
    <div ref={cover} className="pointer-events-none absolute inset-0 isolate">
      {width > 0 && (
        <>
          <HoveredBand bands={bands} number={number} scale={scale} hands={hands} />
          {chosen.map(({ item, place, band }) => (
            <ChosenBox
              key={`${band.key} ${band.rows} ${band.top} ${item.id}`}
              item={item}
              place={place}
              scale={scale}
              onHandle={
                held?.band === band && !item.locked && editing === null
                  ? (event, handle) => hands.onHandle(event, handle, number, band)
                  : null
              }
            />
          ))}
          {tagged && <LiveTags item={tagged.item} place={tagged.place} scale={scale} />}
          {edited && <LiveEditor id={edited.item.id} place={edited.place} scale={scale} />}
          <Guides surface={surfaceOf(number)} scale={scale} />
        </>
      )}
    </div>
  );
});

const firstOf = (bands: readonly LaidBand[], id: string): { item: Item; place: Place } | null => {
  for (const band of bands) for (const [item, place] of placesIn(band)) if (item.id === id) return { item, place };
  return null;
};

const boxStyle = ({ x, y, width, height }: Place, scale: number): React.CSSProperties => ({
  left: x * scale,
  top: y * scale,
  width: width * scale,
  height: height * scale,
});

interface ChosenProps {
  item: Item;
  place: Place;
  scale: number;
  /** Null where it has no handles. */
  onHandle: ((event: PointerEvent, handle: Handle) => void) | null;
}

/** Below this, in CSS pixels, handles would lie over one another. */
const CROWDED = 20;

/** The handles that a box of so many CSS pixels has room for. */
const handlesFor = (item: Item, width: number, height: number): readonly Handle[] => {
  if (item.kind === 'line' && item.height === 0) return ['w', 'e'];
  if (width < CROWDED) return height < CROWDED ? ['e', 's'] : ['n', 'e', 's'];
  return height < CROWDED ? ['n', 'e', 's', 'w'] : HANDLES;
};

/** A line around one instance of a selected item. */
const ChosenBox = ({ item, place, scale, onHandle }: ChosenProps) => {
  const nudge = useGesture((s) => (s.ids.has(item.id) ? s.nudge : s.landed?.ids.has(item.id) ? s.landed.nudge : null));
  const { dx, dy, dw, dh } = nudge ?? { dx: 0, dy: 0, dw: 0, dh: 0 };
  const moved = {
    x: place.x + dx,
    y: place.y + dy,
    width: Math.max(0, place.width + dw),
    height: Math.max(0, place.height + dh),
  };
  return (
    <div
      data-chosen={item.id}
      className={`absolute ${onHandle ? 'outline-2 outline-pine' : 'outline outline-pine/40'}`}
      style={boxStyle(moved, scale)}
    >
      {onHandle &&
        handlesFor(item, moved.width * scale, moved.height * scale).map((handle) => (
          <HandleView key={handle} handle={handle} onPress={onHandle} />
        ))}
    </div>
  );
};

/** Width of a margin in which the name of a band can be read, in CSS pixels. */
const ROOM_FOR_NAME = 56;

/** The band under the pointer, with its name and the grip of its lower edge. */
const HoveredBand = ({
  bands,
  number,
  scale,
  hands,
}: Pick<Props, 'number' | 'hands'> & { bands: readonly LaidBand[]; scale: number }) => {
  const { t } = useTranslation();
  const hovered = useLiveState((s) => (s.hovered?.page === number ? s.hovered : null));
  const isBusy = useGesture((s) => s.surface !== null);
  const band = hovered && bands.find(({ key, rows }) => isSame(hovered, { page: number, band: key, rows }));
  if (!band || isBusy) return null;
  const name = bandLabel(t, band.address, band.drawer);
  const [left, top, bottom] = [band.left * scale, band.top * scale, (band.top + band.height) * scale];
  return (
    <>
      <div
        className="absolute border-y border-dashed border-brass/60"
        style={{ left, top, width: band.width * scale, height: bottom - top }}
      />
      {left > ROOM_FOR_NAME && (
        <span
          className="absolute truncate rounded-sm bg-paper/90 px-1 text-end text-[10px] leading-[14px] text-ink-2"
          style={{ right: `calc(100% - ${left - 4}px)`, top, maxWidth: Math.max(40, left - 8) }}
        >
          {name}
        </span>
      )}
      <button
        type="button"
        tabIndex={-1}
        aria-label={t('designer.grip', { name })}
        title={t('designer.gripHelp')}
        data-live-grip={band.key}
        data-own-press
        className="pointer-events-auto absolute h-[6px] w-5 cursor-row-resize rounded bg-brass"
        style={{ left: left - 24, top: bottom - 3 }}
        onPointerDown={(event) => hands.onGrip(event, number, band)}
      />
    </>
  );
};

/** The parts of an item that take fields, in words over it. */
const LiveTags = ({ item, place, scale }: { item: Item; place: Place; scale: number }) => {
  const { Tags } = roomOfKind(item.kind);
  const isMoving = useGesture((s) => s.ids.has(item.id));
  if (!Tags || isMoving) return null;
  return (
    <div data-testid="live-tags" className="absolute z-10" style={boxStyle(place, scale)}>
      <div data-own-press data-look="light" className="*:pointer-events-auto">
        <Tags item={item} />
      </div>
    </div>
  );
};

/** Text edited where it stands on the page. */
const LiveEditor = ({ id, place, scale }: { id: string; place: Place; scale: number }) => {
  const report = useDesigner((s) => s.history?.report);
  const item = report && findItem(report, id)?.item;
  const Editor = item && roomOfKind(item.kind).Editor;
  if (!item || !Editor) return null;
  return (
    <div
      data-own-press
      data-look="light"
      data-testid="live-editor"
      className="pointer-events-auto absolute z-20 bg-white text-ink outline-2 outline-pine"
      style={boxStyle({ ...place, height: Math.max(place.height, item.height) }, scale)}
    >
      <Editor item={item} styles={report.styles} scale={scale} />
    </div>
  );
};
