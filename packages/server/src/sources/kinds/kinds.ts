import type { SettingsOf, SourceKind, SourceRoom, StoredSource } from './kind.ts';
import { postgresKind } from './postgres.ts';
import { readKind } from './read.ts';

const SOURCE_KINDS: { readonly [K in SourceKind]: SourceRoom<SettingsOf<K>> } = {
  postgres: postgresKind,
  file: readKind,
  http: readKind,
};

/** Records are by kind: a source's room is that of its own kind. */
export const sourceRoom = ({ kind }: StoredSource['settings']): SourceRoom => SOURCE_KINDS[kind] as SourceRoom;
