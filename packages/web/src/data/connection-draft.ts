import type { ConnectionDraft, ConnectionSettings, MadeConnection } from '../api/client.ts';
import type { NamesIn } from '../i18n/keys.ts';
import { freeName } from './recipe-draft.ts';

export type ConnectionKind = ConnectionSettings['kind'];

const writing = { decimal: '.', dates: 'ymd' } as const;

/** Settings that a new connection of a kind starts with. */
export const newSettings = (kind: ConnectionKind): ConnectionSettings => {
  switch (kind) {
    case 'postgres':
      return { kind, host: 'localhost', port: 5432, database: '', user: '', ssl: false, asks: false };
    case 'file':
      return { kind, format: 'csv', fileName: '', ...writing };
    case 'http':
      return { kind, address: 'https://', ...writing };
    default:
      return kind satisfies never;
  }
};

export const draftOf = (made: MadeConnection): ConnectionDraft => ({
  name: made.name,
  label: made.label,
  settings: made.settings,
});

const FORMATS = { csv: 'csv', txt: 'csv', tsv: 'csv', json: 'json', xml: 'xml', xlsx: 'xlsx' } as const;

/** The format of a file by its name; null when it is none that can be read. */
export const formatOf = (fileName: string): 'csv' | 'json' | 'xml' | 'xlsx' | null => {
  const ending = fileName.split('.').at(-1)?.toLowerCase() ?? '';
  return Object.hasOwn(FORMATS, ending) ? FORMATS[ending as keyof typeof FORMATS] : null;
};

/** A draft with a file put in; it is named after the file when it has no name yet. */
export const withFile = (
  draft: ConnectionDraft,
  fileName: string,
  file: Blob,
  taken: readonly string[],
): ConnectionDraft | null => {
  const format = formatOf(fileName);
  if (!format || draft.settings.kind !== 'file') return null;
  const { address: _, ...settings } = draft.settings;
  const title = fileName.replace(/\.[^.]+$/, '');
  return {
    ...draft,
    label: draft.label || title,
    name: draft.name || freeName(draft.label || title, taken),
    settings: { ...settings, format, fileName },
    file,
  };
};

/** Headers as lines of `name: value`. Null with a line that is none. */
export const readHeaders = (text: string): Record<string, string> | null => {
  const headers: Record<string, string> = {};
  for (const line of text.split('\n')) {
    if (line.trim() === '') continue;
    const at = line.indexOf(':');
    const name = line.slice(0, at).trim();
    if (at < 1 || !/^[\w!#$%&'*+.^`|~-]+$/.test(name)) return null;
    headers[name] = line.slice(at + 1).trim();
  }
  return headers;
};

/** What keeps a draft from being tried, by the key of its words; null when nothing does. */
export const missingIn = (draft: ConnectionDraft, hasFile: boolean): NamesIn<'data'> | null => {
  const { settings, secret } = draft;
  if (draft.label.trim() === '') return 'needsLabel';
  if (settings.kind === 'postgres' && !secret?.connectionString && (settings.database === '' || settings.host === ''))
    return 'needsDatabase';
  if (settings.kind === 'file' && settings.address === undefined && !draft.file && !hasFile) return 'needsFile';
  if (settings.kind === 'http' && !URL.canParse(settings.address)) return 'needsAddress';
  return null;
};
