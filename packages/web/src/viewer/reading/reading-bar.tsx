import { BookOpen, Check, ChevronLeft, ChevronRight, Minus, Plus } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { type ReactNode, useState } from 'react';
import { useTranslation } from '../../i18n/use-translation.ts';
import { IconButton } from '../../ui/controls.tsx';
import { READING_MODES, type Zoom } from './modes.ts';
import { MODE_KEYS, ZOOM_KEYS } from './reading-keys.ts';
import type { Reading } from './use-reading.ts';

const SIZES = [0.5, 0.75, 1.25, 1.5, 2] as const;
const FITS = ['auto', 'width', 'page', 1] as const satisfies readonly Zoom[];

interface ReadingBarProps {
  reading: Reading;
  count: number;
  /** All pages are there. */
  done: boolean;
}

/** The bar at the foot: the page that is read, how large pages are, and how they stand. */
export const ReadingBar = ({ reading, count, done }: ReadingBarProps) => {
  const { t } = useTranslation();
  const { page, scale, zoom, mode } = reading;
  const goTo = (number: number): void => reading.goTo({ page: number, y: 0 });
  return (
    <footer>
      <div
        role="toolbar"
        aria-label={t('viewer.toolbar')}
        className="fixed bottom-4 left-1/2 flex h-9 max-w-[calc(100vw-8px)] -translate-x-1/2 items-center gap-1 rounded-full bg-bar px-2 text-bar-text forced-colors:border max-sm:bottom-1.5 [&_button]:text-bar-text [&_button:hover]:bg-white/15"
      >
        <IconButton label={t('viewer.previous')} disabled={page <= 1} onClick={() => reading.turn(-1, count)}>
          <ChevronLeft size={15} />
        </IconButton>
        <PagePlace page={page} count={count} done={done} isLong={mode === 'long'} goTo={goTo} />
        <IconButton label={t('viewer.next')} disabled={page >= count} onClick={() => reading.turn(1, count)}>
          <ChevronRight size={15} />
        </IconButton>
        <span aria-hidden className="mx-1 h-4 w-px bg-bar-text/30 max-sm:hidden" />
        <IconButton label={t('viewer.zoomOut')} className="max-sm:hidden" onClick={() => reading.zoomBy(-1)}>
          <Minus size={15} />
        </IconButton>
        <BarMenu
          label={t('viewer.zoom')}
          button={
            <button
              type="button"
              title={t('viewer.zoom')}
              aria-label={`${t('viewer.zoom')}: ${Math.round(scale * 100)}%`}
              className="h-7 min-w-12 rounded-full px-1.5 tabular-nums"
            >
              {Math.round(scale * 100)}%
            </button>
          }
        >
          {FITS.map((one) => (
            <Choice key={one} isChosen={zoom === one} shortcut={ZOOM_KEYS[one]} onPick={() => reading.setZoom(one)}>
              {t(`viewer.zoom_${one}`)}
            </Choice>
          ))}
          <DropdownMenu.Separator className="my-1 border-t border-rule-soft" />
          {SIZES.map((one) => (
            <Choice key={one} isChosen={zoom === one} onPick={() => reading.setZoom(one)}>
              {one * 100}%
            </Choice>
          ))}
        </BarMenu>
        <IconButton label={t('viewer.zoomIn')} className="max-sm:hidden" onClick={() => reading.zoomBy(1)}>
          <Plus size={15} />
        </IconButton>
        <span aria-hidden className="mx-1 h-4 w-px bg-bar-text/30 max-sm:hidden" />
        <BarMenu
          label={t('viewer.mode')}
          button={
            <IconButton label={t('viewer.mode')}>
              <BookOpen size={15} />
            </IconButton>
          }
        >
          {READING_MODES.map((one) => (
            <Choice key={one} isChosen={mode === one} shortcut={MODE_KEYS[one]} onPick={() => reading.setMode(one)}>
              {t(`viewer.mode_${one}`)}
            </Choice>
          ))}
          <DropdownMenu.Separator className="my-1 border-t border-rule-soft" />
          <Choice shortcut="F" onPick={() => reading.present(true)}>
            {t('viewer.present')}
          </Choice>
        </BarMenu>
      </div>
    </footer>
  );
};

const BarMenu = ({ label, button, children }: { label: string; button: ReactNode; children: ReactNode }) => (
  <DropdownMenu.Root>
    <DropdownMenu.Trigger asChild>{button}</DropdownMenu.Trigger>
    <DropdownMenu.Portal>
      <DropdownMenu.Content className="menu z-60" side="top" align="center" sideOffset={8} aria-label={label}>
        {children}
      </DropdownMenu.Content>
    </DropdownMenu.Portal>
  </DropdownMenu.Root>
);

interface ChoiceProps {
  isChosen?: boolean;
  shortcut?: string | undefined;
  onPick: () => void;
  children: ReactNode;
}

const Choice = ({ isChosen, shortcut, onPick, children }: ChoiceProps) => {
  const content = (
    <>
      <span className="inline-grid w-4 place-items-center">{isChosen && <Check size={13} aria-hidden />}</span>
      <span className="flex-1">{children}</span>
      {shortcut && <kbd className="ps-4 text-[11px] text-ink-3">{shortcut}</kbd>}
    </>
  );
  const className = 'menu-item flex items-center gap-1.5';
  return isChosen === undefined ? (
    <DropdownMenu.Item className={className} onSelect={onPick}>
      {content}
    </DropdownMenu.Item>
  ) : (
    <DropdownMenu.CheckboxItem className={className} checked={isChosen} onSelect={onPick}>
      {content}
    </DropdownMenu.CheckboxItem>
  );
};

interface PagePlaceProps extends Pick<ReadingBarProps, 'count' | 'done'> {
  page: number;
  /** It is a strip of a long page. */
  isLong: boolean;
  goTo: (page: number) => void;
}

/** The page that is read; pressed, another one can be typed. */
const PagePlace = ({ page, count, done, isLong, goTo }: PagePlaceProps) => {
  const { t } = useTranslation();
  const [typed, setTyped] = useState<string | null>(null);
  const leave = (): void => setTyped(null);
  if (typed !== null) {
    return (
      <form
        className="flex min-w-28 justify-center"
        onSubmit={(event) => {
          event.preventDefault();
          const number = Math.round(Number(typed));
          if (number >= 1) goTo(Math.min(count, number));
          leave();
        }}
      >
        <input
          // biome-ignore lint/a11y/noAutofocus: it was pressed to be typed in
          autoFocus
          className="h-6 w-16 rounded border border-bar-text/40 bg-transparent px-1 text-center text-bar-text"
          inputMode="numeric"
          aria-label={t('viewer.goToPage')}
          value={typed}
          onFocus={(event) => event.target.select()}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={leave}
          onKeyDown={(event) => event.key === 'Escape' && leave()}
        />
      </form>
    );
  }
  return (
    <button
      type="button"
      title={t('viewer.goToPage')}
      className="h-7 min-w-28 rounded-full px-1 text-center tabular-nums"
      data-testid="page-place"
      onClick={() => setTyped(String(page))}
    >
      {isLong
        ? t('viewer.part', { page, count })
        : done
          ? t('viewer.page', { page, count })
          : t('viewer.pageSoFar', { page })}
    </button>
  );
};
