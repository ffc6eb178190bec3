import { findItem, type ItemKind, type Report, type SvgPage } from '@gaveta/core/internal';
import {
  type KeyboardEvent,
  type MouseEvent,
  memo,
  type ReactNode,
  useEffect,
  useLayoutEffect,
  useRef,
  useState,
} from 'react';
import { useStore } from 'zustand';
import { useTranslation } from '../i18n/use-translation.ts';
import { showPage } from '../live/patch.ts';
import type { Live } from '../live/use-live.ts';
import { useDesigner } from './design/state.ts';
import { isFigure } from './items/rooms.ts';

interface LivePageProps {
  live: Live;
  report: Report;
  /** What else stands at the end of its head. */
  more?: ReactNode;
}

/** The report's first pages from real rows. A click on something selects its item on the board. */
export const LivePage = memo(({ live, report, more }: LivePageProps) => {
  const { t } = useTranslation();
  const selection = useDesigner((s) => s.selection);
  const { pages, job, milliseconds, whole, count, waiting, partRows, failure } = useStore(live.view);
  const turn = (event: MouseEvent | KeyboardEvent): boolean => {
    const key = (event.target as Element).closest('[data-fold]')?.getAttribute('data-fold');
    if (!key) return false;
    event.preventDefault();
    live.turn(key);
    return true;
  };
  const pick = (event: MouseEvent): void => {
    if (turn(event)) return;
    const id = (event.target as Element).closest('[data-item]')?.getAttribute('data-item');
    if (id && findItem(report, id)) useDesigner.getState().select([id]);
  };
  const shown = pages.length;
  const extent =
    count === null
      ? t('designer.liveSoFar', { shown })
      : count > shown
        ? t('designer.liveFirst', { shown, count })
        : t('designer.livePages', { count });
  // Ids hold letters, digits, - and _ only, as the schema checks.
  const marks = (ids: readonly string[], element = '') =>
    ids.map((id) => `.live-pages ${element}[data-item="${id}"]`).join(',');
  const ofKind = (kind: ItemKind) => selection.filter((id) => findItem(report, id)?.item.kind === kind);
  const [tables, lists, charts] = [
    ofKind('crosstab'),
    ofKind('contents'),
    selection.filter((id) => isFigure(findItem(report, id)?.item.kind)),
  ];
  const others = selection.filter((id) => ![...tables, ...lists, ...charts].includes(id));
  return (
    <aside aria-label={t('designer.live')} className="flex h-full min-h-0 flex-col bg-desk/60">
      <header className="flex h-8 flex-none items-center gap-2 border-b border-rule bg-sheet px-3">
        <b className="text-[12px] font-semibold">{t('designer.live')}</b>
        <span
          className="truncate text-[11px] text-ink-3"
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
      {others.length > 0 && (
        <style>{`${marks(others)}{outline:1.5px solid var(--color-pine);outline-offset:1px}`}</style>
      )}
      {/* Of a drawing its box alone, not each of its lines. */}
      {charts.length > 0 && (
        <style>{`${marks(charts, '[role="img"] ')}{outline:1.5px solid var(--color-pine);outline-offset:1px}`}</style>
      )}
      {/* Of many cells the lines between them tell better than a line around each. */}
      {tables.length > 0 && <style>{`${marks(tables, 'line')}{stroke:var(--color-pine);stroke-width:1.6px}`}</style>}
      {lists.length > 0 && <style>{`${marks(lists, 'text')}{fill:var(--color-pine)}`}</style>}
      {/* biome-ignore lint/a11y/noStaticElementInteractions: the same items can be selected on the board by keyboard */}
      <div
        // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, also by keys
        tabIndex={0}
        // Its text is laid out anew for nothing around it.
        className="live-pages min-h-0 flex-1 overflow-auto p-3.5 [contain:strict]"
        onClick={pick}
        onKeyDown={(event) => (event.key === 'Enter' || event.key === ' ') && turn(event)}
      >
        {pages.map((page, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a page is its number
          <LiveSheet key={i} page={page} number={i + 1} />
        ))}
      </div>
    </aside>
  );
});

/** How long a page out of sight may lag behind the one before it, in milliseconds. */
const LAG = 800;

/** Pages out of sight that are to be shown anew: one at a time, so that no edit waits for many. */
const lateQueue = new Set<() => void>();

const pump = (): void => {
  requestIdleCallback(
    () => {
      const [next] = lateQueue;
      if (!next) return;
      lateQueue.delete(next);
      next();
      if (lateQueue.size > 0) pump();
    },
    { timeout: LAG },
  );
};

/** One page. In sight it follows at once; out of sight when there is nothing else to do. */
const LiveSheet = memo(({ page, number }: { page: SvgPage; number: number }) => {
  const sheet = useRef<HTMLDivElement>(null);
  const [inSight, setInSight] = useState(number <= 2);
  useEffect(() => {
    const root = sheet.current!.parentElement;
    const watch = new IntersectionObserver(([entry]) => setInSight(entry!.isIntersecting), {
      root,
      rootMargin: '200px',
    });
    watch.observe(sheet.current!);
    return () => watch.disconnect();
  }, []);
  useLayoutEffect(() => {
    const show = (): void => showPage(sheet.current!, page);
    if (inSight) {
      show();
      return;
    }
    lateQueue.add(show);
    if (lateQueue.size === 1) pump();
    return () => {
      lateQueue.delete(show);
    };
  }, [page, inSight]);
  return (
    <div
      ref={sheet}
      className="mx-auto mb-3.5 max-w-[1100px] bg-white shadow-[0_1px_0_#cfc6b1,0_6px_18px_#5a4d2c24] [&_svg]:block [&_svg]:h-auto [&_svg]:w-full"
      data-live-page={number}
      // Pages out of sight cost nothing.
      style={{ contentVisibility: 'auto', containIntrinsicSize: 'auto 500px' }}
    />
  );
});
