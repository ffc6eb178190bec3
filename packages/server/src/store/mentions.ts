import { createHash } from 'node:crypto';

/**
 * What a definition names that is looked for from elsewhere: shared recipes and other reports by their ids, models by their
 * names, pictures of the library by their ids, themes by their names, and statements written by hand by their digests. Kept in a table beside the newest revision, so that nobody reads
 * all definitions to find the few that matter; drizzle/0003_mentions.sql and 0006_report_mentions.sql filled it for reports
 * that were there before.
 */
export type MentionKind = 'recipe' | 'model' | 'report' | 'statement' | 'picture' | 'theme';

export interface Mention {
  kind: MentionKind;
  value: string;
}

export const statementDigest = (text: string): string => createHash('sha256').update(text).digest('hex');

const KEYS = {
  recipe: 'recipe',
  model: 'model',
  report: 'report',
  fromLibrary: 'picture',
  theme: 'theme',
} as const satisfies Record<string, MentionKind>;

/** Everything that some JSON mentions, each once. */
export const mentionsOf = (json: unknown): Mention[] => {
  const found = new Map<string, Mention>();
  const add = (kind: MentionKind, value: string): void => void found.set(`${kind} ${value}`, { kind, value });
  JSON.stringify(json, (key, value: unknown) => {
    if (typeof value === 'string' && Object.hasOwn(KEYS, key)) add(KEYS[key as keyof typeof KEYS], value);
    if (isStatement(value)) add('statement', statementDigest(value.text));
    return value;
  });
  return [...found.values()];
};

const isStatement = (value: unknown): value is { text: string } =>
  typeof value === 'object' &&
  value !== null &&
  'step' in value &&
  value.step === 'sql' &&
  'text' in value &&
  typeof value.text === 'string';
