import {
  type BoardArea,
  type BoardBand,
  bandAt,
  bandKey,
  boardBands,
  type Item,
  itemsIn,
  lowestItem,
  paperSize,
  type Report,
  sameBand,
  snap,
} from '@gaveta/core';
import { type PointerEvent, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { useTranslation } from 'react-i18next';
import { followPointer } from './drag.ts';
import { GRID, showBoard } from './drop.ts';
import { ItemView, type Nudge } from './item-view.tsx';
import { SPINE_WIDTH, Spine } from './spine.tsx';
import { selectedItems, useDesigner } from './state.ts';
import { bandLabel } from './words.ts';

const EDGE = 16;

export type Handle = 'nw' | 'n' | 'ne' | 'e' | 'se' | 's' | 'sw' | 'w';

/** What dragging a handle does to an item, in millimetres. */
const pull = (handle: Handle, dx: number, dy: number): Nudge => ({
  dx: handle.includes('w') ? dx : 0,
  dy: handle.includes('n') ? dy : 0,
  dw: handle.includes('e') ? dx : handle.includes('w') ? -dx : 0,
  dh: handle.includes('s') ? dy : handle.includes('n') ? -dy : 0,
});

export const Board = ({ report }: { report: Report }) => {
  const { t } = useTranslation();
  const selection = useDesigner((s) => s.selection);
  const selectedBand = useDesigner((s) => s.band);
  const outer = useRef<HTMLDivElement>(null);
  const sheet = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState(500);
  const [nudge, setNudge] = useState<Nudge | null>(null);
  const [marquee, setMarquee] = useState<BoardArea | null>(null);
  const [bandPull, setBandPull] = useState<{ key: string; height: number } | null>(null);
  const { edit, select, startEditing } = useDesigner.getState();

  const paper = paperSize(report.page);
  const { left, right } = report.page.margins;
  const scale = Math.max(1.2, (room - SPINE_WIDTH - EDGE) / paper.width);
  const bands = useMemo(() => {
    const all = boardBands(report);
    if (!bandPull) return all;
    let top = 0;
    return all.map((b) => {
      const height = b.key === bandPull.key ? bandPull.height : b.height;
      const moved = { ...b, top, height };
      top += height;
      return moved;
    });
  }, [report, bandPull]);
  const height = bands.reduce((sum, b) => sum + b.height, 0);
  const width = paper.width - left - right;

  useLayoutEffect(() => {
    const watch = new ResizeObserver(([entry]) => setRoom(entry!.contentRect.width));
    watch.observe(outer.current!);
    return () => watch.disconnect();
  }, []);
  useEffect(() => {
    showBoard(sheet.current, { scale, bands });
    return () => showBoard(null, { scale: 1, bands: [] });
  }, [scale, bands]);

  const pressItem = (event: PointerEvent, item: Item, band: BoardBand): void => {
    if (event.button !== 0 || useDesigner.getState().editing === item.id) return;
    event.stopPropagation();
    outer.current?.focus({ preventScroll: true });
    const was = useDesigner.getState().selection;
    const many = event.shiftKey || event.ctrlKey || event.metaKey;
    const ids = many
      ? was.includes(item.id)
        ? was.filter((id) => id !== item.id)
        : [...was, item.id]
      : was.includes(item.id)
        ? was
        : [item.id];
    select(ids, band.address);
    const offset = (pixels: number): number => snap(pixels / scale, GRID);
    followPointer(event, {
      move: (dx, dy) => setNudge({ dx: offset(dx), dy: offset(dy), dw: 0, dh: 0 }),
      cancel: () => setNudge(null),
      end: (dx, dy, _event, moved) => {
        setNudge(null);
        if (!moved) {
          if (!many && was.length > 1) select([item.id], band.address);
          return;
        }
        const landing = bandAt(bands, band.top + item.y + offset(dy)) ?? band;
        const across = landing.key !== band.key;
        const shift = across ? offset(dy) + band.top - landing.top : offset(dy);
        edit(t('edits.move'), {
          do: 'move',
          items: [...ids],
          dx: offset(dx),
          dy: shift,
          ...(across ? { band: landing.address } : {}),
        });
        if (across) select(ids, landing.address);
      },
    });
  };

  const pressHandle = (event: PointerEvent, handle: Handle): void => {
    event.stopPropagation();
    const of = (dx: number, dy: number): Nudge => pull(handle, snap(dx / scale, GRID), snap(dy / scale, GRID));
    followPointer(event, {
      move: (dx, dy) => setNudge(of(dx, dy)),
      cancel: () => setNudge(null),
      end: (dx, dy, _event, moved) => {
        setNudge(null);
        if (moved)
          edit(t('edits.resize'), { do: 'resize', items: [...useDesigner.getState().selection], ...of(dx, dy) });
      },
    });
  };

  const pressBoard = (event: PointerEvent): void => {
    if (event.button !== 0) return;
    const area = sheet.current!.getBoundingClientRect();
    const from = { x: (event.clientX - area.left) / scale, y: (event.clientY - area.top) / scale };
    const spanned = (dx: number, dy: number): BoardArea => ({
      x: Math.min(from.x, from.x + dx / scale),
      y: Math.min(from.y, from.y + dy / scale),
      width: Math.abs(dx / scale),
      height: Math.abs(dy / scale),
    });
    const band = bandAt(bands, from.y);
    if (!event.shiftKey) select([], band?.address ?? null);
    followPointer(event, {
      move: (dx, dy) => setMarquee(spanned(dx, dy)),
      cancel: () => setMarquee(null),
      end: (dx, dy, _event, moved) => {
        setMarquee(null);
        if (moved)
          select([
            ...new Set([
              ...(event.shiftKey ? useDesigner.getState().selection : []),
              ...itemsIn(bands, spanned(dx, dy)),
            ]),
          ]);
      },
    });
  };

  const pressGrip = (event: PointerEvent, { key, band, address }: BoardBand): void => {
    event.stopPropagation();
    const after = (dy: number): number => Math.max(lowestItem(band), snap(band.height + dy / scale, GRID));
    followPointer(event, {
      move: (_dx, dy) => setBandPull({ key, height: after(dy) }),
      cancel: () => setBandPull(null),
      end: (_dx, dy, _event, moved) => {
        setBandPull(null);
        if (moved) edit(t('edits.band'), { do: 'band', band: address, settings: { height: after(dy) } });
      },
    });
  };

  const onKey = (event: React.KeyboardEvent): void => {
    if (useDesigner.getState().editing) return;
    const step = event.shiftKey ? GRID * 10 : GRID;
    const arrows: Record<string, [number, number]> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, -step],
      ArrowDown: [0, step],
    };
    const arrow = arrows[event.key];
    if (arrow && selection.length > 0) {
      event.preventDefault();
      const [dx, dy] = arrow;
      if (event.altKey) edit(t('edits.resize'), { do: 'resize', items: [...selection], dx: 0, dy: 0, dw: dx, dh: dy });
      else edit(t('edits.move'), { do: 'move', items: [...selection], dx, dy });
      return;
    }
    if (event.key === 'Tab') {
      const all = bands.flatMap((b) => b.band.items.map((item) => item.id));
      const at = selection[0] === undefined ? -1 : all.indexOf(selection[0]);
      const next = all[at + (event.shiftKey ? -1 : 1)];
      // Past either end, Tab leaves the board.
      if (next === undefined) return;
      event.preventDefault();
      select([next]);
      return;
    }
    const [only] = selectedItems(report, selection);
    if (event.key === 'Enter' && only) {
      event.preventDefault();
      if (only.kind === 'text') startEditing(only.id);
      else document.querySelector<HTMLElement>('[data-setting="formula"]')?.focus();
    }
    if (event.key === 'Escape') select([], null);
  };

  return (
    <div
      ref={outer}
      role="application"
      aria-label={t('designer.board')}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the board takes keys
      tabIndex={0}
      data-testid="board"
      className="relative min-h-0 flex-1 overflow-auto bg-desk pb-16 outline-none focus-visible:outline-none"
      onPointerDown={pressBoard}
      onKeyDown={onKey}
    >
      <Spine report={report} bands={bands} scale={scale} />
      <div
        className="absolute top-7 bg-paper shadow-[0_1px_0_#cfc6b1,0_8px_24px_#5a4d2c1f]"
        style={{ left: SPINE_WIDTH, width: paper.width * scale, height: height * scale }}
      >
        <div ref={sheet} className="absolute inset-y-0" style={{ left: left * scale, width: width * scale }}>
          {bands.map((b) => {
            const isSelected = selectedBand !== null && sameBand(selectedBand, b.address);
            return (
              <section
                key={b.key}
                data-band={b.key}
                aria-label={t('designer.band', { name: bandLabel(t, b.address, b.drawer) })}
                className={`absolute border-b border-dashed border-rule ${isSelected ? 'bg-brass-soft/25' : ''}`}
                style={{
                  top: b.top * scale,
                  height: b.height * scale,
                  left: -left * scale,
                  width: paper.width * scale,
                }}
              >
                <div className="absolute inset-y-0" style={{ left: left * scale, width: width * scale }}>
                  {b.band.items.map((item) => (
                    <ItemView
                      key={item.id}
                      item={item}
                      report={report}
                      scale={scale}
                      selected={selection.includes(item.id)}
                      nudge={selection.includes(item.id) ? nudge : null}
                      handles={selection.length === 1 && selection[0] === item.id}
                      onPress={(event) => pressItem(event, item, b)}
                      onHandle={pressHandle}
                    />
                  ))}
                </div>
                <button
                  type="button"
                  tabIndex={-1}
                  aria-label={t('designer.grip', { name: bandLabel(t, b.address, b.drawer) })}
                  data-grip={bandKey(b.address)}
                  className="absolute -bottom-[3px] -left-2 z-10 h-[5px] w-4 cursor-row-resize rounded bg-brass"
                  onPointerDown={(event) => pressGrip(event, b)}
                  onDoubleClick={() =>
                    edit(t('edits.band'), { do: 'band', band: b.address, settings: { height: lowestItem(b.band) } })
                  }
                />
              </section>
            );
          })}
          {marquee && (
            <div
              className="pointer-events-none absolute border border-pine bg-pine/10"
              style={{
                left: marquee.x * scale,
                top: marquee.y * scale,
                width: marquee.width * scale,
                height: marquee.height * scale,
              }}
            />
          )}
        </div>
      </div>
      <div aria-hidden style={{ height: height * scale + 60 }} />
    </div>
  );
};
