import {
  type BoardArea,
  type BoardBand,
  bandAt,
  columnSets,
  type Edit,
  findItem,
  type Guide,
  itemsIn,
  lowestItem,
  MOVING,
  type Place,
  placesIn,
  type Report,
  reorderColumn,
  resizeColumn,
  snap,
  snapTo,
  withHeld,
} from '@gaveta/core/internal';
import type { TFunction } from 'i18next';
import type { PointerEvent as ReactPointerEvent } from 'react';
import { followPointer } from '../design/drag.ts';
import { endGesture, landGesture, type Nudge, useGesture } from '../design/gesture.ts';
import { useDesigner, withPanels } from '../design/state.ts';
import { GRID } from '../design/surfaces.ts';

export const HANDLES = ['nw', 'n', 'ne', 'e', 'se', 's', 'sw', 'w'] as const;
export type Handle = (typeof HANDLES)[number];

/** What the hand needs to know of the board, or of a page that is laid out, while it moves something. */
export interface HandReach {
  t: TFunction;
  report: Report;
  surface: string;
  /** Each band once: those that an item is moved among. */
  bands: readonly BoardBand[];
  /** Where it can be let go: on a page, a band comes once for each of its rows. */
  landings: readonly BoardBand[];
  /** CSS pixels for a millimetre. */
  scale: number;
  covers: (clientX: number, clientY: number) => boolean;
  /** Ids of the items at a point of the window, those in front first. */
  under: (clientX: number, clientY: number) => string[];
  /** Shows what an edit would do while it is tried, null to end that; left out where nothing need be shown. */
  attempt?: (edit: Edit | null) => void;
}

/** How near is near enough to snap, in CSS pixels. */
const SNAP_PIXELS = 6;

const isMany = (event: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }): boolean =>
  event.shiftKey || event.ctrlKey || event.metaKey;

/** Places of items, those in `ids` or all the others. */
const placesOn = (bands: readonly BoardBand[], ids: ReadonlySet<string>, inside: boolean): Place[] =>
  bands.flatMap((band) =>
    placesIn(band)
      .filter(([item]) => ids.has(item.id) === inside)
      .map(([, place]) => place),
  );

const hull = (places: readonly Place[]): Place => {
  const x = Math.min(...places.map((p) => p.x));
  const y = Math.min(...places.map((p) => p.y));
  return {
    x,
    y,
    width: Math.max(...places.map((p) => p.x + p.width)) - x,
    height: Math.max(...places.map((p) => p.y + p.height)) - y,
  };
};

/** Other items of the columns that these belong to. */
const matesOf = (report: Report, ids: ReadonlySet<string>): Set<string> => {
  const mates = new Set<string>();
  const sets = columnSets(report);
  for (const id of ids) {
    const column = findItem(report, id)?.item.column;
    const found = column && sets.get(column.set)?.columns.find((c) => c.name === column.name);
    for (const item of found?.items ?? []) if (!ids.has(item.id)) mates.add(item.id);
  }
  return mates;
};

/** The item under the pointer after the selected one: a click through what lies over it. */
const behind = (event: ReactPointerEvent, selected: readonly string[], { under }: HandReach): string | null => {
  const ids = under(event.clientX, event.clientY);
  const at = ids.findIndex((id) => selected.includes(id));
  return ids[at + 1] ?? ids[0] ?? null;
};

/** Selects what was pressed, and moves the selection with the pointer. */
export const pressItem = (event: ReactPointerEvent, pressed: string, reach: HandReach): void => {
  const { t, report, surface, bands, scale } = reach;
  const { selection: was, select, edit, snapping } = useDesigner.getState();
  const id = event.altKey ? (behind(event, was, reach) ?? pressed) : pressed;
  const found = findItem(report, id);
  const band = found && bands.find((b) => b.band === found.at.band);
  if (!found || !band) return;
  const { item } = found;
  const many = isMany(event);
  const own = withPanels(report, [id]);
  const ids = many
    ? was.includes(id)
      ? was.filter((other) => !own.includes(other))
      : [...was, ...own]
    : was.includes(id) && !event.altKey
      ? was
      : own;
  select(ids, band.address);
  const moving = new Set(withHeld(report, ids).filter((one) => !findItem(report, one)?.item.locked));
  if (moving.size === 0) return;
  const places = placesOn(bands, moving, true);
  const box = hull(places);
  const others = placesOn(bands, moving, false);
  const mates = matesOf(report, moving);
  // Mates move along sideways, so their own edges are no place to snap to.
  const beside = mates.size > 0 ? others.filter((p) => Math.abs(p.x - box.x) > 0.01) : others;
  const xs = [band.left, band.left + band.width];
  const ys = bands.flatMap((b) => [b.top, b.top + b.height]);
  const shift = (dx: number, dy: number, at: PointerEvent): { dx: number; dy: number; guides: Guide[] } => {
    let byX = dx / scale;
    let byY = dy / scale;
    if (at.shiftKey) {
      if (Math.abs(byX) > Math.abs(byY)) byY = 0;
      else byX = 0;
    }
    if (!snapping || at.altKey) return { dx: byX, dy: byY, guides: [] };
    const wanted = { ...box, x: box.x + byX, y: box.y + byY };
    const snapped = snapTo(wanted, beside, {
      xs,
      ys,
      grid: GRID,
      reach: SNAP_PIXELS / scale,
      edges: MOVING,
    });
    return { dx: byX + snapped.dx, dy: byY + snapped.dy, guides: snapped.guides };
  };
  followPointer(event, {
    move: (dx, dy, at) => {
      const by = shift(dx, dy, at);
      const nudge: Nudge = { dx: by.dx, dy: by.dy, dw: 0, dh: 0 };
      useGesture.setState({ surface, ids: moving, nudge, mates, mateNudge: { ...nudge, dy: 0 }, guides: by.guides });
    },
    cancel: endGesture,
    end: (dx, dy, at, moved) => {
      // Let go outside, a drag is given up: everything stays where it was.
      const isDone = moved && reach.covers(at.clientX, at.clientY);
      if (isDone && reach.landings !== bands) landGesture();
      else endGesture();
      if (!moved && !many && was.length > 1 && was.includes(id)) select(own, band.address);
      if (!isDone) return;
      const by = shift(dx, dy, at);
      const reorder = columnOrder(report, moving, by.dx);
      if (reorder) {
        edit(t('edits.columns'), reorder);
        return;
      }
      const place = placesIn(band).find(([one]) => one === item)?.[1] ?? box;
      const landed = { x: place.x + by.dx, y: place.y + by.dy };
      const landing = bandAt(reach.landings, { ...landed, x: landed.x + place.width / 2 }) ?? band;
      const isElsewhere = landing !== band && !landing.collapsed;
      const across = isElsewhere && landing.key !== band.key;
      edit(t('edits.move'), {
        do: 'move',
        items: [...moving],
        dx: isElsewhere ? landed.x - landing.left - item.x : by.dx,
        dy: isElsewhere ? landed.y - landing.top - item.y : by.dy,
        ...(across ? { band: landing.address } : {}),
      });
      if (across) select(ids, landing.address);
      // Where nothing changed, nothing is laid out anew.
      if (useDesigner.getState().history?.report === report) endGesture();
    },
  });
};

/** A column that is dragged past the middle of another changes places with it; null when it is only moved a little. */
const columnOrder = (report: Report, ids: ReadonlySet<string>, dx: number): Edit | null => {
  const columns = [...ids].map((id) => findItem(report, id)?.item.column);
  const [first] = columns;
  if (!first || columns.some((c) => c?.set !== first.set || c.name !== first.name)) return null;
  const set = columnSets(report).get(first.set);
  const own = set?.columns.find((c) => c.name === first.name);
  if (!set || !own) return null;
  const middle = own.x + own.width / 2 + dx;
  const others = set.columns.filter((c) => c !== own);
  const to = others.filter((c) => c.x + c.width / 2 < middle).length;
  return to === set.columns.indexOf(own) ? null : reorderColumn(set, own.name, to);
};

/** Resizes the selected items by one of their handles. */
export const pressHandle = (event: ReactPointerEvent, handle: Handle, reach: HandReach): void => {
  const { t, report, surface, bands, scale } = reach;
  const { selection, edit, snapping } = useDesigner.getState();
  const ids = new Set(selection.filter((id) => !findItem(report, id)?.item.locked));
  const [place] = placesOn(bands, ids, true);
  if (!place) return;
  const others = placesOn(bands, ids, false);
  const mates = matesOf(report, ids);
  const home = findItem(report, [...ids][0]!)!.at.band;
  const { left, width: room } = bands.find((b) => b.band === home)!;
  const edges = {
    x: handle.includes('w') ? (['start'] as const) : handle.includes('e') ? (['end'] as const) : [],
    y: handle.includes('n') ? (['start'] as const) : handle.includes('s') ? (['end'] as const) : [],
  };
  const pull = (dx: number, dy: number, at: PointerEvent): { nudge: Nudge; guides: Guide[] } => {
    const west = handle.includes('w');
    const north = handle.includes('n');
    let byX = edges.x.length > 0 ? dx / scale : 0;
    let byY = edges.y.length > 0 ? dy / scale : 0;
    let guides: Guide[] = [];
    if (snapping && !at.altKey) {
      const wanted = {
        x: west ? place.x + byX : place.x,
        y: north ? place.y + byY : place.y,
        width: west ? place.width : place.width + byX,
        height: north ? place.height : place.height + byY,
      };
      const settings = { xs: [left, left + room], ys: [], grid: GRID, reach: SNAP_PIXELS / scale, edges };
      const snapped = snapTo(wanted, others, settings);
      byX += snapped.dx;
      byY += snapped.dy;
      guides = snapped.guides;
    }
    const nudge = { dx: west ? byX : 0, dy: north ? byY : 0, dw: west ? -byX : byX, dh: north ? -byY : byY };
    return { nudge, guides };
  };
  followPointer(event, {
    move: (dx, dy, at) => {
      const { nudge, guides } = pull(dx, dy, at);
      useGesture.setState({ surface, ids, nudge, mates, mateNudge: { ...nudge, dy: 0, dh: 0 }, guides });
      reach.attempt?.(resizing(report, [...ids], handle, nudge));
    },
    cancel: () => {
      endGesture();
      reach.attempt?.(null);
    },
    end: (dx, dy, at, moved) => {
      endGesture();
      if (!moved) return;
      const { nudge } = pull(dx, dy, at);
      edit(t('edits.resize'), resizing(report, [...ids], handle, nudge));
    },
  });
};

/** Pulling the right edge of a column pushes those to its right; anything else changes the items alone. */
export const resizing = (report: Report, ids: string[], handle: Handle, nudge: Nudge): Edit => {
  const column = ids.length === 1 ? findItem(report, ids[0]!)?.item.column : undefined;
  const set = column && columnSets(report).get(column.set);
  const own = set?.columns.find((c) => c.name === column?.name);
  if (!set || !own || handle !== 'e' || nudge.dw === 0) return { do: 'resize', items: ids, ...nudge };
  return resizeColumn(set, own.name, own.width + nudge.dw);
};

/** Selects what a rectangle touches, or the band that was clicked. */
export const pressBoard = (event: ReactPointerEvent, sheet: HTMLElement, reach: HandReach): void => {
  const { surface, landings, scale } = reach;
  const { select } = useDesigner.getState();
  const area = sheet.getBoundingClientRect();
  const from = { x: (event.clientX - area.left) / scale, y: (event.clientY - area.top) / scale };
  const spanned = (dx: number, dy: number): BoardArea => ({
    x: Math.min(from.x, from.x + dx / scale),
    y: Math.min(from.y, from.y + dy / scale),
    width: Math.abs(dx / scale),
    height: Math.abs(dy / scale),
  });
  const many = isMany(event);
  if (!many) select([], bandAt(landings, from)?.address ?? null);
  followPointer(event, {
    move: (dx, dy) => useGesture.setState({ surface, marquee: spanned(dx, dy) }),
    cancel: endGesture,
    end: (dx, dy, _at, moved) => {
      endGesture();
      if (!moved) return;
      const { selection, history } = useDesigner.getState();
      const touched = withPanels(history!.report, itemsIn(landings, spanned(dx, dy)));
      select([...new Set([...(many ? selection : []), ...touched])]);
    },
  });
};

/** Changes the height of a band by its grip; it stops at its lowest item. */
export const pressGrip = (event: ReactPointerEvent, { key, band, address }: BoardBand, reach: HandReach): void => {
  const { t, surface, scale, attempt } = reach;
  const after = (dy: number): number => Math.max(lowestItem(band), snap(band.height + dy / scale, GRID));
  const made = (dy: number): Edit => ({ do: 'band', band: address, settings: { height: after(dy) } });
  followPointer(event, {
    move: (_dx, dy) => {
      useGesture.setState({ surface, pull: { key, height: after(dy) } });
      attempt?.(made(dy));
    },
    cancel: () => {
      endGesture();
      attempt?.(null);
    },
    end: (_dx, dy, _at, moved) => {
      endGesture();
      if (moved) useDesigner.getState().edit(t('edits.band'), made(dy));
    },
  });
};
