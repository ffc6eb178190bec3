import { useInfiniteQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import { queries } from '../../api/queries.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { Button } from '../../ui/controls.tsx';
import type { Find } from '../find/use-find.ts';

const ROW = 46;

/** Every place where the words that are looked for stand, with those around them; a click goes there. */
export const FoundList = ({ run, find }: { run: { id: string; pages: number; status: string }; find: Find }) => {
  const { t } = useTranslation();
  const { sought, count, at } = find;
  if (sought === null) {
    return (
      <div className="p-3 text-ink-2">
        <p>{t('viewer.wing.findTeach')}</p>
        <Button className="mt-3" onClick={find.open}>
          {t('viewer.find.open')}
        </Button>
      </div>
    );
  }
  if (count === 0) return <p className="p-3 text-ink-2">{t('viewer.find.none')}</p>;
  return <Places key={`${run.id} ${sought}`} {...{ run, sought, at }} count={count ?? 0} onPick={find.goTo} />;
};

interface PlacesProps {
  run: { id: string; pages: number; status: string };
  sought: string;
  count: number;
  at: number;
  onPick: (number: number) => void;
}

const Places = ({ run, sought, count, at, onPick }: PlacesProps) => {
  const { t } = useTranslation();
  const scroller = useRef<HTMLDivElement>(null);
  const places = useInfiniteQuery(queries.foundPlaces(run, sought));
  const known = places.data?.pages.flat() ?? [];
  const list = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 4,
  });
  const shown = list.getVirtualItems();
  const lacks = (shown.at(-1)?.index ?? 0) >= known.length;
  const { hasNextPage, isFetching, fetchNextPage } = places;
  useEffect(() => {
    if (lacks && hasNextPage && !isFetching) void fetchNextPage();
  }, [lacks, hasNextPage, isFetching, fetchNextPage]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: as one steps through them
  useEffect(() => list.scrollToIndex(at, { align: 'auto' }), [at]);
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto py-1">
      <ol className="relative" style={{ height: list.getTotalSize() }}>
        {shown.map(({ index, start }) => {
          const place = known[index];
          return (
            <li key={index} className="absolute w-full" style={{ top: start, height: ROW }}>
              <button
                type="button"
                aria-current={index === at ? 'true' : undefined}
                className="flex size-full items-start gap-2 px-3 py-1 text-start hover:bg-desk/50 aria-[current]:bg-pine-soft"
                onClick={() => onPick(index)}
              >
                <span className="line-clamp-2 min-w-0 flex-1 break-words text-ink-2">
                  {place ? (
                    <>
                      {place.before}
                      <b className="text-ink">{place.match}</b>
                      {place.after}
                    </>
                  ) : (
                    t('app.loading')
                  )}
                </span>
                {place && <span className="text-[11px] text-ink-3 tabular-nums">{place.page}</span>}
              </button>
            </li>
          );
        })}
      </ol>
    </div>
  );
};
