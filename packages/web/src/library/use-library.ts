import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { create } from 'zustand';
import { type Folder, library, libraryQueries, type Publishing, type Thing } from '../api/library.ts';
import { queries } from '../api/queries.ts';

interface Undo {
  /** What was done. */
  words: string;
  /** The other way round. */
  undo: () => Promise<unknown>;
}

/** What was done last, as long as that is said and can be undone. */
export const useUndo = create<{ last: Undo | null; error: unknown }>(() => ({ last: null, error: null }));

/** The folders, and what can be done with them and with what is in them. What fails is said where the last thing done is. */
export const useLibrary = () => {
  const client = useQueryClient();
  const { data, error, isPending, refetch } = useQuery(libraryQueries.folders());
  const changed = (): Promise<void> => client.invalidateQueries({ queryKey: ['reports'] });
  const { mutateAsync, isPending: isBusy } = useMutation({
    mutationFn: (work: () => Promise<unknown>) => work(),
    onSettled: changed,
  });
  /** Does something; what can be undone is said with words. */
  const doing = async (work: () => Promise<unknown>, undo: Undo | null = null): Promise<boolean> => {
    try {
      await mutateAsync(work);
      useUndo.setState({ last: undo, error: null });
      return true;
    } catch (failure) {
      useUndo.setState({ last: null, error: failure });
      return false;
    }
  };
  return {
    ...{ error, isPending, isBusy, doing },
    folders: data?.folders ?? [],
    isHosts: data?.decides === 'host',
    refetch: () => void refetch(),
    addFolder: (name: string, parent: string) => doing(() => library.addFolder(name, parent)),
    renameFolder: (folder: Folder, name: string, words: string) =>
      doing(() => library.changeFolder(folder.id, { name }), {
        words,
        undo: () => library.changeFolder(folder.id, { name: folder.name }),
      }),
    moveFolder: (folder: Folder, parent: string, words: string) =>
      doing(() => library.changeFolder(folder.id, { parent }), {
        words,
        undo: () => library.changeFolder(folder.id, { parent: folder.parent ?? 'root' }),
      }),
    removeFolder: (folder: Folder, words: string) =>
      doing(() => library.removeFolder(folder.id), { words, undo: () => library.restoreFolder(folder.id) }),
    describeFolder: (folder: Folder, changes: { note?: string; publishing?: Publishing | null }) =>
      doing(() => library.changeFolder(folder.id, changes)),
    rename: (thing: Thing, name: string, words: string) =>
      doing(() => library.change(thing.id, { name }), {
        words,
        undo: () => library.change(thing.id, { name: thing.name }),
      }),
    move: (thing: Thing, folder: string, words: string) => {
      const { folder: from } = thing;
      const back = from === null ? null : { words, undo: () => library.change(thing.id, { folder: from }) };
      return doing(() => library.change(thing.id, { folder }), back);
    },
    describe: (thing: Thing, changes: { note?: string; tags?: string[] }) =>
      doing(() => library.change(thing.id, changes)),
    asTemplate: (thing: Thing, words: string) =>
      doing(() => library.change(thing.id, { isTemplate: !thing.isTemplate }), {
        words,
        undo: () => library.change(thing.id, { isTemplate: thing.isTemplate }),
      }),
    keepPicture: (name: string, source: string, folder: string | null) =>
      library.keep({ gavetaPicture: 1, name, source }, folder === null ? {} : { folder }),
    copy: (thing: Thing, name: string) => doing(() => library.copy(thing.id, { name })),
    star: (thing: Thing) => doing(() => library.star(thing.id, !thing.isStarred)),
    undo: async (): Promise<void> => {
      const { last } = useUndo.getState();
      if (last) await doing(last.undo);
    },
  };
};

export type LibraryWork = ReturnType<typeof useLibrary>;

/** What the caller may do at all. */
export const useRights = () => {
  const { data } = useQuery(queries.session());
  return { user: data?.user ?? '', canDesign: data?.rights.includes('design') ?? false, session: data };
};
