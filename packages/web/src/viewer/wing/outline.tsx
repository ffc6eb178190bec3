import type { PlaceInRun } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import { queries } from '../../api/queries.ts';
import { headingAt } from './heading-at.ts';

const ROW = 26;

interface OutlineProps {
  run: string;
  count: number;
  /** The page that is read. */
  page: number;
  goTo: (place: PlaceInRun) => void;
}

/** The report's headings; a click goes there. The one that is read is marked. */
export const Outline = ({ run, count, page, goTo }: OutlineProps) => {
  const scroller = useRef<HTMLDivElement>(null);
  const headings = useQuery({ ...queries.outline(run, count), placeholderData: (old) => old });
  const list = useVirtualizer({
    count: headings.data?.length ?? 0,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 10,
  });
  const current = headingAt(headings.data ?? [], page);
  // biome-ignore lint/correctness/useExhaustiveDependencies: as reading goes on
  useEffect(() => {
    if (current >= 0) list.scrollToIndex(current, { align: 'auto' });
  }, [current]);
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto py-1">
      <ol className="relative" style={{ height: list.getTotalSize() }}>
        {list.getVirtualItems().map(({ index, start }) => {
          const heading = headings.data![index]!;
          const look = heading.level === 1 ? 'font-semibold' : 'text-ink-2';
          return (
            <li key={index} className="absolute w-full" style={{ top: start, height: ROW }}>
              <button
                type="button"
                title={heading.title}
                aria-current={index === current ? 'location' : undefined}
                className={`flex h-full w-full items-center gap-2 pe-3 text-start hover:bg-desk/50 aria-[current]:bg-pine-soft ${look}`}
                style={{ paddingInlineStart: 12 + (heading.level - 1) * 14 }}
                onClick={() => goTo(heading)}
              >
                <span className="min-w-0 flex-1 truncate">{heading.title}</span>
                <span className="text-[11px] text-ink-3 tabular-nums">{heading.page}</span>
              </button>
            </li>
          );
        })}
      </ol>
    </div>
  );
};
