import type { Folder } from '../api/library.ts';
import { useTranslation } from '../i18n/use-translation.ts';
import { Button } from '../ui/controls.tsx';
import { useDrag } from '../ui/drag.ts';
import { useFolderName } from '../ui/folder-pick.tsx';
import { folderPath, isAtLeast, ROOT } from '../ui/folder-tree.ts';
import { dropOn } from './places.tsx';

interface FolderHeadProps {
  folder: Folder;
  folders: readonly Folder[];
  onGo: (folder: string) => void;
  /** Shows what is known of it. */
  onAbout: () => void;
}

/** Where one is among the folders, and the folders in it. */
export const FolderHead = ({ folder, folders, onGo, onAbout }: FolderHeadProps) => {
  const { t } = useTranslation();
  const nameOf = useFolderName();
  const over = useDrag((drag) => drag.over);
  const path = folder.id === ROOT ? [folder] : folderPath(folders, folder.id);
  const inside = folders.filter(({ parent }) => parent === folder.id);
  return (
    <>
      <h2 className="mb-2 flex flex-wrap items-center gap-1.5 text-[14px]">
        {path.map((one, i) => (
          <span key={one.id} className="flex items-center gap-1.5">
            {i > 0 && <span className="text-ink-3">/</span>}
            {one.id === folder.id ? (
              <b className="font-semibold">{nameOf(one)}</b>
            ) : (
              <button type="button" className="hover:text-pine" onClick={() => onGo(one.id)}>
                {nameOf(one)}
              </button>
            )}
          </span>
        ))}
        <Button look="quiet" className="text-ink-2" onClick={onAbout}>
          {t('library.aboutFolder')}
        </Button>
      </h2>
      {inside.length > 0 && (
        <ul aria-label={t('library.folders')} className="mb-3 flex flex-wrap gap-2">
          {inside.map((one) => {
            const zone = isAtLeast(one.may, 'change') ? dropOn(one.id) : undefined;
            return (
              <li key={one.id} data-drop={zone}>
                <Button
                  className={zone !== undefined && over === zone ? 'outline-2 outline-dashed outline-pine' : ''}
                  onClick={() => onGo(one.id)}
                >
                  <span aria-hidden className="h-[4px] w-3 rounded-b-[4px] border-[1.5px] border-t-0 border-brass" />
                  {nameOf(one)}
                  {one.things > 0 && <span className="text-ink-3">{one.things}</span>}
                </Button>
              </li>
            );
          })}
        </ul>
      )}
    </>
  );
};
