import type { SourceChange } from '@gaveta/core/internal';
import type { Connection } from '../connection/connection.ts';
import type { RegisteredModel } from '../model/define.ts';
import type { FoundModel, SourceContext, StoredSource } from './kinds/kind.ts';
import { sourceRoom } from './kinds/kinds.ts';
import type { TableLook } from './tables.ts';

export type {
  ConnectionSecret,
  FoundModel,
  SourceContext,
  StoredSource,
} from './kinds/kind.ts';

/** Looks what a source holds now. Throws SourceError or ConnectionError with words for the one who set it up. */
export const findModel = (
  source: StoredSource,
  context: SourceContext,
  signal: AbortSignal,
): Promise<{ found: FoundModel; looks: TableLook[] }> => sourceRoom(source.settings).find(source, context, signal);

/** A stored source as a connection with its data model. */
export const openSource = (
  source: StoredSource,
  found: FoundModel,
  context: SourceContext,
): { connection: Connection; model: RegisteredModel } => sourceRoom(source.settings).open(source, found, context);

/** Whether a secret that was given for the one may be used for the other. */
export const sameTarget = (a: StoredSource['settings'], b: StoredSource['settings']): boolean =>
  a.kind === b.kind && sourceRoom(a).target(a) === sourceRoom(b).target(b);

const shape = (found: FoundModel): Map<string, Map<string, string>> =>
  'tables' in found
    ? new Map(found.tables.map((t) => [t.name, new Map(t.fields.map((f) => [f.name, f.type]))]))
    : new Map(
        Object.entries(found.input.entities).map(([name, entity]) => [
          name,
          new Map(Object.entries(entity.fields).map(([field, { type }]) => [field, type])),
        ]),
      );

export const sourceChanges = (before: FoundModel, after: FoundModel): SourceChange[] => {
  const [old, now] = [shape(before), shape(after)];
  const changes: SourceChange[] = [];
  for (const [table, fields] of old) {
    const current = now.get(table);
    if (!current) {
      changes.push({ table, field: null, change: 'gone' });
      continue;
    }
    for (const [field, type] of fields) {
      const found = current.get(field);
      if (found === undefined) changes.push({ table, field, change: 'gone' });
      else if (found !== type) changes.push({ table, field, change: 'type', from: type, to: found });
    }
    for (const field of current.keys()) if (!fields.has(field)) changes.push({ table, field, change: 'added' });
  }
  for (const table of now.keys()) if (!old.has(table)) changes.push({ table, field: null, change: 'added' });
  return changes;
};
