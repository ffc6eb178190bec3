import { type KeyboardEvent, useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { groupKey, MOST_LINES, type OpenGroups, type TableLine } from './line-tree.ts';
import type { MadeUp } from './made-up.ts';
import { useParts } from './parts.ts';
import { headHeight, TableHead } from './table-head.tsx';
import { lineLook, type Resized } from './table-layout.ts';
import { EndRow, Line, ROW } from './table-line.tsx';
import type { SketchLines } from './use-lines.ts';

/** Lines that are drawn above and below those in view. */
const OVER = 8;
/** Scrolling sideways draws other cells each time it has gone so far, in CSS pixels. */
const SIDEWAYS = 200;

interface Props {
  lines: SketchLines;
  open: OpenGroups;
  onOpen: (open: OpenGroups) => void;
  /** Lines that are shown instead, where none may be fetched. */
  madeUp: MadeUp | null;
}

/** The lines of a sketch: captions and the groups around stay in view, and so do the totals of everything. */
export const SketchTable = ({ lines, open, onOpen, madeUp }: Props) => {
  const { t } = useTranslation();
  const { sketch, reach } = useParts();
  const scroller = useRef<HTMLDivElement>(null);
  const [first, setFirst] = useState(0);
  const [left, setLeft] = useState(0);
  const [room, setRoom] = useState(600);
  const [width, setWidth] = useState(1200);
  const [active, setActive] = useState(-1);
  const [resized, setResized] = useState<Resized | null>(null);
  const { tree, want } = lines;
  const height = Math.min(MOST_LINES, madeUp ? madeUp.lines.length : tree.height);
  const seen = Math.ceil(room / ROW);
  const from = Math.max(0, Math.min(first, height - 1) - OVER);
  const to = Math.min(height, first + seen + OVER);

  useLayoutEffect(() => {
    const box = scroller.current!;
    const watch = new ResizeObserver(() => {
      setRoom(box.clientHeight);
      setWidth(box.clientWidth);
    });
    watch.observe(box);
    return () => watch.disconnect();
  }, []);
  useEffect(() => {
    if (!madeUp) want(from, to);
  }, [want, from, to, madeUp]);

  const across = madeUp?.across ?? lines.across;
  const { values } = across;
  const look = useMemo(
    () => lineLook(sketch, reach, values, resized, { from: left, width }),
    [sketch, reach, values, resized, left, width],
  );

  const turn = useCallback(
    (line: TableLine) => {
      if (!line.isFoldable) return;
      const key = groupKey(line.at);
      const turned = new Set(open.turned);
      if (!turned.delete(key)) turned.add(key);
      onOpen({ ...open, turned });
    },
    [open, onOpen],
  );

  const shown = madeUp ? madeUp.lines.slice(from, to) : tree.lines(from, to);
  const around = madeUp || first === 0 ? [] : aroundTop(lines, first, height);
  const reveal = (index: number): void => {
    const box = scroller.current!;
    const top = index * ROW;
    const above = (around.length + 1) * ROW;
    if (top < box.scrollTop + above) box.scrollTop = Math.max(0, top - above);
    else if (top + 3 * ROW > box.scrollTop + box.clientHeight) box.scrollTop = top + 3 * ROW - box.clientHeight;
  };
  const onKey = (event: KeyboardEvent<HTMLDivElement>): void => {
    if (event.target !== event.currentTarget || event.ctrlKey || event.metaKey || event.altKey) return;
    const now = Math.max(0, active);
    const moves: Record<string, number> = {
      ArrowDown: active < 0 ? 0 : now + 1,
      ArrowUp: now - 1,
      PageDown: now + seen - 3,
      PageUp: now - seen + 3,
      Home: 0,
      End: height - 1,
    };
    const line = active >= 0 ? (madeUp ? madeUp.lines[active] : tree.lines(active, active + 1)[0]) : undefined;
    const isRtl = getComputedStyle(event.currentTarget).direction === 'rtl';
    const [inward, outward] = isRtl ? ['ArrowLeft', 'ArrowRight'] : ['ArrowRight', 'ArrowLeft'];
    if (event.key in moves) {
      const next = Math.min(height - 1, Math.max(0, moves[event.key]!));
      setActive(next);
      reveal(next);
    } else if (line && event.key === inward && line.isFoldable && !line.isOpen) turn(line);
    else if (line && event.key === outward && line.isFoldable && line.isOpen) turn(line);
    else if (line && event.key === outward) {
      const parent = tree.around(active).at(-1);
      const place = parent ? tree.placeOf(parent.at) : null;
      if (place !== null) {
        setActive(place);
        reveal(place);
      }
    } else if (line && (event.key === 'Enter' || event.key === ' ')) turn(line);
    else return;
    event.preventDefault();
  };

  const seenColumns = new Set(look.cells.map(({ column }) => column.name)).size;
  const head = headHeight(sketch.across !== undefined, !sketch.across || seenColumns > 1);
  const levels = sketch.rows ? sketch.groups.length : sketch.groups.length - 1;
  return (
    <div
      ref={scroller}
      role="treegrid"
      aria-label={t('sketch.lines')}
      aria-rowcount={height + 2}
      aria-busy={lines.isFetching}
      aria-activedescendant={active >= 0 ? `sketch-line-${active}` : undefined}
      tabIndex={0}
      data-testid="lines"
      className="relative min-h-0 flex-1 overflow-auto rounded-md border border-rule bg-paper outline-offset-[-2px]"
      onScroll={({ currentTarget }) => {
        setFirst(Math.floor(currentTarget.scrollTop / ROW));
        setLeft(Math.round(Math.abs(currentTarget.scrollLeft) / SIDEWAYS) * SIDEWAYS);
      }}
      onKeyDown={onKey}
    >
      <div style={{ minWidth: look.minWidth }} className={lines.isBefore ? 'opacity-60' : ''}>
        <TableHead look={look} across={across} levels={levels} onOpen={onOpen} onResize={setResized} />
        {around.length > 0 && (
          <div className="sticky z-10 h-0" style={{ top: head }}>
            {around.map((line) => (
              <Line
                key={groupKey(line.at)}
                line={line}
                index={-1}
                look={look}
                lines={lines}
                across={across}
                isActive={false}
                onTurn={turn}
              />
            ))}
            <div className="h-px bg-rule" />
          </div>
        )}
        <div className="relative" style={{ height: height * ROW }}>
          <div className="absolute inset-x-0" style={{ top: from * ROW }}>
            {shown.map((line, i) => (
              <Line
                // biome-ignore lint/suspicious/noArrayIndexKey: what leaves the view at one end is filled anew at the other; to make elements takes longest
                key={(from + i) % (seen + 2 * OVER + 1)}
                line={line}
                index={from + i}
                look={look}
                lines={lines}
                across={across}
                isActive={from + i === active}
                onTurn={turn}
              />
            ))}
          </div>
        </div>
        {lines.end && !madeUp && <EndRow end={lines.end} look={look} across={across} />}
      </div>
    </div>
  );
};

/** The groups that stay at the top: those around the first line that they leave in view. */
const aroundTop = ({ tree }: SketchLines, first: number, height: number): TableLine[] => {
  let found: TableLine[] = [];
  for (let covered = 0; covered <= found.length; covered++) {
    const next = tree.around(Math.min(height - 1, first + covered));
    if (next.length <= covered) return next.slice(0, covered).length > 0 ? next : found.slice(0, covered);
    found = next;
  }
  return found;
};
