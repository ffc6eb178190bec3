import type { PlaceInRun } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import { queries } from '../api/queries.ts';
import { useTranslation } from '../i18n/use-translation.ts';

const ROW = 26;

/** The report's headings beside its pages; a click goes there. */
export const OutlineWing = ({
  run,
  count,
  goTo,
}: {
  run: string;
  count: number;
  goTo: (place: PlaceInRun) => void;
}) => {
  const { t } = useTranslation();
  const scroller = useRef<HTMLDivElement>(null);
  const headings = useQuery({ ...queries.outline(run, count), placeholderData: (old) => old });
  const list = useVirtualizer({
    count: headings.data?.length ?? 0,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 10,
  });
  return (
    <nav aria-label={t('viewer.outline')} className="flex w-60 flex-none flex-col border-e border-rule bg-paper">
      <h2 className="border-b border-rule px-3 py-2 font-semibold text-ink-2">{t('viewer.outline')}</h2>
      <div ref={scroller} className="min-h-0 flex-1 overflow-auto py-1">
        <ol className="relative" style={{ height: list.getTotalSize() }}>
          {list.getVirtualItems().map(({ index, start }) => {
            const heading = headings.data![index]!;
            return (
              <li key={index} className="absolute w-full" style={{ top: start, height: ROW }}>
                <button
                  type="button"
                  title={heading.title}
                  className={`flex h-full w-full items-center gap-2 pe-3 text-start hover:bg-desk/50 ${heading.level === 1 ? 'font-semibold' : 'text-ink-2'}`}
                  style={{ paddingLeft: 12 + (heading.level - 1) * 14 }}
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
    </nav>
  );
};
