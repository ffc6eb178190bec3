import {
  allBands,
  type BoardBand,
  boardLayout,
  type Item,
  isGrouping,
  lowestItem,
  paperSize,
  type Report,
  roomOf,
  sameBand,
} from '@gaveta/core/internal';
import { type PointerEvent, useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { useDesign } from '../design/context.ts';
import { useGesture } from '../design/gesture.ts';
import { useDesigner } from '../design/state.ts';
import { holds, noticePointer, showSurface } from '../design/surfaces.ts';
import { bandLabel } from '../design/words.ts';
import { useShown, useWheelZoom, zoomBy } from '../design/zoom.ts';
import { DrawerLine } from '../drawer/drawer-line.tsx';
import { BOARD, boardSurface, itemsDrawnAt } from './board-surface.ts';
import { EmptyBoard } from './empty-board.tsx';
import { Guides } from './guides.tsx';
import { type Handle, type HandReach, pressBoard, pressGrip, pressHandle, pressItem } from './hand.ts';
import { ItemView } from './item-view.tsx';
import { pressKey } from './keys.ts';
import { BandRuler, Ruler } from './ruler.tsx';
import { SPINE_WIDTH, Spine } from './spine.tsx';
import { useKeptBoardWords } from './use-board-words.ts';

const EDGE = 16;
/** Height of the sentence above a drawer, in CSS pixels; and of a band that is folded away. */
const HEADING = 24;
const STUB = 10;
/** CSS pixels for a millimetre at full size. */
const FULL_SIZE = 96 / 25.4;
/** Room for the ruler above the page. */
const TOP = 26;

export const Board = ({ report }: { report: Report }) => {
  const { t } = useTranslation();
  const design = useDesign();
  const { entities, model } = design;
  useKeptBoardWords(design);
  const outer = useRef<HTMLDivElement>(null);
  useWheelZoom(outer, zoomBy);
  const selection = useDesigner((s) => s.selection);
  const selectedBand = useDesigner((s) => s.band);
  const collapsed = useDesigner((s) => s.collapsed);
  const zoom = useDesigner((s) => s.zoom);
  const pull = useGesture((s) => s.pull);
  const sheet = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState(500);
  const { edit, fold } = useDesigner.getState();

  const { left } = report.page.margins;
  const papers = [report.page, ...report.body.flatMap(({ page }) => page ?? [])].map(paperSize);
  /** As wide as the widest of its pages. */
  const paper = { width: Math.max(...papers.map((size) => size.width)) };
  const width = paper.width - left;
  const scale = zoom === 'fit' ? Math.max(1.2, (room - SPINE_WIDTH - EDGE) / paper.width) : zoom * FULL_SIZE;
  const { bands, drawers, height } = useMemo(
    () =>
      boardLayout(
        report,
        { heading: HEADING / scale, stub: STUB / scale, collapsed },
        pull ? { [pull.key]: pull.height } : {},
      ),
    [report, scale, collapsed, pull],
  );
  /** An item with rows of its own needs no others. */
  const hasOwnRows = [...allBands(report)].some(({ band }) => band.items.some((item) => isGrouping(item)));
  const reach = useRef<HandReach>(null!);
  reach.current = {
    t,
    report,
    surface: BOARD,
    bands,
    landings: bands,
    scale,
    covers: (x, y) => holds(outer.current!.getBoundingClientRect(), x, y),
    under: itemsDrawnAt,
  };

  useLayoutEffect(() => {
    const watch = new ResizeObserver(([entry]) => setRoom(entry!.contentRect.width));
    watch.observe(outer.current!);
    return () => watch.disconnect();
  }, []);
  useEffect(() => {
    useShown.setState({ zoom: scale / FULL_SIZE });
    return showSurface(boardSurface(outer.current!, sheet.current!, { scale, bands }));
  }, [scale, bands]);
  useEffect(() => {
    // What is selected elsewhere, as on the live page, comes into sight.
    const [first] = selection;
    if (first !== undefined)
      outer.current?.querySelector(`[data-item="${first}"]`)?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  }, [selection]);

  const onPress = useCallback((event: PointerEvent, id: string) => {
    if (event.button !== 0 || useDesigner.getState().editing === id) return;
    event.stopPropagation();
    outer.current?.focus({ preventScroll: true });
    pressItem(event, id, reach.current);
  }, []);
  const onHandle = useCallback((event: PointerEvent, handle: Handle) => {
    event.stopPropagation();
    pressHandle(event, handle, reach.current);
  }, []);

  const onKey = (event: React.KeyboardEvent): void => {
    const order = bands.flatMap((b) => (b.collapsed ? [] : b.band.items.map((item) => item.id)));
    pressKey(event, { t, report, order, on: 'board' });
  };

  return (
    <div
      ref={outer}
      role="application"
      aria-label={t('designer.board')}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: the board takes keys
      tabIndex={0}
      data-testid="board"
      // Places on paper are counted from its left edge in every language.
      dir="ltr"
      className="relative min-h-0 flex-1 overflow-auto bg-desk pb-16 outline-none [contain:strict] focus-visible:outline-none"
      onPointerDown={(event) => {
        // What opens from the board lies elsewhere, though its events come by here.
        const isHere = event.target instanceof Element && event.currentTarget.contains(event.target);
        if (event.button === 0 && isHere && !(event.target as Element).closest('[data-own-press]'))
          pressBoard(event, sheet.current!, reach.current);
      }}
      onPointerMove={(event) => noticePointer(event.clientX, event.clientY)}
      onKeyDown={onKey}
    >
      <Ruler left={SPINE_WIDTH} margin={left} width={paper.width} scale={scale} />
      <Spine report={report} bands={bands} drawers={drawers} scale={scale} top={TOP} />
      <div
        data-look="light"
        className="absolute bg-paper text-ink shadow-[0_1px_0_#cfc6b1,0_8px_24px_#5a4d2c1f]"
        style={{ top: TOP, left: SPINE_WIDTH, width: paper.width * scale, height: height * scale }}
      >
        {drawers.map((at) => (
          <DrawerLine
            key={at.drawer.id}
            drawer={at.drawer}
            outer={at.outer?.name ?? null}
            entity={entities.get(at.drawer.id) ?? null}
            model={model}
            parameters={report.parameters}
            depth={at.depth}
            collapsed={at.collapsed}
            top={at.top * scale}
            height={HEADING}
            across={at.across && { left: (left + at.across.left) * scale, width: at.across.width * scale }}
          />
        ))}
        <div ref={sheet} className="absolute inset-y-0" style={{ left: left * scale, width: width * scale }}>
          {bands.map((b) => {
            const isSelected = selectedBand !== null && sameBand(selectedBand, b.address);
            const name = bandLabel(t, b.address, b.drawer);
            const { margins } = b.page;
            const own = b.width;
            /** Paper left and right of it: none beside others. */
            const sides = b.isPart
              ? { left: 0, right: 0 }
              : { left: margins.left, right: paperSize(b.page).width - margins.left - roomOf(b.page) };
            return (
              <section
                key={b.key}
                data-band={b.key}
                aria-label={t('designer.band', { name })}
                className={`absolute border-b border-dashed border-rule ${b.isPart ? 'border-x' : ''} ${isSelected ? 'bg-brass-soft/25' : ''} ${b.collapsed ? 'stripes' : ''}`}
                style={{
                  top: b.top * scale,
                  height: b.height * scale,
                  left: (b.left - sides.left) * scale,
                  width: (sides.left + own + sides.right) * scale,
                }}
              >
                {!b.isPart && (
                  <div
                    aria-hidden
                    className="absolute inset-y-0 left-full bg-desk"
                    style={{ width: (paper.width - paperSize(b.page).width) * scale }}
                  />
                )}
                <BandRuler height={b.collapsed ? 0 : b.height} scale={scale} />
                <div
                  // Bands out of sight cost nothing to draw. What stands out of one is cut off far away only.
                  className="board-grid absolute inset-y-0 [content-visibility:auto] [overflow-clip-margin:1000px]"
                  style={{
                    left: sides.left * scale,
                    width: own * scale,
                    background: b.band.background,
                    backgroundSize: `${10 * scale}px ${10 * scale}px`,
                  }}
                >
                  {!b.collapsed && isNew(b) && (
                    <p className="pointer-events-none absolute inset-0 flex items-center overflow-hidden px-2 text-[11.5px] text-ink-3">
                      {t('empty.detail', {
                        rows: (entities.get(b.drawer!.id)?.plural ?? b.drawer!.name).toLowerCase(),
                      })}
                    </p>
                  )}
                  {!b.collapsed &&
                    backToFront(b.band.items).map((item) => (
                      <ItemView
                        key={item.id}
                        item={item}
                        styles={report.styles}
                        scale={scale}
                        room={own}
                        selected={selection.includes(item.id)}
                        handles={selection.length === 1 && selection[0] === item.id}
                        onPress={onPress}
                        onHandle={onHandle}
                      />
                    ))}
                </div>
                <button
                  type="button"
                  tabIndex={-1}
                  aria-label={t('designer.grip', { name })}
                  title={t('designer.gripHelp')}
                  data-grip={b.key}
                  data-own-press
                  className="absolute -bottom-[3px] -left-2 z-10 h-[5px] w-4 cursor-row-resize rounded bg-brass"
                  onPointerDown={(event) => (b.collapsed ? fold(b.key) : pressGrip(event, b, reach.current))}
                  onDoubleClick={() =>
                    edit(t('edits.band'), { do: 'band', band: b.address, settings: { height: lowestItem(b.band) } })
                  }
                />
              </section>
            );
          })}
          <Guides surface={BOARD} scale={scale} />
        </div>
      </div>
      {report.body.length === 0 && !hasOwnRows && (
        <div
          className="absolute flex justify-center"
          style={{
            top: TOP + height * scale + 40,
            left: SPINE_WIDTH,
            width: Math.min(paper.width * scale, room - SPINE_WIDTH),
          }}
        >
          <EmptyBoard report={report} />
        </div>
      )}
      <div aria-hidden style={{ height: height * scale + 80, width: SPINE_WIDTH + paper.width * scale }} />
    </div>
  );
};

/** Panels stand behind what they hold, wherever they come in their band. */
const backToFront = (items: readonly Item[]): readonly Item[] => {
  const panels = items.filter(({ kind }) => kind === 'panel');
  if (panels.length === 0) return items;
  const largest = [...panels].sort((a, b) => b.width * b.height - a.width * a.height);
  return [...largest, ...items.filter(({ kind }) => kind !== 'panel')];
};

/** Whether a band is that of each row of a drawer that shows nothing yet. */
const isNew = ({ drawer, address, band }: BoardBand): boolean =>
  drawer !== null &&
  address.band === 'detail' &&
  band.items.length === 0 &&
  !drawer.header &&
  !drawer.footer &&
  !drawer.groups?.length &&
  !drawer.drawers?.length;
