import type { ConnectionSettings, FileKind } from '@gaveta/core/internal';
import { z } from 'zod';
import type { ConnectionDraft, MadeConnection } from '../../api/client.ts';
import type { NamesIn } from '../../i18n/keys.ts';
import { freeName } from '../recipe-draft.ts';

export type ConnectionKind = ConnectionSettings['kind'];
export type SettingsOf<K extends ConnectionKind> = Extract<ConnectionSettings, { kind: K }>;

/** What the form of a connection holds while it is filled in. */
export interface ConnectionValues<K extends ConnectionKind = ConnectionKind> {
  label: string;
  settings: SettingsOf<K>;
  /** What was typed of its secret; what is empty stays as it is stored. Headers are lines of `name: value`. */
  secret: { connectionString: string; password: string; headers: string };
  /** A file that was chosen or pasted. */
  file: Blob | null;
  /** What the server has of it already. */
  stored: { file: boolean; secret: boolean };
}

/** What a form says of its boxes, by the keys of their words. */
const SAID = [
  'needsLabel',
  'needsHost',
  'needsPort',
  'needsDatabase',
  'needsFile',
  'needsAddress',
  'needsPaging',
  'notReadable',
  'mixedFiles',
  'headersWrong',
  'tooLong',
] as const satisfies readonly NamesIn<'data'>[];
type Said = (typeof SAID)[number];

/** A problem of a box, by the key of its words. */
export const says = (key: Said): Said => key;

/** The key of a problem’s words. What a schema says in words of its own, in English, is merely unfit. */
export const saidKey = (message: string | undefined): Said | 'unfit' => SAID.find((key) => key === message) ?? 'unfit';

const longText = z.string().max(4000, says('tooLong'));

/** What holds for the form of every kind; each kind says what its settings must be. */
export const valuesSchema = <S extends z.ZodType>(settings: S) =>
  z.object({
    label: z.string().trim().min(1, says('needsLabel')).max(200, says('tooLong')),
    settings,
    secret: z.object({ connectionString: longText, password: longText, headers: longText }),
    file: z.instanceof(Blob).nullable(),
    stored: z.object({ file: z.boolean(), secret: z.boolean() }),
  });

const NO_SECRET = { connectionString: '', password: '', headers: '' };

/** The values of a new connection of some kind, or of one that is stored. */
export const startValues = <K extends ConnectionKind>(
  settings: SettingsOf<K>,
  made?: MadeConnection,
): ConnectionValues<K> => ({
  label: made?.label ?? '',
  settings,
  secret: NO_SECRET,
  file: null,
  stored: { file: made?.hasFile ?? false, secret: made?.hasSecret ?? false },
});

/** What is sent to the server: a secret and a file only where some were given. */
export const draftOf = ({ label, settings, secret, file }: ConnectionValues, name: string): ConnectionDraft => {
  const headers = readHeaders(secret.headers) ?? {};
  const given = {
    ...(secret.connectionString === '' ? {} : { connectionString: secret.connectionString }),
    ...(secret.password === '' ? {} : { password: secret.password }),
    ...(Object.keys(headers).length === 0 ? {} : { headers }),
  };
  return {
    name,
    label: label.trim() || name,
    settings,
    ...(Object.keys(given).length === 0 ? {} : { secret: given }),
    ...(file ? { file } : {}),
  };
};

/** The values once they are saved: what is secret of them, and the file, are with the server. */
export const savedValues = (values: ConnectionValues): ConnectionValues => ({
  ...values,
  secret: NO_SECRET,
  file: null,
  stored: {
    file: values.stored.file || values.file !== null,
    secret: values.stored.secret || Object.values(values.secret).some((text) => text !== ''),
  },
});

/** A name for a new connection that nothing else has. */
export const nameFor = (label: string, taken: readonly string[]): string => freeName(label.trim() || 'source', taken);

/** The format of a text by how it begins. */
export const formatOfText = (text: string): FileKind =>
  /^\s*</.test(text) ? 'xml' : /^\s*[[{]/.test(text) ? 'json' : 'csv';

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
