import { Clock, FilePen, FolderPlus, Library, Star, Trash2, User, Users } from 'lucide-react';
import { type ReactNode, useState } from 'react';
import type { Folder } from '../api/library.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { agreed } from '../ui/confirm.tsx';
import { IconButton } from '../ui/controls.tsx';
import { startDrag, useDrag } from '../ui/drag.ts';
import { useFolderName } from '../ui/folder-pick.tsx';
import { folderLines, isAtLeast, isWithin, ROOT } from '../ui/folder-tree.ts';
import { MenuLine } from '../ui/menu-line.tsx';
import { NameForm } from '../ui/name-form.tsx';
import { SmallMenu } from '../ui/small-menu.tsx';
import type { Spot } from './spot.ts';
import type { LibraryWork } from './use-library.ts';
import type { SpotState } from './use-spot.ts';

/** What a folder takes that is dropped on it. */
export const dropOn = (id: string): string => `folder ${id}`;
export const folderOfDrop = (zone: string): string | null => (zone.startsWith('folder ') ? zone.slice(7) : null);

const MARKS: Readonly<Record<Exclude<Spot, 'folder'>, ReactNode>> = {
  all: <Library size={14} aria-hidden />,
  recent: <Clock size={14} aria-hidden />,
  starred: <Star size={14} aria-hidden />,
  mine: <User size={14} aria-hidden />,
  shared: <Users size={14} aria-hidden />,
  begun: <FilePen size={14} aria-hidden />,
  bin: <Trash2 size={14} aria-hidden />,
};

interface PlacesProps {
  work: LibraryWork;
  spot: SpotState;
  canDesign: boolean;
  /** How much work is not saved. */
  begun: number;
  onAccess: (folder: Folder) => void;
}

const lineLook = (isHere: boolean, isOver = false): string =>
  `flex h-7 w-full items-center gap-2 rounded-md pe-2 text-start ${isHere ? 'bg-pine-soft font-semibold text-pine' : 'hover:bg-desk/60'} ${isOver ? 'outline-2 outline-dashed outline-pine' : ''}`;

/** The left column: what one has recently, one’s own, and all folders; each folder takes what is dropped on it. */
export const Places = ({ work, spot, canDesign, begun, onAccess }: PlacesProps) => {
  const { t } = useTranslation();
  const [adding, setAdding] = useState<string | null>(null);
  const root = work.folders.find(({ id }) => id === ROOT);
  const lines = folderLines(work.folders);
  const places = (['all', 'recent', 'starred', ...(canDesign ? (['mine'] as const) : []), 'shared'] as const).map(
    (place) => ({ place, count: null as number | null }),
  );
  const line = (place: Exclude<Spot, 'folder'>, count: number | null) => (
    <button
      key={place}
      type="button"
      aria-current={spot.spot === place ? 'page' : undefined}
      className={`${lineLook(spot.spot === place)} ps-2`}
      onClick={() => spot.go(place)}
    >
      <span className="flex-none text-brass">{MARKS[place]}</span>
      <span className="min-w-0 flex-1 truncate">{t(`library.place_${place}`)}</span>
      {count !== null && <span className="text-ink-3">{count}</span>}
    </button>
  );
  return (
    <nav
      aria-label={t('library.places')}
      className="flex min-h-0 flex-col gap-px overflow-auto border-e border-rule p-2"
    >
      {places.map(({ place, count }) => line(place, count))}
      {canDesign && begun > 0 && line('begun', begun)}
      <div className="mt-3 flex items-center ps-2">
        <h2 className="flex-1 text-[11.5px] text-ink-3">{t('library.folders')}</h2>
        {canDesign && root && isAtLeast(root.may, 'change') && (
          <IconButton label={t('library.newFolder')} onClick={() => setAdding(ROOT)}>
            <FolderPlus size={14} />
          </IconButton>
        )}
      </div>
      {adding === ROOT && <AddFolder work={work} parent={ROOT} onDone={() => setAdding(null)} />}
      {root && <FolderLine {...{ work, spot, canDesign, onAccess }} folder={root} depth={0} onAdd={setAdding} />}
      {lines.map(({ folder, depth }) => (
        <div key={folder.id}>
          <FolderLine {...{ work, spot, canDesign, folder, onAccess }} depth={depth} onAdd={setAdding} />
          {adding === folder.id && <AddFolder work={work} parent={folder.id} onDone={() => setAdding(null)} />}
        </div>
      ))}
      {canDesign && <div className="mt-3">{line('bin', null)}</div>}
    </nav>
  );
};

const AddFolder = ({ work, parent, onDone }: { work: LibraryWork; parent: string; onDone: () => void }) => {
  const { t } = useTranslation();
  return (
    <div className="px-1 pb-1">
      <NameForm
        label={t('library.folderName')}
        action={t('library.create')}
        isBusy={work.isBusy}
        onName={async (name) => {
          if (await work.addFolder(name, parent)) onDone();
        }}
        onCancel={onDone}
      />
    </div>
  );
};

interface FolderLineProps extends Pick<PlacesProps, 'work' | 'spot' | 'canDesign' | 'onAccess'> {
  folder: Folder;
  depth: number;
  onAdd: (parent: string) => void;
}

const FolderLine = ({ work, spot, canDesign, folder, depth, onAccess, onAdd }: FolderLineProps) => {
  const { t } = useTranslation();
  const nameOf = useFolderName();
  const [isRenaming, setIsRenaming] = useState(false);
  const isOver = useDrag((drag) => drag.over === dropOn(folder.id));
  const isHere = spot.folder === folder.id;
  const name = nameOf(folder);
  const mayChange = canDesign && isAtLeast(folder.may, 'change');
  const isFixed = folder.id === ROOT || folder.isPersonal;
  const moved = (to: string): void => {
    const target = work.folders.find(({ id }) => id === to);
    if (!target || to === folder.parent || isWithin(work.folders, to, folder.id)) return;
    void work.moveFolder(folder, to, t('library.movedTo', { name, folder: nameOf(target) }));
  };
  if (isRenaming)
    return (
      <NameForm
        label={t('library.folderName')}
        action={t('library.rename')}
        isBusy={work.isBusy}
        onName={async (next) => {
          if (await work.renameFolder(folder, next, t('library.renamedTo', { name, next }))) setIsRenaming(false);
        }}
        onCancel={() => setIsRenaming(false)}
      />
    );
  const remove = async (): Promise<void> => {
    const inside = work.folders.filter(({ id }) => isWithin(work.folders, id, folder.id));
    const count = inside.reduce((sum, { things }) => sum + things, 0);
    if (count > 0 && !(await agreed(t('library.deleteFolder', { name, count }), t('library.delete')))) return;
    if ((await work.removeFolder(folder, t('library.deleted', { name }))) && isHere) spot.go('all');
  };
  return (
    <div className="group relative" data-drop={mayChange ? dropOn(folder.id) : undefined}>
      <button
        type="button"
        aria-current={isHere ? 'page' : undefined}
        className={lineLook(isHere, isOver)}
        style={{ paddingInlineStart: 8 + depth * 16 }}
        onClick={() => spot.go({ folder: folder.id })}
        onPointerDown={(event) => {
          if (!mayChange || isFixed) return;
          startDrag(event, { what: dropOn(folder.id), label: name }, (zone) => {
            const to = folderOfDrop(zone);
            if (to !== null) moved(to);
          });
        }}
        onKeyDown={(event) => {
          if (!mayChange || isFixed) return;
          if (event.key === 'F2') setIsRenaming(true);
          if (event.key === 'Delete') void remove();
        }}
      >
        {/* The small drawn drawer: deeper where it is open. */}
        <span
          aria-hidden
          className={`w-3 flex-none rounded-b-[4px] border-[1.5px] border-t-0 border-brass ${isHere ? 'h-[7px]' : 'h-[4px]'}`}
        />
        <span className="min-w-0 flex-1 truncate">{name}</span>
        <span className={`text-ink-3 ${mayChange ? 'group-focus-within:invisible group-hover:invisible' : ''}`}>
          {folder.things > 0 ? folder.things : ''}
        </span>
      </button>
      {mayChange && (
        <span className="absolute end-0 top-0 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100 has-[[data-state=open]]:opacity-100">
          <SmallMenu label={t('library.folderMenu', { name })}>
            <MenuLine onSelect={() => onAdd(folder.id)}>{t('library.newFolderIn')}</MenuLine>
            {!isFixed && <MenuLine onSelect={() => setIsRenaming(true)}>{t('library.renameIt')}</MenuLine>}
            <MenuLine onSelect={() => onAccess(folder)}>{t('library.whoMay')}</MenuLine>
            {!isFixed && <MenuLine onSelect={() => void remove()}>{t('library.delete')}</MenuLine>}
          </SmallMenu>
        </span>
      )}
    </div>
  );
};
