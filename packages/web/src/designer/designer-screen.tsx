import { fromDescribed, type PageSetup, type Report } from '@gaveta/core/internal';
import { useQuery } from '@tanstack/react-query';
import { memo, type ReactNode, useEffect, useMemo, useState } from 'react';
import { useLocation, useNavigate, useParams } from 'react-router';
import { queries } from '../api/queries.ts';
import { useIsHidden } from '../embed/settings.ts';
import { chooseLanguage, otherLanguage } from '../i18n/i18n.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { useLive } from '../live/use-live.ts';
import { agreed, Questions } from '../ui/confirm.tsx';
import { Notice } from '../ui/controls.tsx';
import { download } from '../ui/download.ts';
import { EXPORTING } from '../ui/exporting.ts';
import { Failure } from '../ui/failure.tsx';
import { toggleNight } from '../ui/night.ts';
import { Board } from './board/board.tsx';
import { ShowsControl } from './board/shows-control.tsx';
import { AddMenu } from './commands/add-menu.tsx';
import { placePicture } from './commands/clipboard.ts';
import type { ScreenActions } from './commands/commands.ts';
import { KeySheet, Palette } from './commands/palette.tsx';
import { DataTray } from './data-tray.tsx';
import { DesignContext, LiveContext, useDesignOf } from './design/context.ts';
import { knowModels } from './design/model-of.ts';
import { outerOf } from './design/outer.ts';
import { useOverlay } from './design/overlay.ts';
import { useDesigner } from './design/state.ts';
import { reportNames } from './design/words.ts';
import { useShown, zoomBy, zoomToFit } from './design/zoom.ts';
import { ZoomSteps } from './design/zoom-steps.tsx';
import { useDrawerDrag } from './drawer/drag-drawer.ts';
import { HandsOnLive } from './live/hands-on-live.tsx';
import { Notices } from './notices.tsx';
import { ScreenColumns, WideButton } from './screen-columns.tsx';
import { TopStrip } from './top-strip.tsx';
import { SelectionTray } from './tray/selection-tray.tsx';
import { useDocument } from './use-document.ts';
import { useKeys } from './use-keys.ts';
import { usePresence } from './use-presence.ts';
import { useShownLater } from './use-shown-later.ts';

const NO_MODELS: never[] = [];

/** The same each time, so that the live page is drawn for what it shows alone. */
const LIVE_END = <WideButton part="live" />;

/** These follow the report, not each laid-out page. */
const DataTrayOf = memo(DataTray);
const SelectionTrayOf = memo(SelectionTray);
const BoardOf = memo(Board);

export const DesignerScreen = ({ home }: { home: string | null }) => {
  const { t, i18n } = useTranslation();
  const { id = null, draft } = useParams<'id' | 'draft'>();
  const key = id ?? draft ?? '';
  const navigate = useNavigate();
  const outer = outerOf(useLocation().state);
  const models = useQuery(queries.models());
  const recipes = useQuery(queries.recipes());
  const added = useQuery(queries.functions());
  const functions = useMemo(() => fromDescribed(added.data ?? []), [added.data]);
  const reports = useQuery(queries.reports());
  const history = useDesigner((s) => s.history);
  const selection = useDesigner((s) => s.selection);
  const [liveOn, setLiveOn] = useState(true);
  const [naming, setNaming] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const work = useDocument(id, key);
  const isHidden = useIsHidden();
  const presence = usePresence(id);
  const report = history?.report ?? null;
  const live = useLive(report, liveOn);
  const design = useDesignOf(report, models.data ?? NO_MODELS, recipes.data ?? NO_MODELS, functions, live);
  const { shown: later, catchUp } = useShownLater(design, live, selection);
  const { changed } = work;

  useEffect(() => {
    if (!liveOn) return;
    // The worker begins with an edit before the screen draws it.
    return useDesigner.subscribe((state) => {
      const wanted = state.trial ?? state.history?.report;
      if (wanted) live.layOut(wanted);
    });
  }, [live, liveOn]);

  useEffect(() => {
    useDesigner.setState({ reportNames: reportNames(reports.data) });
  }, [reports.data]);

  useEffect(() => knowModels(models.data ?? [], recipes.data ?? [], functions), [models.data, recipes.data, functions]);

  const leave = async (to: string, state?: unknown): Promise<void> => {
    try {
      await work.keep();
    } catch {
      if (!(await agreed(t('designer.leave'), t('designer.leaveAnyway')))) return;
    }
    navigate(to, { state });
  };
  const viewer = id === null ? `/new/${key}/try` : `/reports/${id}${changed ? '/try' : ''}`;
  const screen: ScreenActions = {
    save: () => {
      // A report gets its name when it is first saved.
      if (id === null) setNaming(true);
      else work.save();
    },
    run: () => void leave(viewer),
    exportAs: isHidden('export') ? null : () => void leave(viewer, EXPORTING),
    toggleLive: () => setLiveOn((on) => !on),
    saveFile: () => report && downloadDefinition(report),
    saveCopy: work.saveCopy,
    openRevisions: isHidden('revisions')
      ? null
      : () => {
          if (id !== null) void leave(`/reports/${id}/revisions`);
        },
    toggleNight: () => toggleNight(),
    toggleLanguage: isHidden('language') ? null : () => void chooseLanguage(otherLanguage()),
  };
  useKeys(screen, setTrouble);

  if (work.loadError) return <Failure error={work.loadError} retry={work.retry} />;
  if (!report || !history || !design || !later) return <Notice>{t('app.loading')}</Notice>;
  const clock = new Intl.DateTimeFormat(i18n.language, { timeStyle: 'short' });
  const status = work.saving
    ? t('designer.saving')
    : changed
      ? work.keptAt
        ? t('designer.kept', { time: clock.format(new Date(work.keptAt)) })
        : t('designer.unsaved')
      : t('designer.saved', { revision: work.base });
  // Not around the trays: what stands there would be drawn anew with the board, for the context of the same name that it lies within.
  const withDesign = (children: ReactNode) => (
    <DesignContext.Provider value={design}>{children}</DesignContext.Provider>
  );
  return (
    <LiveContext.Provider value={live}>
      <div className="grid h-full grid-cols-[minmax(0,1fr)] grid-rows-[44px_auto_1fr]">
        {withDesign(
          <>
            <TopStrip
              report={report}
              history={history}
              status={status}
              canSave={changed && !work.saving}
              others={presence?.others ?? []}
              naming={naming}
              onNamed={(as) => {
                setNaming(false);
                if (as !== null) work.save(as);
              }}
              onSaveNoted={(note) => work.save({ note })}
              isStored={id !== null}
              liveOn={liveOn}
              back={outer ? outer.name : home === null ? t('app.back') : t('app.reports')}
              onBack={() => void (outer ? leave(outer.path, { outer: outer.outer }) : leave(home ?? `/reports/${id}`))}
              screen={screen}
            />
            <Notices
              report={report}
              models={models.data}
              document={work}
              presence={presence}
              trouble={trouble}
              onTrouble={setTrouble}
            />
          </>,
        )}
        <ScreenColumns
          lists={
            <div
              aria-busy={later !== design}
              data-testid="trays"
              // Drawn for itself: what moves beside it does not draw it anew.
              className="isolate grid h-full min-h-0 grid-cols-[minmax(0,1fr)] grid-rows-[minmax(0,0.8fr)_minmax(0,1.25fr)]"
              onPointerDownCapture={catchUp}
              onClickCapture={catchUp}
              onKeyDownCapture={catchUp}
              onChangeCapture={catchUp}
            >
              {/* The trays may lag a moment behind the board and the live page, until something is done in them. */}
              <DesignContext.Provider value={later}>
                <DataTrayOf report={later.report} />
                <SelectionTrayOf report={later.report} />
              </DesignContext.Provider>
            </div>
          }
          board={withDesign(
            // biome-ignore lint/a11y/noStaticElementInteractions: pictures are dropped here; the menu takes them by keyboard
            <div
              className="relative flex h-full min-h-0 flex-col"
              onDragOver={(event) => event.preventDefault()}
              onDrop={(event) => {
                event.preventDefault();
                const [file] = event.dataTransfer.files;
                if (file) void placePicture(t, file, { x: event.clientX, y: event.clientY }).then(setTrouble);
              }}
            >
              <BoardOf report={report} />
              <KeyLine page={report.page} />
            </div>,
          )}
          live={liveOn ? withDesign(<HandsOnLive live={live} report={report} more={LIVE_END} />) : null}
        />
        {withDesign(<Overlays screen={screen} />)}
        <Questions />
        <DrawerHint />
      </div>
    </LiveContext.Provider>
  );
};

/** Saves the definition as a file. */
const downloadDefinition = (report: Report): void => {
  const blob = new Blob([`${JSON.stringify(report, null, 2)}\n`], { type: 'application/json' });
  download(blob, `${report.name.replace(/[^\p{L}\p{N}]+/gu, '-').toLowerCase()}.json`);
};

const Overlays = ({ screen }: { screen: ScreenActions }) => {
  const shown = useOverlay((s) => s.shown);
  return (
    <>
      {shown === 'add' && <AddMenu />}
      {shown === 'commands' && <Palette screen={screen} />}
      {shown === 'keys' && <KeySheet screen={screen} />}
    </>
  );
};

/** What letting go of a dragged drawer would do. */
const DrawerHint = () => {
  const hint = useDrawerDrag((s) => s.hint);
  if (!hint) return null;
  return (
    <div
      role="status"
      className={`pointer-events-none fixed z-50 max-w-72 rounded px-2 py-1 text-on-accent ${hint.isPossible ? 'bg-pine' : 'bg-rust'}`}
      style={{ left: hint.x + 14, top: hint.y + 8 }}
    >
      {hint.words}
    </div>
  );
};

const KeyLine = ({ page }: { page: PageSetup }) => {
  const { t } = useTranslation();
  const isAny = useDesigner((s) => s.selection.length > 0);
  const isEditing = useDesigner((s) => s.editing !== null);
  const keys: [string, string][] = isEditing
    ? [
        ['Enter', t('designer.help.done')],
        ['Shift Enter', t('designer.help.newLine')],
        ['Ctrl Space', t('designer.help.fields')],
        ['Esc', t('designer.help.giveUp')],
      ]
    : isAny
      ? [
          ['← →', t('designer.help.move')],
          ['Enter', t('designer.help.enter')],
          ['Del', t('designer.help.delete')],
          ['Ctrl D', t('designer.help.duplicate')],
          ['[ ]', t('designer.help.outward')],
        ]
      : [
          ['/', t('designer.help.add')],
          ['Ctrl K', t('designer.help.commands')],
          ['[ ]', t('designer.help.outward')],
          ['F1', t('designer.help.keys')],
        ];
  return (
    <div className="pointer-events-none absolute inset-x-4 bottom-3 flex h-8 items-center rounded-lg bg-bar px-3.5 text-[12px] whitespace-nowrap text-bar-text">
      {/* What does not fit wraps out of sight. */}
      <div aria-hidden className="me-3 flex h-8 min-w-0 flex-1 flex-wrap gap-x-3 overflow-hidden leading-8">
        {keys.map(([key, words]) => (
          <span key={key}>
            <kbd className="rounded bg-bar-key px-1.5 font-mono text-[11px]">{key}</kbd> {words}
          </span>
        ))}
      </div>
      <ShowsControl />
      <ZoomControl page={page} />
    </div>
  );
};

/** The paper, and how large the board is shown. */
const ZoomControl = ({ page }: { page: PageSetup }) => {
  const { t } = useTranslation();
  const zoom = useShown((s) => s.zoom);
  return (
    <div className="pointer-events-auto flex flex-none items-center">
      <span className="me-2 max-[1150px]:hidden">
        {t('board.paper', {
          paper: page.paper === 'custom' ? t('page.custom') : page.paper,
          orientation: t(`page.${page.orientation}`).toLowerCase(),
        })}
      </span>
      <ZoomSteps label={t('board.zoom')} zoom={zoom} onZoom={zoomBy} onFit={zoomToFit} look="hover:bg-bar-key" />
      <WideButton part="board" />
    </div>
  );
};
