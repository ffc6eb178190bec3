import type { ConnectionSettings, SourceChange } from '@gaveta/core/internal';
import type { Connection } from '../connection/connection.ts';
import type { RegisteredModel } from '../model/define.ts';
import type { FoundModel, SourceContext, StoredSource } from './kinds/kind.ts';
import { sourceRoom } from './kinds/kinds.ts';
import { occurrences } from './raw.ts';
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
    ? new Map(
        found.tables.map((t) => [t.name, new Map(t.fields.filter((f) => !f.leftOut).map((f) => [f.name, f.type]))]),
      )
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

/** A field that goes on under its name, over a column that is the one of another field so far. */
export interface RenamedColumn {
  table: string;
  field: string;
  /** The name that the column's field has now. */
  column: string;
}

/** The settings of a source in which fields go on over columns that are called otherwise now. What is not there is left out. */
export const withRenamed = (
  settings: ConnectionSettings,
  found: FoundModel,
  renamed: readonly RenamedColumn[],
): ConnectionSettings => {
  if ('tables' in found && settings.kind !== 'postgres') {
    const own = renamed.flatMap(({ table: name, field, column }) => {
      const table = found.tables.find((t) => t.name === name);
      const at = table?.fields.findIndex((f) => f.name === column) ?? -1;
      if (!table || at < 0) return [];
      const which = occurrences(table.fields.map((f) => f.column))[at]!;
      return [{ table: table.label, column: table.fields[at]!.column, which, name: field }];
    });
    const others = (settings.columns ?? []).filter(
      (c) =>
        !own.some((o) => o.table === c.table && (o.name === c.name || (o.column === c.column && o.which === c.which))),
    );
    const kept = own.map((o) => ({
      ...settings.columns?.find((c) => c.column === o.column && c.which === o.which),
      ...o,
    }));
    return { ...settings, columns: [...others, ...kept] };
  }
  if (!('input' in found) || settings.kind !== 'postgres') return settings;
  const own = renamed.flatMap(({ table, field, column }) => {
    const at = found.input.entities[table]?.fields[column]?.column;
    return at === undefined ? [] : [{ table, column: at, name: field }];
  });
  const others = (settings.columns ?? []).filter(
    (c) => !own.some((o) => o.table === c.table && (o.column === c.column || o.name === c.name)),
  );
  return { ...settings, columns: [...others, ...own] };
};
