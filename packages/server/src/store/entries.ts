import type { StoredKind } from './schema.ts';

/** Things that have a table of their own: in the library stands an entry for each, without a revision. */
export type EntryKind = Extract<StoredKind, 'recipe' | 'connection'>;

export interface Entry {
  kind: EntryKind;
  /** Id of a recipe, name of a connection. */
  key: string;
}

/** The id under which a recipe (by its id) or a connection (by its name) stands in the library. */
export const entryId = (kind: EntryKind, key: string): string => `${kind}:${key}`;

/** What an entry is of; null for the id of what is none. */
export const entryOf = (id: string): Entry | null => {
  const [, kind, key] = /^(recipe|connection):(.*)$/s.exec(id) ?? [];
  return kind === undefined ? null : { kind: kind as EntryKind, key: key! };
};
