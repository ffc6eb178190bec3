import { digestOf, type Known, type LibraryFile } from './folder-on-disk.ts';

/**
 * How a file stands here and on the server: the same; changed on one side since both were last the same, or new or gone there; or on
 * both, differently.
 */
export type Standing = 'same' | 'here' | 'there' | 'both';

export interface Side {
  path: string;
  standing: Standing;
  here: string | null;
  there: string | null;
}

/** Both sides of each file, by path. Without what was known before, what differs differs on both. */
export const bothSides = (
  here: readonly LibraryFile[],
  there: readonly LibraryFile[],
  known: Pick<Known, 'files'> | null,
): Side[] => {
  const own = new Map(here.map(({ path, text }) => [path, text]));
  const other = new Map(there.map(({ path, text }) => [path, text]));
  return [...new Set([...own.keys(), ...other.keys()])].sort().map((path) => {
    const [mine, theirs] = [own.get(path) ?? null, other.get(path) ?? null];
    const digest = (text: string | null): string | null => (text === null ? null : digestOf({ path, text }));
    const [a, b, before] = [digest(mine), digest(theirs), known?.files[path] ?? null];
    const standing: Standing = a === b ? 'same' : b === before ? 'here' : a === before ? 'there' : 'both';
    return { path, standing, here: mine, there: theirs };
  });
};
