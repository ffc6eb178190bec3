import { ACCESS_LEVELS, type AccessLevel } from '@gaveta/core/internal';
import type { Folder } from '../api/library.ts';

export const ROOT = 'root';

export const isAtLeast = (may: AccessLevel, needed: AccessLevel): boolean =>
  ACCESS_LEVELS.indexOf(may) >= ACCESS_LEVELS.indexOf(needed);

export interface FolderLine {
  folder: Folder;
  /** How many folders stand around it, of those that are shown. */
  depth: number;
}

/**
 * Folders as they stand below each other: those in the root at the left edge, the own folder first, and those that others let one see
 * last. The root itself is none of them.
 */
export const folderLines = (folders: readonly Folder[]): FolderLine[] => {
  const lines: FolderLine[] = [];
  const add = (parent: string | null, depth: number, fits: (folder: Folder) => boolean): void => {
    for (const folder of folders) {
      if (folder.id === ROOT || folder.parent !== parent || !fits(folder)) continue;
      lines.push({ folder, depth });
      add(folder.id, depth + 1, () => true);
    }
  };
  add(null, 0, (folder) => folder.isPersonal && !folder.isForeign);
  add(ROOT, 0, () => true);
  add(null, 0, (folder) => !folder.isPersonal || folder.isForeign);
  return lines;
};

/** A folder and those around it, the outermost first; the root is left out. */
export const folderPath = (folders: readonly Folder[], id: string): Folder[] => {
  const path: Folder[] = [];
  let at = folders.find((folder) => folder.id === id);
  while (at && at.id !== ROOT && path.length <= folders.length) {
    path.unshift(at);
    const { parent } = at;
    at = folders.find((folder) => folder.id === parent);
  }
  return path;
};

/** Whether a folder is another one, or somewhere in it. */
export const isWithin = (folders: readonly Folder[], id: string, outer: string): boolean =>
  outer === ROOT || folderPath(folders, id).some((folder) => folder.id === outer);
