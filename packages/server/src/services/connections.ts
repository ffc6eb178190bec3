import type { AnswerOf, BodyRead } from '@gaveta/core/contract';
import { asSentence } from '@gaveta/core/internal';
import { ApiError } from '../base/api-error.ts';
import type { Catalogue } from '../catalogue/catalogue.ts';
import { ConnectionError, StatementError } from '../connection/connection.ts';
import { connectionUsers, fieldUsers } from '../recipes/users.ts';
import { occurrences, SourceError } from '../sources/raw.ts';
import {
  type FoundModel,
  findModel,
  type StoredSource,
  sameTarget,
  sourceChanges,
  withRenamed,
} from '../sources/stored.ts';
import type { TableLook } from '../sources/tables.ts';
import type { StoredConnection } from '../store/data-store.ts';
import { entryId } from '../store/entries.ts';
import type { Store, Where } from '../store/store.ts';
import type { ActivityBook } from './activity.ts';
import type { Caller, Calls } from './call.ts';
import type { Gate, ReportAction } from './gate.ts';
import type { UploadBox } from './uploads.ts';
import { whereNew } from './where-new.ts';

type ConnectionCalls =
  | 'GET /connections'
  | 'POST /connections/test'
  | 'PUT /connections'
  | 'POST /connections/:name/refresh'
  | 'POST /connections/:name/rename'
  | 'GET /connections/:name/users'
  | 'DELETE /connections/:name';

export interface ConnectionParts {
  store: Store;
  gate: Gate;
  book: ActivityBook;
  catalogue: Catalogue;
  allowedAddresses: readonly string[];
  uploads: UploadBox;
  /** Whether there is a key to keep secrets under. */
  hasKey: boolean;
}

/** Milliseconds that looking at a source may take. */
const LONGEST_LOOK = 60_000;

/** Connections that people make by hand: databases, files and services. */
export const connectionService = (parts: ConnectionParts): Calls<ConnectionCalls> => {
  const { store, gate, book, catalogue, uploads, hasKey } = parts;
  const { data } = store;

  /** A connection that a caller may do something with. Throws as if it were not there when they may not see it. */
  const madeFor = async (caller: Caller, action: ReportAction, name: string): Promise<StoredConnection> => {
    await gate.checkEntry(caller, action, 'connection', name);
    const found = catalogue.made.find((c) => c.source.name === name);
    if (!found) throw new ApiError('unknown-connection', { name });
    return found;
  };
  const isMade = (name: string): boolean => catalogue.made.some((c) => c.source.name === name);

  const sourceIn = async (given: BodyRead<'PUT /connections'>, caller: Caller): Promise<StoredSource> => {
    const { name, label, settings, secret, upload } = given;
    if (catalogue.isFixed(name)) throw new ApiError('connection-fixed', { name });
    if (isMade(name)) await checkOwn(caller, name);
    const before = catalogue.made.find((c) => c.source.name === name)?.source;
    // A secret goes on only to where it was meant for.
    const kept = before && sameTarget(before.settings, settings) ? before.secret : {};
    return {
      name,
      label,
      settings,
      secret: secret ?? kept,
      data: upload === undefined ? (before?.data ?? null) : await uploads.read(caller.owner, upload),
    };
  };
  /** A name belongs to one connection, which a caller may change, or is taken. */
  const checkOwn = async (caller: Caller, name: string): Promise<void> => {
    try {
      await gate.checkEntry(caller, 'change', 'connection', name);
    } catch (error) {
      const isHidden = error instanceof ApiError && error.code === 'unknown-connection';
      throw isHidden ? new ApiError('connection-name-taken', { name }) : error;
    }
  };
  const look = async (source: StoredSource, gone: AbortSignal) => {
    try {
      const signal = AbortSignal.any([gone, AbortSignal.timeout(LONGEST_LOOK)]);
      return await findModel(source, catalogue.sources, signal);
    } catch (error) {
      if (error instanceof SourceError || error instanceof ConnectionError || error instanceof StatementError)
        throw new ApiError('connection-not-usable', {
          detail: typeof error.said === 'string' ? asSentence(error.said) : error.said,
        });
      throw error;
    }
  };
  const seenBy = async (caller: Caller): Promise<StoredConnection[]> => {
    const seen = new Set((await gate.entries(caller)).map(({ id }) => id));
    return catalogue.made.filter(({ source }) => seen.has(entryId('connection', source.name)));
  };
  /** Keeps a source with what was found in it, and puts it to use. */
  const keep = async (source: StoredSource, found: FoundModel, caller: Caller, where?: Where): Promise<void> => {
    await data.putConnection(source, found, caller.user, where);
    catalogue.add((await data.connections()).find((c) => c.source.name === source.name)!);
  };

  return {
    'GET /connections': async ({ caller }) => ({
      made: (await seenBy(caller)).map(({ source, hasSecret, isLocked, found, changedAt, changedBy }) => ({
        name: source.name,
        label: source.label,
        settings: source.settings,
        hasSecret,
        isLocked,
        hasFile: source.data !== null,
        tables: 'tables' in found ? found.tables.length : Object.keys(found.input.entities).length,
        changedAt,
        changedBy,
      })),
      fixed: [...catalogue.connections].flatMap(([name, { kind }]) =>
        catalogue.isFixed(name) ? [{ name, kind }] : [],
      ),
      allowedAddresses: [...parts.allowedAddresses],
      keepsSecrets: hasKey,
    }),
    'POST /connections/test': async ({ caller, body, signal }) => {
      const { found, looks } = await look(await sourceIn(body, caller), signal);
      return { tables: tablesOf(found, looks) };
    },
    'PUT /connections': async ({ caller, body, signal }) => {
      const source = await sourceIn(body, caller);
      const { found, looks } = await look(source, signal);
      if (Object.keys(source.secret).length > 0 && !hasKey) throw new ApiError('no-key');
      const before = catalogue.made.find((c) => c.source.name === source.name);
      const where = before ? undefined : whereNew(caller, await gate.folderFor(caller, body.folder ?? null), '');
      await keep(source, found, caller, where);
      book.note(caller, before ? 'saved' : 'created', {
        id: entryId('connection', source.name),
        name: source.label,
      });
      return { tables: tablesOf(found, looks), changes: before ? sourceChanges(before.found, found) : [] };
    },
    'POST /connections/:name/refresh': async ({ caller, params: { name }, query, signal }) => {
      const before = await madeFor(caller, query.keep === 'false' ? 'view' : 'change', name);
      const { found } = await look(before.source, signal);
      const changes = sourceChanges(before.found, found);
      const users = await gate.visible(caller, await fieldUsers(store, name, changes));
      if (query.keep !== 'false') await keep(before.source, found, caller);
      return { changes, users };
    },
    'POST /connections/:name/rename': async ({ caller, params: { name }, body: { renamed }, signal }) => {
      const before = await madeFor(caller, 'change', name);
      const source = { ...before.source, settings: withRenamed(before.source.settings, before.found, renamed) };
      const { found } = await look(source, signal);
      await keep(source, found, caller);
      return { changes: sourceChanges(before.found, found) };
    },
    'GET /connections/:name/users': async ({ caller, params: { name } }) => {
      if (!catalogue.isFixed(name)) await gate.checkEntry(caller, 'view', 'connection', name);
      return gate.visible(caller, await connectionUsers(store, name));
    },
    'DELETE /connections/:name': async ({ caller, params: { name } }) => {
      const entry = await gate.checkEntry(caller, 'delete', 'connection', name);
      if (!(await data.removeConnection(name))) throw new ApiError('unknown-connection', { name });
      await catalogue.remove(name);
      book.note(caller, 'deleted', entry);
      return undefined;
    },
  };
};

const tablesOf = (found: FoundModel, looks: readonly TableLook[]): AnswerOf<'POST /connections/test'>['tables'] =>
  'tables' in found
    ? found.tables.map(({ name, label, fields }, t) => {
        const which = occurrences(fields.map((f) => f.column));
        return {
          name,
          label,
          rows: looks[t]?.rows ?? [],
          short: looks[t]?.short ?? null,
          fields: fields.map(({ name: field, column, type, label: own, writing, leftOut }, f) => ({
            name: field,
            label: own ?? column,
            type,
            column,
            which: which[f]!,
            ...writing,
            ...(leftOut ? { leftOut } : {}),
            ...looks[t]?.fields[f],
          })),
        };
      })
    : Object.entries(found.input.entities).map(([name, entity]) => ({
        name,
        label: String(entity.label),
        fields: Object.entries(entity.fields).map(([field, f]) => ({
          name: field,
          label: String(f.label),
          type: f.type,
        })),
      }));
