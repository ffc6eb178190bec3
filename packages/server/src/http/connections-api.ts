import { type Request, type Response, Router } from 'express';
import { ownerOf, type Right, type Session } from '../access/session.ts';
import type { Catalogue } from '../catalogue/catalogue.ts';
import { ConnectionError, StatementError } from '../connection/connection.ts';
import { fieldUsers } from '../recipes/users.ts';
import { occurrences, SourceError } from '../sources/raw.ts';
import { type FoundModel, findModel, type StoredSource, sameTarget, sourceChanges } from '../sources/stored.ts';
import type { TableLook } from '../sources/tables.ts';
import type { Store } from '../store/store.ts';
import { body } from './body.ts';
import { connectionBody } from './data-bodies.ts';
import { ApiError } from './errors.ts';
import { goneSignal } from './gone.ts';
import type { Uploads } from './uploads.ts';

export interface ConnectionsApiParts {
  store: Store;
  catalogue: Catalogue;
  allow: (request: Request, right: Right) => Session;
  allowedAddresses: readonly string[];
  uploads: Uploads;
  /** Whether there is a key to keep secrets under. */
  hasKey: boolean;
}

/** Connections that people make by hand: databases, files and services. */
export const createConnectionsApi = (parts: ConnectionsApiParts): Router => {
  const { store, catalogue, allow, uploads } = parts;
  const { data } = store;
  const api = Router();

  api.get('/connections', async (request, response) => {
    allow(request, 'design');
    const made = catalogue.made.map(({ source, hasSecret, isLocked, found, changedAt, changedBy }) => ({
      name: source.name,
      label: source.label,
      settings: source.settings,
      hasSecret,
      isLocked,
      hasFile: source.data !== null,
      tables: 'tables' in found ? found.tables.length : Object.keys(found.input.entities).length,
      changedAt,
      changedBy,
    }));
    const fixed = [...catalogue.connections].flatMap(([name, connection]) =>
      catalogue.isFixed(name) ? [{ name, kind: connection.kind }] : [],
    );
    response.json({ made, fixed, allowedAddresses: parts.allowedAddresses, keepsSecrets: parts.hasKey });
  });
  const sourceIn = async (request: Request, caller: Session): Promise<StoredSource> => {
    const { name, label, settings, secret, upload } = body(connectionBody, request);
    if (catalogue.isFixed(name)) throw new ApiError('connection-fixed', { name });
    const before = catalogue.made.find((c) => c.source.name === name)?.source;
    // A secret goes on only to where it was meant for.
    const kept = before && sameTarget(before.settings, settings) ? before.secret : {};
    return {
      name,
      label,
      settings,
      secret: secret ?? kept,
      data: upload === undefined ? (before?.data ?? null) : await uploads.read(ownerOf(caller), upload),
    };
  };
  const looked = async (source: StoredSource, response: Response) => {
    try {
      const signal = AbortSignal.any([goneSignal(response), AbortSignal.timeout(60_000)]);
      return await findModel(source, catalogue.sources, signal);
    } catch (error) {
      if (error instanceof SourceError || error instanceof ConnectionError || error instanceof StatementError)
        throw new ApiError('connection-not-usable', { detail: sentence(error.message) });
      throw error;
    }
  };
  api.post('/connections/test', async (request, response) => {
    const source = await sourceIn(request, allow(request, 'data'));
    const { found, looks } = await looked(source, response);
    response.json({ tables: tablesOf(found, looks) });
  });
  api.put('/connections', async (request, response) => {
    const caller = allow(request, 'data');
    const source = await sourceIn(request, caller);
    const { found, looks } = await looked(source, response);
    if (Object.keys(source.secret).length > 0 && !parts.hasKey) throw new ApiError('no-key');
    const before = catalogue.made.find((c) => c.source.name === source.name);
    await data.putConnection(source, found, caller.user);
    const stored = (await data.connections()).find((c) => c.source.name === source.name)!;
    catalogue.add(stored);
    response.json({ tables: tablesOf(found, looks), changes: before ? sourceChanges(before.found, found) : [] });
  });
  /** Looks again at what a source holds. With `keep=false` only says what would change. */
  api.post('/connections/:name/refresh', async (request, response) => {
    const { user } = allow(request, 'data');
    const { name } = request.params;
    const before = catalogue.made.find((c) => c.source.name === name);
    if (!before) throw new ApiError('unknown-connection', { name });
    const { found } = await looked(before.source, response);
    const changes = sourceChanges(before.found, found);
    const users = await fieldUsers(store, name, changes);
    if (request.query.keep !== 'false') {
      await data.putConnection(before.source, found, user);
      catalogue.add((await data.connections()).find((c) => c.source.name === name)!);
    }
    response.json({ changes, users });
  });
  api.delete('/connections/:name', async (request, response) => {
    allow(request, 'data');
    const { name } = request.params;
    if (!(await data.removeConnection(name))) throw new ApiError('unknown-connection', { name });
    await catalogue.remove(name);
    response.status(204).end();
  });
  return api;
};

const sentence = (text: string): string => {
  const whole = text.charAt(0).toUpperCase() + text.slice(1);
  return /[.!?]$/.test(whole) ? whole : `${whole}.`;
};

const tablesOf = (found: FoundModel, looks: readonly TableLook[]) =>
  'tables' in found
    ? found.tables.map(({ name, label, fields }, t) => {
        const which = occurrences(fields.map((f) => f.column));
        return {
          name,
          label,
          rows: looks[t]?.rows ?? [],
          fields: fields.map(({ name: field, column, type, label: own, writing }, f) => ({
            name: field,
            label: own ?? column,
            type,
            column,
            which: which[f]!,
            ...writing,
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
