import { type GivenValue, joinChoices, type LinkTarget, type PlaceInRun, type WireValue } from '@gaveta/core/internal';
import { useMutation, useQuery } from '@tanstack/react-query';
import { ChevronLeft, ChevronRight, ListTree, Minus, PencilRuler, Plus, Printer, Search } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Link, useLocation, useNavigate, useParams, useSearchParams } from 'react-router';
import { ApiFailure, api, type ParameterValues, type RunState } from '../api/client.ts';
import { slotOf } from '../api/draft-slots.ts';
import { queries } from '../api/queries.ts';
import { tellHost } from '../embed/frame.ts';
import { useHostActions, useHostSettings, useIsHidden } from '../embed/settings.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { problemKey, problemWords, saidWords } from '../i18n/words.ts';
import { ParameterChips } from '../parameters/parameter-chips.tsx';
import { Button, IconButton, Notice } from '../ui/controls.tsx';
import { isExporting } from '../ui/exporting.ts';
import { Failure, useFailureText } from '../ui/failure.tsx';
import { Panel } from '../ui/panel.tsx';
import { ExportButton } from './export/export-button.tsx';
import { FindBar } from './find/find-bar.tsx';
import { useFind, useFindKeys } from './find/use-find.ts';
import { FoldChoice, FoldsMenu } from './folds-menu.tsx';
import { HostMenu } from './host-menu.tsx';
import { OutlineWing } from './outline-wing.tsx';
import { Pages } from './pages.tsx';
import { usePagePictures } from './pictures.ts';
import { MOST_PRINTED, printRun } from './print.ts';
import { lookingAt } from './reading-place.ts';
import { browserMemory, rememberedValues, rememberValues } from './remembered.ts';
import { RunWords } from './run-words.tsx';
import { type Credentials, SignIn } from './sign-in.tsx';
import { allOpen, isAllOpen, useFolds } from './use-folds.ts';
import { useFrameHeight } from './use-frame-height.ts';
import { useRun } from './use-run.ts';
import { pressAction, useViewerHost } from './use-viewer-host.ts';

/** `home` is where the way back leads; null inside a host's page. `unsaved` runs work that the designer has put by. */
export const ViewerScreen = ({ home, unsaved = false }: { home: string | null; unsaved?: boolean }) => {
  const { t } = useTranslation();
  const { id: stored, draft } = useParams();
  const id = stored ?? draft ?? '';
  const navigate = useNavigate();
  const location = useLocation();
  const [search, setSearch] = useSearchParams();
  const [attempt, setAttempt] = useState(0);
  const [zoom, setZoom] = useState(1);
  const [page, setPage] = useState(1);
  const scroller = useRef<HTMLDivElement>(null);
  const goTo = useRef<(place: PlaceInRun) => void>(() => {});
  const goToPage = (number: number): void => goTo.current({ page: number, y: 0 });
  const [wing, setWing] = useState(true);
  const report = useQuery({
    queryKey: unsaved ? ['draft', id] : ['report', id],
    queryFn: async () => (unsaved ? ((await api.draft(slotOf(id))) ?? (await api.draft(id))) : null) ?? api.report(id),
    staleTime: 0,
    ...(unsaved ? { gcTime: 0 } : {}),
  });
  const session = useQuery(queries.session());
  const parameters = useMemo<ParameterValues>(() => Object.fromEntries(search), [search]);
  const [credentials, setCredentials] = useState<Credentials>();
  const run = useRun(id, unsaved ? report.data?.definition : null, parameters, attempt, credentials);
  const pictures = usePagePictures();
  const folded = useFolds(run.state, pictures);
  const { state } = folded;
  const { error } = run;
  const asking =
    error instanceof ApiFailure && error.code === 'needs-sign-in' ? (error.document.connections as string[]) : null;

  const setParameter = useCallback(
    (name: string, value: GivenValue) =>
      setSearch((old) => {
        const next = new URLSearchParams(old);
        if (value === null) next.delete(name);
        else next.set(name, Array.isArray(value) ? joinChoices(value.map(String)) : String(value));
        rememberValues(browserMemory(), id, next);
        return next;
      }),
    [setSearch, id],
  );
  /** What a press on a part of the report sets; pressed again, it is taken back. */
  const press = (values: Readonly<Record<string, WireValue>>): void =>
    setSearch((old) => {
      const next = new URLSearchParams(old);
      const wanted = Object.entries(values).map(
        ([name, value]) => [name, value === null ? '' : String(value)] as const,
      );
      const isSet = wanted.every(([name, value]) => (old.get(name) ?? '') === value);
      for (const [name, value] of wanted)
        if (isSet || value === '') next.delete(name);
        else next.set(name, value);
      rememberValues(browserMemory(), id, next);
      return next;
    });
  // An address with values of its own is taken as it is.
  const isBare = search.size === 0;
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each report, when it is opened
  useEffect(() => {
    const last = rememberedValues(browserMemory(), id);
    if (isBare && last.size > 0) setSearch(last, { replace: true });
  }, [id]);
  const printWhole = async (whole: RunState): Promise<void> => {
    await printRun(whole.id, whole.pages, pictures);
    tellHost({ kind: 'printed', report: id });
  };
  const print = useMutation({
    mutationFn: async (open: boolean) => {
      if (!state) return;
      await printWhole(open ? await allOpen(state) : state);
    },
  });
  const fit = (): void => {
    const widest = Math.max(0, ...(state?.sizes ?? []).map(({ width }) => width));
    if (widest > 0 && scroller.current)
      setZoom(Math.max(0.2, (scroller.current.clientWidth - 48) / ((widest * 96) / 72)));
  };
  const done = state?.status === 'done';
  const count = state?.pages ?? 0;
  /** Something may be closed. */
  const hasClosed = state?.isFoldable === true && !isAllOpen(state);
  /** Where a link leads whose page is not there yet, or is inside something closed. */
  const [sought, setSought] = useState<string | null>(null);
  /** Goes to an anchor; false when no page has it so far. */
  const reach = async (name: string): Promise<boolean> => {
    const place = state && (await api.anchor(state.id, name).catch(() => null));
    if (place) goTo.current(place);
    return place !== null;
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: once more when all pages are there, and when they are others
  useEffect(() => {
    if (sought === null || !done) return;
    void reach(sought).then((isThere) => {
      if (!isThere && hasClosed && scroller.current) folded.all('open', lookingAt(scroller.current));
      // A link that leads nowhere leaves the reader where they are.
      else setSought(null);
    });
  }, [sought, done, hasClosed, state?.id]);
  const follow = async (to: Exclude<LinkTarget, { address: string }>): Promise<void> => {
    if (!state) return;
    if ('anchor' in to) {
      setSought((await reach(to.anchor)) ? null : to.anchor);
      return;
    }
    if ('set' in to) {
      press(to.set);
      return;
    }
    const values = Object.entries(to.parameters).flatMap(([name, value]) =>
      value === null ? [] : [[name, String(value)]],
    );
    navigate(
      { pathname: `../${encodeURIComponent(to.report)}`, search: new URLSearchParams(values).toString() },
      { relative: 'path' },
    );
  };
  const host = {
    report: id,
    definition: report.data?.definition,
    state,
    error: report.error ?? error,
    page,
    values: parameters,
    runAnew: () => setAttempt((n) => n + 1),
    print: printWhole,
    goTo,
    reach,
    setParameter,
  };
  useViewerHost(host);
  const find = useFind(state, page);
  const { match, goings, isAway } = find;
  // biome-ignore lint/correctness/useExhaustiveDependencies: each time that a match is gone to
  useEffect(() => {
    // One that is in the document comes into view by itself.
    if (match && isAway.current && !scroller.current?.querySelector(`[data-page="${match.page}"]`))
      goTo.current({ page: match.page, y: 0 });
  }, [match, goings, isAway]);
  const isHidden = useIsHidden();
  const canFind = !isHidden('find');
  useFindKeys(find, canFind);
  const { isAutoHeight } = useHostSettings();
  const inBar = useHostActions('bar');
  useFrameHeight(scroller, isAutoHeight);
  const hasOutline = state !== null && state.headings > 0 && !isHidden('outline');

  return (
    <div className="flex h-full flex-col">
      <header className="flex h-11 flex-none items-center gap-2.5 border-b border-rule px-3.5">
        {home !== null && (
          <Link to={home} className="flex items-center text-ink-2 hover:text-pine">
            <ChevronLeft size={15} aria-hidden /> {t('app.reports')}
          </Link>
        )}
        {hasOutline && (
          <IconButton
            label={t(wing ? 'viewer.hideOutline' : 'viewer.showOutline')}
            aria-pressed={wing}
            onClick={() => setWing((shown) => !shown)}
          >
            <ListTree size={16} />
          </IconButton>
        )}
        {canFind && (
          <IconButton label={t('viewer.find.open')} aria-pressed={find.isOpen} onClick={find.open}>
            <Search size={16} />
          </IconButton>
        )}
        {state?.isFoldable && !isHidden('folds') && (
          <FoldsMenu
            onAll={(base) => {
              if (scroller.current) folded.all(base, lookingAt(scroller.current));
            }}
          />
        )}
        {!isHidden('title') && <h1 className="truncate text-[14px] font-semibold">{report.data?.name}</h1>}
        <RunWords state={state} />
        <span className="flex-1" />
        {(state?.status === 'running' || state?.status === 'waiting') && (
          <Button onClick={() => void api.cancel(state.id)}>{t('viewer.cancel')}</Button>
        )}
        {state && state.problems.length > 0 && !isHidden('problems') && <Problems state={state} />}
        {inBar.map(({ id: action, label }) => (
          <Button key={action} onClick={() => pressAction(action, host)}>
            {label}
          </Button>
        ))}
        <HostMenu onPress={(action) => pressAction(action, host)} />
        {session.data?.rights.includes('design') && !isHidden('design') && (
          <Button onClick={() => navigate(unsaved ? (draft ? '..' : '../design') : 'design', { relative: 'path' })}>
            <PencilRuler size={14} aria-hidden /> <span className="max-sm:sr-only">{t('viewer.design')}</span>
          </Button>
        )}
        {!isHidden('print') && (
          <FoldChoice isOffered={hasClosed} onChoice={(open) => print.mutate(open)}>
            <Button
              disabled={!done || count === 0 || count > MOST_PRINTED || print.isPending}
              title={count > MOST_PRINTED ? t('viewer.tooManyToPrint', { most: MOST_PRINTED }) : undefined}
            >
              <Printer size={14} aria-hidden />
              <span className="max-sm:sr-only">{print.isPending ? t('viewer.printing') : t('viewer.print')}</span>
            </Button>
          </FoldChoice>
        )}
        {!isHidden('export') && (
          <ExportButton
            isAsked={isExporting(location.state)}
            run={done && count > 0 ? state : null}
            parameters={(report.data?.definition.parameters ?? []).map(({ name }) => name)}
            onDone={(format, name) => tellHost({ kind: 'exported', report: id, format, name })}
          />
        )}
      </header>
      {!isHidden('parameters') && (
        <ParameterChips
          parameters={report.data?.definition.parameters ?? []}
          values={parameters}
          onChange={setParameter}
          source={{ report: id }}
          onReset={() => {
            rememberValues(browserMemory(), id, new URLSearchParams());
            setSearch(new URLSearchParams());
          }}
        />
      )}
      {canFind && find.isOpen && (
        <FindBar
          find={find}
          onClose={() => {
            find.close();
            scroller.current?.focus({ preventScroll: true });
          }}
        />
      )}
      <div className="flex min-h-0 flex-1">
        {hasOutline && wing && (
          <OutlineWing run={state.id} count={state.headings} goTo={(place) => goTo.current(place)} />
        )}
        {/* biome-ignore lint/a11y/noNoninteractiveTabindex: it scrolls, also by keys */}
        <main ref={scroller} tabIndex={0} className="relative min-h-0 flex-1 overflow-auto bg-desk px-6 pb-20">
          {asking && <SignIn connections={asking} onGiven={setCredentials} />}
          <Trouble
            error={asking ? null : (report.error ?? error ?? folded.error ?? print.error)}
            state={state}
            retry={() => setAttempt((n) => n + 1)}
          />
          {state && state.sizes.length > 0 && count > 0 && (
            <Pages
              run={state.id}
              pictures={pictures}
              count={count}
              done={done}
              sizes={state.sizes}
              zoom={zoom}
              scroller={scroller}
              goTo={goTo}
              landing={folded.landing}
              onFold={folded.turn}
              onPage={setPage}
              find={find}
              onLink={(to) => void follow(to)}
            />
          )}
          {done && count === 0 && <Notice>{t('viewer.noPages')}</Notice>}
        </main>
      </div>
      {count > 0 && !isHidden('zoom') && (
        <footer>
          <div
            role="toolbar"
            aria-label={t('viewer.toolbar')}
            className="fixed bottom-4 left-1/2 flex h-9 -translate-x-1/2 items-center gap-1 rounded-full bg-bar px-2 text-bar-text [&_button]:text-bar-text [&_button:hover]:bg-white/15"
          >
            <IconButton label={t('viewer.previous')} disabled={page <= 1} onClick={() => goToPage(page - 1)}>
              <ChevronLeft size={15} />
            </IconButton>
            <span className="min-w-28 text-center" data-testid="page-place">
              {done ? t('viewer.page', { page, count }) : t('viewer.pageSoFar', { page })}
            </span>
            <IconButton label={t('viewer.next')} disabled={page >= count} onClick={() => goToPage(page + 1)}>
              <ChevronRight size={15} />
            </IconButton>
            <span aria-hidden className="mx-1 h-4 w-px bg-bar-text/30" />
            <IconButton label={t('viewer.zoomOut')} onClick={() => setZoom((z) => Math.max(0.2, z / 1.2))}>
              <Minus size={15} />
            </IconButton>
            <span className="min-w-11 text-center">{Math.round(zoom * 100)}%</span>
            <IconButton label={t('viewer.zoomIn')} onClick={() => setZoom((z) => Math.min(5, z * 1.2))}>
              <Plus size={15} />
            </IconButton>
            <button type="button" className="h-7 rounded-full px-2.5" onClick={fit}>
              {t('viewer.fit')}
            </button>
          </div>
        </footer>
      )}
    </div>
  );
};

const Problems = ({ state }: { state: RunState }) => {
  const { t } = useTranslation();
  return (
    <Popover.Root>
      <Popover.Trigger asChild>
        <Button look="chip" className="border-rust/40 bg-rust-soft text-rust-strong">
          {t('viewer.problems', { count: state.problems.length })}
        </Button>
      </Popover.Trigger>
      <Panel
        label={t('viewer.problems', { count: state.problems.length })}
        align="end"
        className="w-96 p-3 [--panel-height:384px]"
      >
        <ul className="space-y-2">
          {state.problems.map((p) => (
            <li key={problemKey(p)}>
              {p.place.report && <b>{p.place.report}: </b>}
              {problemWords(p)}
            </li>
          ))}
        </ul>
      </Panel>
    </Popover.Root>
  );
};

const Trouble = ({ error, state, retry }: { error: unknown; state: RunState | null; retry: () => void }) => {
  const { t } = useTranslation();
  const said = useFailureText();
  const again = <Button onClick={retry}>{t('viewer.again')}</Button>;
  if (error) return <Failure error={error} title={said(error).title} retry={retry} />;
  if (state?.status === 'failed') {
    return (
      <Notice title={t('viewer.failed')} action={again}>
        {state.said !== null && saidWords(state.said)}
      </Notice>
    );
  }
  if (state?.status === 'cancelled') return <Notice action={again}>{t('viewer.cancelled')}</Notice>;
  return null;
};
