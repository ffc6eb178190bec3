import { type HowMarked, type MarkedPlace, type Page, pageToSvg } from '@gaveta/core/internal';
import { memo, type RefObject } from 'react';
import { useTranslation } from '../i18n/use-translation.ts';
import { Failure } from '../ui/failure.tsx';
import type { RevisionRun } from './use-compared.ts';

/** Pages that are compared: of a revision that runs, or of a result that was kept. */
export type ComparedRun = Omit<RevisionRun, 'report'>;

/** How what differs is marked: by a line as well as by colour. */
const LOOKS: Readonly<Record<HowMarked, string>> = {
  changed: 'fill-brass/25 stroke-brass',
  apart: 'fill-pine/20 stroke-pine [stroke-dasharray:3_2]',
  moved: 'fill-none stroke-ink-3 [stroke-dasharray:1_2]',
};

interface ComparedSideProps {
  run: ComparedRun | null;
  /** What is marked on its pages; null before both are there. */
  places: readonly MarkedPlace[] | null;
  addressOf: (hash: string) => string;
  title: string;
  side: string;
  scroller: RefObject<HTMLDivElement | null>;
  onScroll: () => void;
}

/** The pages of one side, with what differs from the other one marked. */
export const ComparedSide = ({ run, places, addressOf, title, side, scroller, onScroll }: ComparedSideProps) => {
  const { t } = useTranslation();
  const state = run?.state;
  return (
    <section aria-label={`${title}, ${side}`} className="flex min-h-0 flex-col border-s border-rule bg-desk/60">
      <h2 className="flex h-8 flex-none items-center gap-2 border-b border-rule bg-sheet px-3 text-[12px] font-semibold">
        {title}{' '}
        {run?.pages && state && (
          <span className="font-normal text-ink-3">{t('designer.livePages', { count: state.pages })}</span>
        )}
      </h2>
      {run && !run.pages && run.error === null && (
        <p role="status" className="px-3 py-1.5 text-ink-2">
          {t('revisions.running', { count: state?.pages ?? 0 })}
        </p>
      )}
      {run && run.error !== null && <Failure error={run.error} />}
      {state?.status === 'failed' && (
        <p className="bg-rust-soft px-3 py-1.5 text-rust-strong">{t('revisions.failed')}</p>
      )}
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, also by keys */}
      <div ref={scroller} tabIndex={0} className="min-h-0 flex-1 overflow-auto p-3.5" onScroll={onScroll}>
        {run?.shown.map((page) => (
          <Sheet
            key={page.number}
            page={page}
            places={places?.filter((place) => place.page === page.number) ?? null}
            addressOf={addressOf}
          />
        ))}
      </div>
    </section>
  );
};

const Sheet = memo(
  ({
    page,
    places,
    addressOf,
  }: {
    page: Page;
    places: readonly MarkedPlace[] | null;
    addressOf: (hash: string) => string;
  }) => (
    <div data-page={page.number} className="relative mb-3.5 bg-white shadow">
      <div
        className="[&_svg]:block [&_svg]:h-auto [&_svg]:w-full"
        // The text of every mark is escaped by pageToSvg.
        // biome-ignore lint/security/noDangerouslySetInnerHtml: see above
        dangerouslySetInnerHTML={{ __html: pageToSvg(page, addressOf) }}
      />
      {places && places.length > 0 && (
        // biome-ignore lint/a11y/noSvgWithoutTitle: the words beside the pages say what differs
        <svg
          aria-hidden
          viewBox={`0 0 ${page.width} ${page.height}`}
          className="pointer-events-none absolute inset-0 size-full"
        >
          {places.map((place, i) => (
            <rect
              // biome-ignore lint/suspicious/noArrayIndexKey: places come anew together
              key={i}
              data-differs={place.how}
              x={place.x - 1.5}
              y={place.y - 1}
              width={place.width + 3}
              height={place.height + 2}
              rx={1.5}
              strokeWidth={0.8}
              className={LOOKS[place.how]}
            />
          ))}
        </svg>
      )}
    </div>
  ),
  (a, b) => a.page === b.page && JSON.stringify(a.places) === JSON.stringify(b.places),
);

/** What the marks on the pages mean. */
export const Legend = () => {
  const { t } = useTranslation();
  return (
    <ul className="flex flex-wrap gap-3 text-[12px] text-ink-2">
      {(['changed', 'apart', 'moved'] as const).map((how) => (
        <li key={how} className="flex items-center gap-1.5">
          {/* biome-ignore lint/a11y/noSvgWithoutTitle: its words follow */}
          <svg aria-hidden viewBox="0 0 16 10" className="h-2.5 w-4">
            <rect x={1} y={1} width={14} height={8} rx={1.5} strokeWidth={1.2} className={LOOKS[how]} />
          </svg>
          {t(`revisions.marked_${how}`)}
        </li>
      ))}
    </ul>
  );
};
