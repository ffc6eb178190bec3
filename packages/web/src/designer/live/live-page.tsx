import type { SvgPage } from '@gaveta/core/internal';
import { type KeyboardEvent, type MouseEvent, memo, type ReactNode, type RefObject } from 'react';
import { useStore } from 'zustand';
import { useTranslation } from '../../i18n/use-translation.ts';
import type { Live } from '../../live/use-live.ts';
import { LiveSheet } from './live-sheet.tsx';

interface LivePageProps {
  live: Live;
  /** What else stands at the end of its head. */
  more?: ReactNode;
  /** What can be done on the pages besides reading them. */
  hands?: PageHands | undefined;
}

/** Handlers of what holds the pages, and what lies over each of them. */
export interface PageHands {
  outer: RefObject<HTMLDivElement | null>;
  handlers: Pick<
    React.ComponentProps<'div'>,
    'onPointerDown' | 'onPointerMove' | 'onPointerLeave' | 'onDoubleClick' | 'onKeyDown'
  >;
  over: (page: SvgPage, number: number) => ReactNode;
}

/** The report's first pages from real rows. */
export const LivePage = memo(({ live, more, hands }: LivePageProps) => {
  const { t } = useTranslation();
  const { pages, job, milliseconds, whole, count, waiting, partRows, failure } = useStore(live.view);
  const turn = (event: MouseEvent | KeyboardEvent): boolean => {
    const key = (event.target as Element).closest('[data-fold]')?.getAttribute('data-fold');
    if (!key) return false;
    event.preventDefault();
    live.turn(key);
    return true;
  };
  const shown = pages.length;
  const extent =
    count === null
      ? t('designer.liveSoFar', { shown })
      : count > shown
        ? t('designer.liveFirst', { shown, count })
        : t('designer.livePages', { count });
  return (
    <aside aria-label={t('designer.live')} className="flex h-full min-h-0 flex-col bg-desk/60">
      <header className="flex h-8 flex-none items-center gap-2 border-b border-rule bg-sheet px-3">
        <b className="flex-none text-[12px] font-semibold">{t('designer.live')}</b>
        <span
          className="min-w-0 flex-1 truncate text-[11px] text-ink-3"
          role="status"
          data-testid="live-state"
          data-job={job}
          data-whole={whole ?? undefined}
          title={whole === null ? undefined : t('designer.liveWhole', { ms: whole })}
        >
          {waiting
            ? t('designer.liveWait')
            : pages.length > 0 && t('designer.liveState', { page: extent, ms: milliseconds })}
        </span>
        {more}
      </header>
      {failure && <p className="bg-rust-soft px-3 py-1.5 text-rust">{t('designer.liveFailed', { detail: failure })}</p>}
      {partRows !== null && <p className="bg-brass-soft px-3 py-1.5">{t('designer.livePart', { count: partRows })}</p>}
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the same items can be selected on the board by keyboard */}
      <div
        ref={hands?.outer}
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, also by keys
        tabIndex={0}
        data-testid="live-pages"
        // Places on paper are counted from its left edge in every language.
        dir="ltr"
        // Its text is laid out anew for nothing around it.
        className={`live-pages min-h-0 flex-1 overflow-auto p-2 outline-none [contain:strict] focus-visible:shadow-[inset_0_2px_0_var(--color-pine)] ${hands ? 'select-none' : ''}`}
        {...hands?.handlers}
        onClick={(event) => {
          // A link that is being designed is not followed.
          if (!turn(event) && hands && (event.target as Element).closest('a')) event.preventDefault();
        }}
        onKeyDown={(event) => {
          if ((event.key === 'Enter' || event.key === ' ') && turn(event)) return;
          hands?.handlers.onKeyDown?.(event);
        }}
      >
        {pages.map((page, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a page is its number
          <LiveSheet key={i} page={page} number={i + 1} over={hands?.over ?? null} />
        ))}
      </div>
    </aside>
  );
});
