import type { connectionSecret } from '@gaveta/core/contract';
import type { ConnectionSettings } from '@gaveta/core/internal';
import type { z } from 'zod';
import type { Connection } from '../../connection/connection.ts';
import type { ModelInput, RegisteredModel } from '../../model/define.ts';
import type { FileLimits } from '../raw.ts';
import type { SourceThreads } from '../source-threads.ts';
import type { SourceTable, TableLook } from '../tables.ts';

export type ConnectionSecret = z.infer<typeof connectionSecret>;

/** Tables and fields as they were found: of a database as a model, of anything else as tables of cells. */
export type FoundModel = { tables: SourceTable[] } | { input: ModelInput };

export type SourceKind = ConnectionSettings['kind'];
export type SettingsOf<K extends SourceKind> = Extract<ConnectionSettings, { kind: K }>;

export interface StoredSource<S extends ConnectionSettings = ConnectionSettings> {
  name: string;
  label: string;
  settings: S;
  secret: ConnectionSecret;
  data: Uint8Array | null;
}

export interface SourceContext {
  /** Addresses that files and services may be asked at: each the start of one. */
  allowedAddresses: readonly string[];
  /** Database servers that may be reached, as `host:port`. */
  allowedDatabases: readonly string[];
  limits: FileLimits;
  threads: SourceThreads;
}

/** User and password of whoever runs a report. */
export interface Credential {
  user: string;
  password: string;
}

/** Everything that the server needs of one kind of connection that is made by hand. */
export interface SourceRoom<S extends ConnectionSettings = ConnectionSettings> {
  /** Where its secret goes, so that it goes nowhere else when the settings change; empty when it goes nowhere. */
  target: (settings: S) => string;
  /** Looks what it holds now. Throws SourceError or ConnectionError with words for the one who set it up. */
  find: (
    source: StoredSource<S>,
    context: SourceContext,
    signal: AbortSignal,
  ) => Promise<{ found: FoundModel; looks: TableLook[] }>;
  /** The source as a connection with its data model. */
  open: (
    source: StoredSource<S>,
    found: FoundModel,
    context: SourceContext,
  ) => { connection: Connection; model: RegisteredModel };
  /** The connection as somebody uses it under a name of their own; null when nobody is asked for that. */
  openFor: ((settings: S, credential: Credential, context: SourceContext) => Connection) | null;
  /** Whether whoever runs a report is asked for user and password. */
  asks: (settings: S) => boolean;
}
