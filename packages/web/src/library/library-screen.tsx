import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { FilePlus2, LayoutGrid, List, Table2, X } from 'lucide-react';
import { type ReactNode, useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { libraryQueries, type Thing } from '../api/library.ts';
import { queries } from '../api/queries.ts';
import { tellHost } from '../embed/frame.ts';
import { useIsHidden } from '../embed/settings.ts';
import { chooseLanguage, LANGUAGES, type Language } from '../i18n/i18n.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Questions } from '../ui/confirm.tsx';
import { Button, IconButton, inputLook, Notice } from '../ui/controls.tsx';
import { useDrag } from '../ui/drag.ts';
import { Failure } from '../ui/failure.tsx';
import { useFolderName } from '../ui/folder-pick.tsx';
import { folderPath } from '../ui/folder-tree.ts';
import { rememberFolder } from '../ui/save-form.tsx';
import { Select } from '../ui/select.tsx';
import { useDeleted, useDeleting } from '../ui/use-deleting.ts';
import { Begun } from './begun.tsx';
import { Bin } from './bin.tsx';
import { FolderDetails, ThingDetails } from './details.tsx';
import { FolderHead } from './folder-head.tsx';
import { NewMore } from './new-more.tsx';
import { folderOfDrop, Places } from './places.tsx';
import { KINDS, SORTS } from './spot.ts';
import { ThingMenu } from './thing-menu.tsx';
import { Things } from './things.tsx';
import { type LibraryWork, useLibrary, useRights, useUndo } from './use-library.ts';
import { type SpotState, useSpot } from './use-spot.ts';

/** Reports and sketches in their folders: found, opened, put in order, shared and deleted. */
export const LibraryScreen = () => {
  const { t } = useTranslation();
  const isHidden = useIsHidden();
  useEffect(() => tellHost({ kind: 'opened', report: null, screen: 'library' }), []);
  const navigate = useNavigate();
  const spot = useSpot();
  const work = useLibrary();
  const nameOf = useFolderName();
  const { canDesign } = useRights();
  const things = useInfiniteQuery(libraryQueries.things(spot.looking));
  const drafts = useQuery({ ...queries.drafts(), enabled: canDesign });
  const deleting = useDeleting();
  const [isRenaming, setIsRenaming] = useState(false);
  const [isFolderShown, setIsFolderShown] = useState(false);
  const { folder: opened } = spot;
  useEffect(() => {
    if (opened !== null) rememberFolder(opened);
  }, [opened]);
  const isDesignHidden = isHidden('design');
  const begun = (drafts.data ?? []).filter((draft) => draft.report === null);
  const shown = things.data?.pages.flatMap((page) => page.things) ?? [];
  const folder = work.folders.find(({ id }) => id === spot.folder);
  const selected = shown.find(({ id }) => id === spot.selected);
  const isEmpty = things.data !== undefined && shown.length === 0;
  const isList = spot.spot !== 'bin' && spot.spot !== 'begun';
  const remove = (thing: Thing): void => deleting.remove.mutate(thing);
  const drop = (thing: Thing, zone: string): void => {
    const to = folderOfDrop(zone);
    const target = work.folders.find(({ id }) => id === to);
    if (target && to !== thing.folder)
      void work.move(thing, target.id, t('library.movedTo', { name: thing.name, folder: nameOf(target) }));
  };
  const details = selected ? (
    <ThingDetails
      key={selected.id}
      thing={selected}
      {...{ work, canDesign, isDesignHidden, isRenaming }}
      onRenamed={() => setIsRenaming(false)}
      onClose={() => spot.select(null)}
    />
  ) : folder && isFolderShown ? (
    <FolderDetails key={folder.id} folder={folder} {...{ work, canDesign }} onClose={() => setIsFolderShown(false)} />
  ) : null;

  return (
    <div className="flex h-full flex-col">
      <Header canDesign={canDesign} />
      <div
        className={`grid min-h-0 flex-1 max-sm:grid-cols-1 max-sm:grid-rows-[auto_1fr] ${details ? 'lg:grid-cols-[220px_minmax(0,1fr)_270px]' : ''} sm:grid-cols-[200px_minmax(0,1fr)]`}
      >
        <div className="min-h-0 max-sm:hidden sm:grid">
          <Places
            {...{ work, spot, canDesign }}
            begun={begun.length}
            onAccess={(one) => {
              spot.go({ folder: one.id });
              setIsFolderShown(true);
            }}
          />
        </div>
        <NarrowPlaces work={work} spot={spot} canDesign={canDesign} />
        <main className="min-h-0 overflow-auto px-4 py-3.5">
          <div className="mb-3 flex flex-wrap items-center gap-2">
            <SearchBox key={`${spot.spot} ${spot.folder}`} spot={spot} />
            <span className="flex-1" />
            {isList && <Arranging spot={spot} canDesign={canDesign} />}
            {canDesign && (
              <Button onClick={() => navigate('/sketches/new')}>
                <Table2 size={15} aria-hidden /> {t('library.newSketch')}
              </Button>
            )}
            {canDesign && (
              <Button look="primary" onClick={() => navigate('/start')}>
                <FilePlus2 size={15} aria-hidden /> {t('library.new')}
              </Button>
            )}
            {canDesign && <NewMore work={work} folder={spot.folder} />}
          </div>
          {folder && spot.find === '' && (
            <FolderHead
              folder={folder}
              folders={work.folders}
              onGo={(id) => spot.go({ folder: id })}
              onAbout={() => setIsFolderShown(!isFolderShown)}
            />
          )}
          {work.error && <Failure error={work.error} retry={work.refetch} />}
          {things.error && <Failure error={things.error} retry={() => void things.refetch()} />}
          <Deleted restore={deleting.restore} />
          <Done work={work} />
          {deleting.remove.error && <Failure error={deleting.remove.error} />}
          {(spot.spot === 'begun' || (spot.spot === 'all' && spot.find === '')) && (
            <Begun drafts={begun} onForgotten={() => void drafts.refetch()} />
          )}
          {spot.spot === 'bin' && <Bin work={work} />}
          {isList && (
            <Things
              {...{ canDesign, look: spot.look, things: shown, selected: spot.selected }}
              onSelect={spot.select}
              onDrop={drop}
              onDelete={remove}
              onRename={(thing) => {
                spot.select(thing.id);
                setIsRenaming(true);
              }}
              menu={(thing) => (
                <ThingMenu
                  {...{ thing, work, canDesign, isDesignHidden }}
                  onDetails={() => spot.select(thing.id)}
                  onRename={() => {
                    spot.select(thing.id);
                    setIsRenaming(true);
                  }}
                  onDelete={() => remove(thing)}
                />
              )}
            />
          )}
          {isList && isEmpty && (
            <Notice>
              {spot.find !== ''
                ? t('library.none', { text: spot.find })
                : t(spot.kind === null ? `library.empty_${spot.looking.place}` : 'library.emptyKind')}
            </Notice>
          )}
          {isList && things.hasNextPage && (
            <Button className="mt-4" disabled={things.isFetchingNextPage} onClick={() => void things.fetchNextPage()}>
              {t('library.more')}
            </Button>
          )}
        </main>
        {details}
      </div>
      <Ghost />
      <Questions />
    </div>
  );
};

const Header = ({ canDesign }: { canDesign: boolean }) => {
  const { t, i18n } = useTranslation();
  const isHidden = useIsHidden();
  const { session } = useRights();
  const mayDeliver = session?.rights.includes('deliver') ?? false;
  // Readers are shown the way to kept results where there are any for them.
  const kept = useQuery({ ...libraryQueries.hasKept(), enabled: session !== undefined && !mayDeliver });
  const hasKept = kept.data ?? false;
  return (
    <header className="flex h-11 flex-none items-center gap-3 border-b border-rule px-4">
      <h1 className="text-[15px] font-semibold">{t('library.title')}</h1>
      {canDesign && (
        <Link to="/data" className="text-ink-2 hover:text-pine">
          {t('data.title')}
        </Link>
      )}
      {(mayDeliver || hasKept) && (
        <Link to={mayDeliver ? '/deliveries' : '/kept'} className="text-ink-2 hover:text-pine">
          {t(mayDeliver ? 'deliveries.title' : 'deliveries.tab_kept')}
        </Link>
      )}
      {canDesign && (
        <Link to="/record" className="text-ink-2 hover:text-pine">
          {t('activity.title')}
        </Link>
      )}
      {session?.rights.includes('develop') && (
        <Link to="/embedding" className="text-ink-2 hover:text-pine">
          {t('embedding.title')}
        </Link>
      )}
      <span className="flex-1" />
      {!isHidden('language') && (
        <Select
          label={t('app.language')}
          look="quiet"
          value={i18n.language as Language}
          choices={Object.entries(LANGUAGES).map(([tag, name]) => ({ value: tag as Language, label: name, lang: tag }))}
          onPick={(language) => void chooseLanguage(language)}
        />
      )}
      <span className="truncate text-ink-3">{session && t('app.signedInAs', { user: session.user })}</span>
    </header>
  );
};

/** Milliseconds without a letter after which is looked for what was typed. */
const PAUSE = 150;

/** Looks for what is typed in the place where one is. */
const SearchBox = ({ spot }: { spot: SpotState }) => {
  const { t } = useTranslation();
  const [typed, setTyped] = useState(spot.find);
  const { search } = spot;
  const now = useRef(search);
  now.current = search;
  useEffect(() => {
    const timer = setTimeout(() => now.current(typed), PAUSE);
    return () => clearTimeout(timer);
  }, [typed]);
  return (
    <input
      type="search"
      className={`${inputLook} min-w-40 max-w-72 flex-1`}
      placeholder={t('library.findHint')}
      aria-label={t('library.find')}
      maxLength={200}
      value={typed}
      onChange={(event) => setTyped(event.target.value)}
    />
  );
};

/** On a narrow screen: the same places to choose from. */
const NarrowPlaces = ({ work, spot, canDesign }: { work: LibraryWork; spot: SpotState; canDesign: boolean }) => {
  const { t } = useTranslation();
  const nameOf = useFolderName();
  const places = ['all', 'recent', 'starred', 'mine', 'shared', 'bin'] as const;
  const shown = places.filter((place) => canDesign || (place !== 'mine' && place !== 'bin'));
  const choices = [
    ...shown.map((place) => ({ value: `in ${place}`, label: t(`library.place_${place}`) })),
    ...work.folders.map((folder) => ({
      value: `folder ${folder.id}`,
      label: folderPath(work.folders, folder.id).map(nameOf).join(' / ') || nameOf(folder),
      group: t('library.folders'),
    })),
  ];
  return (
    <div className="border-b border-rule px-4 py-2 sm:hidden">
      <Select
        label={t('library.places')}
        value={spot.folder === null ? `in ${spot.spot}` : `folder ${spot.folder}`}
        choices={choices}
        onPick={(picked) => {
          const [, kind, which = ''] = /^(in|folder) (.*)$/.exec(picked) ?? [];
          if (kind === 'folder') spot.go({ folder: which });
          else spot.go(places.find((one) => one === which) ?? 'all');
        }}
      />
    </div>
  );
};

/** In which order things come, and how they are shown. */
const Arranging = ({ spot, canDesign }: { spot: SpotState; canDesign: boolean }) => {
  const { t } = useTranslation();
  return (
    <>
      {canDesign && (
        <Select
          label={t('library.kinds')}
          look="quiet"
          value={spot.kind ?? 'any'}
          choices={[
            { value: 'any', label: t('library.kinds_any') },
            ...KINDS.map((value) => ({ value, label: t(`library.kinds_${value}`) })),
          ]}
          onPick={(picked) => spot.hold(KINDS.find((one) => one === picked) ?? null)}
        />
      )}
      {spot.find === '' && (
        <Select
          label={t('library.sort')}
          look="quiet"
          value={spot.sort}
          choices={SORTS.map((value) => ({ value, label: t(`library.sort_${value}`) }))}
          onPick={spot.sortBy}
        />
      )}
      <IconButton
        label={t('library.asTiles')}
        aria-pressed={spot.look === 'tiles'}
        className={spot.look === 'tiles' ? 'bg-pine-soft text-pine' : ''}
        onClick={() => spot.showAs('tiles')}
      >
        <LayoutGrid size={15} />
      </IconButton>
      <IconButton
        label={t('library.asList')}
        aria-pressed={spot.look === 'list'}
        className={spot.look === 'list' ? 'bg-pine-soft text-pine' : ''}
        onClick={() => spot.showAs('list')}
      >
        <List size={15} />
      </IconButton>
    </>
  );
};

const Said = ({ words, action, onClose }: { words: ReactNode; action?: ReactNode; onClose: () => void }) => {
  const { t } = useTranslation();
  return (
    <div className="mb-3 flex items-center gap-2 rounded-md border border-rule bg-pine-soft/50 py-1.5 ps-3 pe-1.5">
      <span role="status" className="min-w-0 flex-1">
        {words}
      </span>
      {action}
      <IconButton label={t('app.close')} onClick={onClose}>
        <X size={14} />
      </IconButton>
    </div>
  );
};

/** Says what was done last, and takes it back. */
const Done = ({ work }: { work: LibraryWork }) => {
  const { t } = useTranslation();
  const { last, error } = useUndo();
  if (error) return <Failure error={error} />;
  if (!last) return null;
  return (
    <Said
      words={last.words}
      action={
        <Button disabled={work.isBusy} onClick={() => void work.undo()}>
          {t('library.undo')}
        </Button>
      }
      onClose={() => useUndo.setState({ last: null })}
    />
  );
};

/** Says which report was deleted last, and brings it back. */
const Deleted = ({ restore }: Pick<ReturnType<typeof useDeleting>, 'restore'>) => {
  const { t } = useTranslation();
  const report = useDeleted((s) => s.report);
  if (!report) return null;
  return (
    <Said
      words={
        <>
          {t('library.deleted', { name: report.name })}
          {restore.error && <span className="ms-2 text-rust">{String(restore.error.message)}</span>}
        </>
      }
      action={
        <Button disabled={restore.isPending} onClick={() => restore.mutate(report)}>
          {t('library.restore')}
        </Button>
      }
      onClose={() => useDeleted.setState({ report: null })}
    />
  );
};

/** What is on its way with the pointer. */
const Ghost = () => {
  const { dragged, x, y } = useDrag();
  if (!dragged) return null;
  return (
    <div
      aria-hidden
      className="pointer-events-none fixed z-90 max-w-60 truncate rounded border border-pine bg-paper px-2 py-0.5 shadow-lg"
      style={{ left: x + 12, top: y + 10 }}
    >
      {dragged.label}
    </div>
  );
};
