import type { PlaceInRun } from '@gaveta/core/internal';
import { X } from 'lucide-react';
import { Tabs } from 'radix-ui';
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from 'react';
import type { RunState } from '../../api/client.ts';
import { useTranslation } from '../../i18n/use-translation.ts';
import { IconButton } from '../../ui/controls.tsx';
import type { Find } from '../find/use-find.ts';
import type { PagePictures } from '../pictures.ts';
import { FoundList } from './found-list.tsx';
import { Outline } from './outline.tsx';
import { fitWidth, type WingTab } from './remembered-wing.ts';
import { Thumbnails } from './thumbnails.tsx';
import type { Wing as WingHandle } from './use-wing.ts';

const NO_PAGES = { page: 1, width: 595, height: 842 };

interface WingProps {
  wing: WingHandle;
  state: RunState;
  pictures: PagePictures;
  /** The page that is read. */
  page: number;
  find: Find;
  tabs: readonly WingTab[];
  goTo: (place: PlaceInRun) => void;
}

/** Beside the pages: the report's headings, its pages small, and what was found. */
export const Wing = ({ wing, state, pictures, page, find, tabs, goTo }: WingProps) => {
  const { t } = useTranslation();
  const { isOver, close } = wing;
  const [dragged, setDragged] = useState<number | null>(null);
  const width = fitWidth(dragged ?? wing.width, window.innerWidth);
  const shown = tabs.includes(wing.tab) ? wing.tab : tabs[0]!;
  const left = (place: PlaceInRun): void => {
    goTo(place);
    if (isOver) close();
  };
  const panel = useRef<HTMLElement>(null);
  useEffect(() => {
    if (isOver) panel.current?.querySelector<HTMLElement>('[role="tab"][data-state="active"]')?.focus();
  }, [isOver]);
  const sizes = state.sizes.length > 0 ? state.sizes : [NO_PAGES];
  const done = state.status === 'done';
  const over = 'absolute inset-y-0 start-0 z-30 w-[min(85vw,340px)] shadow-xl';
  return (
    <>
      {isOver && (
        <button
          type="button"
          tabIndex={-1}
          aria-label={t('viewer.wing.close')}
          className="absolute inset-0 z-20 bg-ink/30"
          onClick={close}
        />
      )}
      <nav
        ref={panel}
        aria-label={t('viewer.wing.title')}
        className={`flex flex-none flex-col border-e border-rule bg-paper ${isOver ? over : 'relative'}`}
        style={isOver ? undefined : { width }}
        onKeyDown={(event) => event.key === 'Escape' && isOver && close()}
      >
        <Tabs.Root
          value={shown}
          onValueChange={(tab) => wing.show(tab as WingTab)}
          className="flex min-h-0 flex-1 flex-col"
        >
          <div className="flex items-center border-b border-rule pe-1">
            <Tabs.List aria-label={t('viewer.wing.title')} className="flex min-w-0 flex-1 gap-1 overflow-x-auto px-2">
              {tabs.map((tab) => (
                <Tabs.Trigger
                  key={tab}
                  value={tab}
                  className="border-b-2 border-transparent px-1.5 focus-visible:-outline-offset-2 pt-2 pb-1.5 text-ink-2 hover:text-ink data-[state=active]:border-brass data-[state=active]:font-semibold data-[state=active]:text-ink"
                >
                  {t(`viewer.wing.${tab}`)}
                </Tabs.Trigger>
              ))}
            </Tabs.List>
            <IconButton label={t('viewer.wing.close')} onClick={close}>
              <X size={14} aria-hidden />
            </IconButton>
          </div>
          <Tabs.Content value={shown} tabIndex={-1} className="flex min-h-0 flex-1 flex-col">
            {shown === 'outline' && <Outline run={state.id} count={state.headings} page={page} goTo={left} />}
            {shown === 'pages' && (
              <Thumbnails
                run={state.id}
                pictures={pictures}
                count={state.pages}
                done={done}
                sizes={sizes}
                page={page}
                width={isOver ? 300 : width}
                goTo={(number) => left({ page: number, y: 0 })}
              />
            )}
            {shown === 'found' && (
              <FoundList
                run={state}
                find={{
                  ...find,
                  goTo: (number) => {
                    find.goTo(number);
                    if (isOver) close();
                  },
                }}
              />
            )}
          </Tabs.Content>
        </Tabs.Root>
        {!isOver && (
          <Grip
            width={width}
            onDrag={setDragged}
            onDrop={(next) => {
              setDragged(null);
              wing.setWidth(fitWidth(next, window.innerWidth));
            }}
          />
        )}
      </nav>
    </>
  );
};

interface GripProps {
  width: number;
  onDrag: (width: number) => void;
  onDrop: (width: number) => void;
}

/** CSS pixels that an arrow key moves an edge by. */
const STEP = 16;

/** The wing's edge: dragged, or moved by arrow keys. */
const Grip = ({ width, onDrag, onDrop }: GripProps) => {
  const { t } = useTranslation();
  const begun = useRef<{ x: number; width: number } | null>(null);
  const isRightToLeft = (): boolean => document.documentElement.dir === 'rtl';
  const widthAt = ({ clientX }: PointerEvent): number => {
    const { x, width: from } = begun.current!;
    return from + (clientX - x) * (isRightToLeft() ? -1 : 1);
  };
  return (
    // biome-ignore lint/a11y/useSemanticElements: a separator that is moved has a value
    <div
      role="separator"
      tabIndex={0}
      aria-orientation="vertical"
      aria-label={t('viewer.wing.width')}
      aria-valuenow={width}
      aria-valuemin={160}
      aria-valuemax={520}
      className="absolute inset-y-0 -end-1 z-10 w-2 cursor-col-resize touch-none hover:bg-brass/30 focus-visible:bg-brass/40"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        begun.current = { x: event.clientX, width };
      }}
      onPointerMove={(event) => begun.current && onDrag(widthAt(event))}
      onPointerUp={(event) => {
        if (!begun.current) return;
        onDrop(widthAt(event));
        begun.current = null;
      }}
      onKeyDown={(event: KeyboardEvent) => {
        const wider = isRightToLeft() ? 'ArrowLeft' : 'ArrowRight';
        if (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight') return;
        event.preventDefault();
        onDrop(width + (event.key === wider ? STEP : -STEP));
      }}
    />
  );
};
