import { type PageSizeFrom, pageToSvg } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { useLater } from '../../ui/use-later.ts';
import type { PagePictures } from '../pictures.ts';
import { blockOf } from '../reading/page-blocks.ts';
import { sizeOfPage } from '../reading/page-sizes.ts';

/** Milliseconds that a page stays in sight before it is fetched: one that is scrolled past is not. */
const PAUSE = 120;

/** Around a page, and its number below it, in CSS pixels. */
const AROUND = 16;
const NUMBER = 20;

interface ThumbnailsProps {
  run: string;
  pictures: PagePictures;
  count: number;
  done: boolean;
  sizes: readonly PageSizeFrom[];
  page: number;
  /** Of the wing, in CSS pixels. */
  width: number;
  goTo: (page: number) => void;
}

/** All pages, small; only those in sight are drawn. */
export const Thumbnails = ({ run, pictures, count, done, sizes, page, width, goTo }: ThumbnailsProps) => {
  const scroller = useRef<HTMLDivElement>(null);
  const inner = Math.max(60, Math.min(200, width - 72));
  const heightOf = (number: number): number => {
    const size = sizeOfPage(sizes, number);
    // The end of a very long one is left out.
    return Math.min(inner * 2.5, (inner * size.height) / size.width);
  };
  const list = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => heightOf(index + 1) + AROUND + NUMBER,
    overscan: 1,
  });
  const key = `${sizes.length} ${inner}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: sizes must be taken anew when they change
  useEffect(() => list.measure(), [key]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: as reading goes on
  useEffect(() => list.scrollToIndex(page - 1, { align: 'auto' }), [page, key]);
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto py-1">
      <ol className="relative" style={{ height: list.getTotalSize() }}>
        {list.getVirtualItems().map(({ index, start, size }) => (
          <li key={index} className="absolute w-full" style={{ top: start, height: size }}>
            <Thumbnail
              {...{ run, pictures, count, done }}
              number={index + 1}
              isCurrent={index + 1 === page}
              box={{ width: inner, height: heightOf(index + 1) }}
              onPress={() => goTo(index + 1)}
            />
          </li>
        ))}
      </ol>
    </div>
  );
};

interface ThumbnailProps extends Pick<ThumbnailsProps, 'run' | 'pictures' | 'count' | 'done'> {
  number: number;
  isCurrent: boolean;
  box: { width: number; height: number };
  onPress: () => void;
}

const Thumbnail = ({ run, pictures, number, count, done, isCurrent, box, onPress }: ThumbnailProps) => {
  const { t } = useTranslation();
  const isSettled = useLater(number, PAUSE).count > 0;
  const block = useQuery({
    ...blockOf(run, number, { count, done, pictures }),
    enabled: isSettled,
    placeholderData: (old, before) => (before?.queryKey[1] === run ? old : undefined),
  });
  const page = block.data?.find((one) => one.number === number);
  return (
    <button
      type="button"
      aria-label={t('viewer.wing.page', { page: number })}
      aria-current={isCurrent ? 'page' : undefined}
      className="group flex size-full flex-col items-center pt-2 hover:bg-desk/50 aria-[current]:bg-pine-soft"
      onClick={onPress}
    >
      <span
        aria-hidden
        inert
        data-thumbnail={number}
        className="page-paper block overflow-hidden bg-white shadow-[0_0_0_1px_#d9d1bd] group-aria-[current]:shadow-[0_0_0_2px_var(--color-pine)]"
        style={box}
        // The text of every mark is escaped by pageToSvg.
        // biome-ignore lint/security/noDangerouslySetInnerHtml: see above
        dangerouslySetInnerHTML={{ __html: page ? pageToSvg(page, pictures.address) : '' }}
      />
      <span aria-hidden className="pt-0.5 text-[11px] text-ink-3 tabular-nums">
        {number}
      </span>
    </button>
  );
};
