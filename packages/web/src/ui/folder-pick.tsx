import { useQuery } from '@tanstack/react-query';
import { Command } from 'cmdk';
import { ChevronDown, Folder as FolderMark } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { type Folder, libraryQueries } from '../api/library.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { inputLook } from './controls.tsx';
import { folderLines, folderPath, isAtLeast, ROOT } from './folder-tree.ts';
import { FoundList } from './found-list.tsx';
import { matchWords } from './match.ts';
import { Panel } from './panel.tsx';

interface FolderPickProps {
  label: string;
  /** Null: where the server puts it. */
  value: string | null;
  onPick: (folder: string) => void;
  /** Folders that cannot be picked. */
  without?: (folder: Folder) => boolean;
}

/** What a folder is called: the root has no name of its own, and one’s own folder another one for oneself. */
export const useFolderName = (): ((folder: Folder) => string) => {
  const { t } = useTranslation();
  return (folder) =>
    folder.id === ROOT ? t('library.root') : folder.isPersonal && !folder.isForeign ? t('library.own') : folder.name;
};

/** Picks one of the folders that something may be put into, found by typing. */
export const FolderPick = ({ label, value, onPick, without = () => false }: FolderPickProps) => {
  const { t } = useTranslation();
  const [isOpen, setIsOpen] = useState(false);
  const { data } = useQuery(libraryQueries.folders());
  const nameOf = useFolderName();
  const folders = data?.folders ?? [];
  const root = folders.find(({ id }) => id === ROOT);
  const lines = [...(root ? [{ folder: root, depth: 0 }] : []), ...folderLines(folders)].filter(
    ({ folder }) => isAtLeast(folder.may, 'change') && !without(folder),
  );
  const chosen = folders.find(({ id }) => id === value);
  const way = (folder: Folder): string => folderPath(folders, folder.id).map(nameOf).join(' / ');
  const shown = chosen ? way(chosen) || nameOf(chosen) : t('library.chooseFolder');
  return (
    <Popover.Root open={isOpen} onOpenChange={setIsOpen}>
      <Popover.Trigger asChild>
        <button
          type="button"
          aria-label={`${label}: ${shown}`}
          className={`flex items-center gap-1.5 text-start ${inputLook}`}
        >
          <FolderMark size={13} aria-hidden className="flex-none text-brass" />
          <span className="min-w-0 flex-1 truncate">{shown}</span>
          <ChevronDown size={13} aria-hidden className="flex-none text-ink-3" />
        </button>
      </Popover.Trigger>
      <Panel label={label} align="start" className="flex w-72 flex-col overflow-hidden">
        <Command label={label} filter={matchWords} loop className="flex min-h-0 flex-1 flex-col">
          <Command.Input
            autoFocus
            placeholder={t('library.findFolder')}
            className="h-8 w-full flex-none border-b border-rule bg-paper px-2.5 outline-none"
          />
          <FoundList className="max-h-64 min-h-0 flex-1 p-1">
            <Command.Empty className="px-2 py-2 text-ink-3">{t('add.none')}</Command.Empty>
            {lines.map(({ folder, depth }) => (
              <Command.Item
                key={folder.id}
                value={folder.id}
                keywords={[way(folder), nameOf(folder)]}
                className="command-item truncate rounded py-0.5 pe-2"
                style={{ paddingInlineStart: 8 + depth * 14 }}
                onSelect={() => {
                  setIsOpen(false);
                  onPick(folder.id);
                }}
              >
                {nameOf(folder)}
              </Command.Item>
            ))}
          </FoundList>
        </Command>
      </Panel>
    </Popover.Root>
  );
};
