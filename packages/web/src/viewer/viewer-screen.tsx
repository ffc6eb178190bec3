import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { PencilRuler } from 'lucide-react';
import { type FC, Suspense, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useLocation, useNavigate, useParams } from 'react-router';
import { ApiFailure, api, type RunState } from '../api/client.ts';
import { queries } from '../api/queries.ts';
import { tellHost } from '../embed/frame.ts';
import { useHostActions, useHostSettings, useIsHidden } from '../embed/settings.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { shownParameters } from '../parameters/all-words.ts';
import { Questions } from '../ui/confirm.tsx';
import { Button, Notice } from '../ui/controls.tsx';
import { isExporting } from '../ui/exporting.ts';
import { isAtLeast } from '../ui/folder-tree.ts';
import { useDeleting } from '../ui/use-deleting.ts';
import { ArrangedStrip } from './arranging/arranged-strip.tsx';
import { arrangingActions } from './arranging/arranging-actions.ts';
import { CaptionLook } from './arranging/caption-look.tsx';
import { useArranging } from './arranging/use-arranging.ts';
import { useCopying } from './copying/use-copying.ts';
import { ExportButton } from './export/export-button.tsx';
import { FindBar } from './find/find-bar.tsx';
import { useFind, useFindKeys } from './find/use-find.ts';
import { OriginPanel, PointedItem, SharePanel, ValueMenu, ValuesPanel, Wing } from './later-parts.ts';
import { useLinks } from './links/use-links.ts';
import { MoreMenu } from './more-menu.tsx';
import { useOrigin } from './origin/use-origin.ts';
import { useValueCursor } from './origin/use-value-cursor.tsx';
import { valueAt, valueUnder } from './origin/value-at.ts';
import type { MenuAt, ValueAction } from './origin/value-menu.tsx';
import { isInOwnWindow, openOwnWindow } from './own-window.ts';
import { usePagePictures } from './pictures.ts';
import type { Pointed } from './pointed-item.tsx';
import { everyPage } from './printing/page-numbers.ts';
import { printRun } from './printing/print.ts';
import { PrintButton, type PrintWanted } from './printing/print-button.tsx';
import { useReaderLanguages } from './reader-language.ts';
import { blocksAround } from './reading/page-blocks.ts';
import { PageRows, type PagesProps } from './reading/page-rows.tsx';
import { Presented } from './reading/presented.tsx';
import { ReadingBar } from './reading/reading-bar.tsx';
import { lookingAt } from './reading/reading-place.ts';
import { SinglePage } from './reading/single-page.tsx';
import { usePinch } from './reading/use-pinch.ts';
import { useReading, useReadingWay } from './reading/use-reading.ts';
import { useReadingKeys } from './reading/use-reading-keys.ts';
import { useSwipe } from './reading/use-swipe.ts';
import { useRefresh } from './refresh/use-refresh.ts';
import { RunWords } from './run-words.tsx';
import { type Credentials, SignIn } from './sign-in.tsx';
import { Problems, Trouble, wordsOfItems } from './troubles.tsx';
import { useFrameHeight } from './use-frame-height.ts';
import { isAllOpen, onPaper, useLaid } from './use-laid.ts';
import { useRun } from './use-run.ts';
import { useShownReport } from './use-shown-report.ts';
import { pressAction, useViewerHost } from './use-viewer-host.ts';
import { useStaging } from './values/use-staging.ts';
import { useValues } from './values/use-values.ts';
import { ValuesBar } from './values/values-bar.tsx';
import { ViewerHeader } from './viewer-header.tsx';
import { ViewerTools } from './viewer-tools.tsx';
import type { WingTab } from './wing/remembered-wing.ts';
import { useWing } from './wing/use-wing.ts';

/** Points above an item that was gone to, so that it does not stand at the edge of the window. */
const POINTED_BELOW = 60;

const NO_SIZES: RunState['sizes'] = [];

interface ViewerProps {
  /** Where the way back leads; null inside a host’s page. */
  home: string | null;
  /** Runs work that the designer has put by. */
  unsaved?: boolean;
}

/** A report to be read; another one begins anew. */
export const ViewerScreen = (props: ViewerProps) => {
  const { id, draft } = useParams();
  const shown = id ?? draft ?? '';
  return <Viewer key={shown} id={shown} isDraft={draft !== undefined} {...props} />;
};

const Viewer = ({ id, isDraft, home, unsaved = false }: ViewerProps & { id: string; isDraft: boolean }) => {
  const { t } = useTranslation();
  const navigate = useNavigate();
  const location = useLocation();
  const isHidden = useIsHidden();
  const [attempt, setAttempt] = useState(0);
  const again = (): void => setAttempt((n) => n + 1);
  const [isSharing, setSharing] = useState(false);
  const scroller = useRef<HTMLDivElement>(null);
  const reader = useReaderLanguages();
  const { report, which, setWhich } = useShownReport(id, unsaved, reader.languages);
  const session = useQuery(queries.session());
  const values = useValues(id);
  const [credentials, setCredentials] = useState<Credentials>();
  const readingWay = useReadingWay();
  const { form } = readingWay;
  const run = useRun({
    report: id,
    definition: unsaved ? report.data?.definition : null,
    which,
    given: values.given,
    arrangement: values.arrangement,
    attempt,
    form,
    languages: reader.languages,
    credentials,
  });
  const pictures = usePagePictures();
  const laid = useLaid(run.state, pictures);
  const { state } = laid;
  const { error } = run;
  const asking =
    error instanceof ApiFailure && error.code === 'needs-sign-in' ? (error.document.connections as string[]) : null;
  const done = state?.status === 'done';
  const count = state?.pages ?? 0;
  const sizes = state?.sizes ?? NO_SIZES;
  const isShown = count > 0 && sizes.length > 0;
  const reading = useReading(readingWay, scroller, sizes, isShown);
  const { page } = reading;
  // Pages of another form take the place of those before at what is looked at.
  // biome-ignore lint/correctness/useExhaustiveDependencies: when the form changes, and when a run has become one that can be laid anew
  useEffect(() => {
    if (state && state.form !== form && count > 0 && scroller.current) laid.as(form, lookingAt(scroller.current));
  }, [form, state?.id, count > 0]);
  const links = useLinks({ name: report.data?.name ?? '', laid, reading, scroller, press: values.press });

  const [isPrinting, setPrinting] = useState(false);
  const printPages = async (whole: RunState, numbers: readonly number[] = everyPage(whole.pages)): Promise<void> => {
    await printRun(whole.id, numbers, pictures);
    tellHost({ kind: 'printed', report: id });
  };
  const print = useMutation({
    mutationFn: async ({ numbers, open }: PrintWanted) => {
      if (state) await printPages(await onPaper(state, open), numbers ?? undefined);
    },
  });
  /** Something may be closed. */
  const hasClosed = state?.isFoldable === true && !isAllOpen(state);
  const host = {
    report: id,
    definition: report.data?.definition,
    state,
    error: report.error ?? error,
    page,
    values: values.given,
    runAnew: again,
    print: printPages,
    goTo: reading.goTo,
    reach: links.reach,
    setParameters: values.set,
  };
  useViewerHost(host);

  const [menu, setMenu] = useState<MenuAt | null>(null);
  const origin = useOrigin(state?.id ?? null);
  const client = useQueryClient();
  const refresh = useRefresh({
    usual: report.data?.definition.readers?.refresh ?? null,
    isHeld: () =>
      !done || menu !== null || origin.shown !== null || print.isPending || getSelection()?.isCollapsed === false,
    again: async (signal) => {
      if (!state) return;
      const next = await run.again(state, signal);
      // What is read is there before it takes the place of what was.
      const blocks = blocksAround(next.state, Math.min(page, next.state.pages), pictures);
      await Promise.all(blocks.map((block) => client.prefetchQuery(block)));
      next.show();
    },
  });

  const find = useFind(state, page);
  const { match, goings, isAway } = find;
  // biome-ignore lint/correctness/useExhaustiveDependencies: each time that a match is gone to
  useEffect(() => {
    // One that is in the document comes into view by itself.
    if (match && isAway.current && !scroller.current?.querySelector(`[data-page="${match.page}"]`))
      reading.goTo({ page: match.page, y: 0 });
  }, [match, goings, isAway]);
  const canFind = !isHidden('find');
  useFindKeys(find, canFind);

  const definition = report.data?.definition;
  const languages = report.data?.languages ?? [];
  const away = report.data?.keepingAway;
  const parameters = useMemo(() => shownParameters(definition?.parameters ?? [], away), [definition, away]);
  // What is on the board may have other parameters than what is stored, or nothing be stored yet.
  const source = useMemo(() => (unsaved && definition ? { definition } : { report: id }), [unsaved, definition, id]);
  const hasParameters = !isHidden('parameters');
  const hand = useStaging(values, parameters, source);
  const readers = report.data?.definition.readers;
  const mayDesign =
    (session.data?.rights.includes('design') ?? false) && isAtLeast(report.data?.stored?.may ?? 'manage', 'change');
  const canAsk = done && !isHidden('origin') && (readers?.origins !== 'none' || mayDesign);
  const arranging = useArranging(isHidden('arrange') ? null : (state?.id ?? null), values.arrangement, values.arrange);
  const [unfiltered, setUnfiltered] = useState<unknown>(null);
  const actions: ValueAction[] = menu
    ? [
        ...(canAsk
          ? [{ id: 'origin', label: t('viewer.origin.menu'), shortcut: 'Q', run: () => origin.ask(menu.value) }]
          : []),
        ...arrangingActions(t, arranging, menu.value, setUnfiltered),
      ]
    : [];
  const cursor = useValueCursor(scroller, {
    isOn: canAsk && !reading.isPresented,
    ask: origin.ask,
    menu: (value, x, y) => setMenu({ value, x, y }),
  });
  const [pointed, setPointed] = useState<Pointed | null>(null);
  const unpoint = useCallback(() => setPointed(null), []);
  const pointTo = async (item: string, words: string): Promise<boolean> => {
    const place = state && (await api.itemOn(state.id, item).catch(() => null));
    if (!place) return false;
    reading.goTo({ page: place.page, y: Math.max(0, place.y - POINTED_BELOW) });
    setPointed({ item, page: place.page, words });
    return true;
  };
  const said = useMemo(() => wordsOfItems(state?.problems ?? []), [state?.problems]);
  const deleting = useDeleting();
  const remove = async (): Promise<void> => {
    const isGone = await deleting.remove.mutateAsync({ id, name: report.data?.name ?? '' }).catch(() => false);
    if (isGone && home !== null) navigate(home);
  };
  useCopying(scroller);

  const hasOutline = state !== null && state.headings > 0 && !isHidden('outline');
  const wing = useWing(hasOutline);
  const tabs: WingTab[] = [
    ...(hasOutline ? (['outline'] as const) : []),
    'pages',
    ...(canFind ? (['found'] as const) : []),
  ];
  const hasWing = isShown && !isHidden('wing');
  useReadingKeys({ scroller, reading, count, onWing: wing.toggle });
  usePinch(scroller, reading);
  useSwipe(scroller, reading, count);
  const { isAutoHeight } = useHostSettings();
  const inBar = useHostActions('bar');
  useFrameHeight(scroller, isAutoHeight);
  const { isPresented } = reading;
  // Until the pages of another form are there, those that are stand as they can.
  const shownAs = state?.form === 'long' ? 'long' : reading.shownAs === 'long' ? 'continuous' : reading.shownAs;
  const Pages: FC<PagesProps & { around?: number }> = shownAs === 'single' ? SinglePage : PageRows;

  return (
    <div className={`flex h-full flex-col ${isPresented ? 'fixed inset-0 z-50 bg-[#14191b]' : ''}`}>
      {!isPresented && (
        <ViewerHeader
          home={home}
          links={links}
          name={definition?.name ?? report.data?.name ?? ''}
          wing={hasWing ? wing : null}
          find={canFind ? find : null}
          tools={
            <ViewerTools
              {...{ state, languages, reader, arranging }}
              isOfReader={!definition?.languageFrom}
              stored={report.data?.stored ?? null}
              onShow={setWhich}
              onAll={(base) => {
                if (scroller.current) laid.all(base, lookingAt(scroller.current));
              }}
            />
          }
          words={<RunWords state={state} refreshedAt={refresh.at} />}
        >
          {(state?.status === 'running' || state?.status === 'waiting') && (
            <Button onClick={() => void api.cancel(state.id)}>{t('viewer.cancel')}</Button>
          )}
          {state && state.problems.length > 0 && !isHidden('problems') && <Problems state={state} onItem={pointTo} />}
          {inBar.map(({ id: action, label }) => (
            <Button key={action} onClick={() => pressAction(action, host)}>
              {label}
            </Button>
          ))}
          <MoreMenu
            onAction={(action) => pressAction(action, host)}
            refresh={isHidden('refresh') || !done ? null : refresh}
            onWindow={isHidden('window') || isInOwnWindow() ? null : openOwnWindow}
            onLeave={isInOwnWindow() ? () => tellHost({ kind: 'leave' }) : null}
            onShare={unsaved || home === null ? null : () => setSharing(true)}
            onDeliver={
              session.data?.rights.includes('deliver') && !unsaved && home !== null
                ? () => navigate('/deliveries/new', { state: { delivery: { report: id, values: values.given } } })
                : null
            }
            onDelete={mayDesign && !unsaved && home !== null && !isHidden('design') ? remove : null}
          />
          {mayDesign && !isHidden('design') && (
            <Button onClick={() => navigate(unsaved ? (isDraft ? '..' : '../design') : 'design', { relative: 'path' })}>
              <PencilRuler size={14} aria-hidden /> <span className="max-md:sr-only">{t('viewer.design')}</span>
            </Button>
          )}
          {!isHidden('print') && (
            <PrintButton
              isOpen={isPrinting}
              onOpen={setPrinting}
              {...{ done, count, page, hasClosed }}
              isPreparing={print.isPending}
              onPrint={(wanted) => print.mutate(wanted)}
            />
          )}
          {!isHidden('export') && (
            <ExportButton
              isAsked={isExporting(location.state)}
              run={done && count > 0 ? state : null}
              parameters={parameters.map(({ name }) => name)}
              onDone={(format, name) => tellHost({ kind: 'exported', report: id, format, name })}
            />
          )}
        </ViewerHeader>
      )}
      {isSharing && (
        <Suspense>
          <SharePanel
            report={id}
            values={values.given}
            mayLink={mayDesign && isAtLeast(report.data?.stored?.may ?? 'see', 'publish')}
            onClose={() => setSharing(false)}
          />
        </Suspense>
      )}
      {!isPresented && hasParameters && (
        <ValuesBar
          source={source}
          keptFor={isDraft ? null : id}
          parameters={parameters}
          hand={hand}
          mayShare={mayDesign}
        />
      )}
      {!isPresented && <ArrangedStrip arranging={arranging} />}
      <CaptionLook arranging={arranging} />
      {!isPresented && canFind && find.isOpen && (
        <FindBar
          find={find}
          onList={hasWing ? () => wing.show('found') : null}
          onClose={() => {
            find.close();
            scroller.current?.focus({ preventScroll: true });
          }}
        />
      )}
      <div className="relative flex min-h-0 flex-1">
        {state && hasWing && !isPresented && wing.isOpen && (
          <Suspense fallback={<div className="flex-none max-sm:hidden" style={{ width: wing.width }} />}>
            <Wing {...{ wing, state, pictures, page, find, tabs }} goTo={reading.goTo} />
          </Suspense>
        )}
        <main
          ref={scroller}
          // biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, also by keys
          tabIndex={0}
          onContextMenu={(event) => {
            const value =
              getSelection()?.isCollapsed === false ? null : valueUnder(event.target, event.clientX, event.clientY);
            if (!value) return;
            event.preventDefault();
            setMenu({ value, x: event.clientX, y: event.clientY });
          }}
          className={`relative min-h-0 min-w-0 flex-1 overflow-auto outline-none ${isPresented ? 'flex items-center' : 'bg-desk px-6 pb-20 max-sm:px-2'}`}
        >
          {asking && <SignIn connections={asking} onGiven={setCredentials} />}
          <Trouble
            error={
              asking
                ? null
                : (report.error ??
                  error ??
                  laid.error ??
                  print.error ??
                  deleting.remove.error ??
                  unfiltered ??
                  refresh.error)
            }
            state={state}
            retry={again}
          />
          {isShown && (
            <Pages
              run={state!.id}
              {...{ pictures, count, done, sizes, find, scroller, said }}
              mode={shownAs}
              {...(isPresented ? { around: 0 } : {})}
              zoom={reading.scale}
              zoomAt={reading.zoomAt}
              handle={reading.handle}
              start={reading.start}
              landing={laid.landing}
              onFold={laid.turn}
              onPage={reading.setPage}
              onLink={links.follow}
              onText={(item) => {
                const column = arranging.may === 'none' ? null : arranging.captioned(item);
                if (column) arranging.press(column);
                return column !== null;
              }}
              onCell={(element) => {
                const value = canAsk ? valueAt(element) : null;
                if (value) origin.ask(value);
              }}
            />
          )}
          {cursor}
          {pointed && (
            <Suspense>
              <PointedItem pointed={pointed} scroller={scroller} onClose={unpoint} />
            </Suspense>
          )}
          {done && count === 0 && <Notice>{t('viewer.noPages')}</Notice>}
        </main>
        {hasParameters && hand.isOpen && !isPresented && (
          <Suspense>
            <ValuesPanel source={source} parameters={parameters} hand={hand} />
          </Suspense>
        )}
        {state && origin.shown && !isPresented && (
          <Suspense>
            <OriginPanel
              run={state.id}
              shown={origin.shown}
              parameters={parameters}
              values={values.given}
              goTo={reading.goTo}
              onAgain={again}
              onClose={() => {
                origin.close();
                scroller.current?.focus({ preventScroll: true });
              }}
            />
          </Suspense>
        )}
      </div>
      {menu && (
        <Suspense>
          <ValueMenu at={menu} actions={actions} onClose={() => setMenu(null)} />
        </Suspense>
      )}
      <Questions />
      {isPresented && <Presented reading={reading} count={count} />}
      {isShown && !isPresented && !isHidden('zoom') && <ReadingBar reading={reading} count={count} done={done} />}
    </div>
  );
};
