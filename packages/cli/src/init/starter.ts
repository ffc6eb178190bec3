import type { ModelInput } from '@gaveta/server';

export const STARTERS = ['page', 'react', 'express'] as const;
/** A plain page, an application of React and Vite, or what an Express application of one's own takes in. */
export type Starter = (typeof STARTERS)[number];

/** What files of a starter are written of. */
export interface StarterContent {
  /** Of the folder, as a package's name. */
  name: string;
  /** Ranges of versions by package. */
  versions: Readonly<Record<string, string>>;
  /** Signs tokens; made for this starter alone. */
  secret: string;
  /** Null: a small database of made-up rows comes with the starter. */
  database: { address: string; model: ModelInput } | null;
  /** By id. */
  reports: Readonly<Record<string, object>>;
  /** Id of the one that pages show. */
  first: string;
}

/** Files by their path in the folder. */
export type Files = Readonly<Record<string, string>>;

export const jsonFile = (content: object): string => `${JSON.stringify(content, null, 2)}\n`;

/** A value as JavaScript, with names as they are written by hand. */
export const code = (value: unknown, indent = ''): string => {
  if (typeof value === 'string') return `'${value.replace(/[\\']/g, '\\$&').replace(/\n/g, '\\n')}'`;
  if (typeof value !== 'object' || value === null) return String(value);
  const inner = `${indent}  `;
  if (Array.isArray(value)) return `[${value.map((one) => code(one, indent)).join(', ')}]`;
  const entries = Object.entries(value).filter(([, one]) => one !== undefined);
  if (entries.length === 0) return '{}';
  const lines = entries.map(([key, one]) => {
    const name = /^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(key) ? key : `'${key.replace(/[\\']/g, '\\$&')}'`;
    return `${name}: ${code(one, inner)}`;
  });
  const line = `{ ${lines.join(', ')} }`;
  if (line.length <= 100 && !line.includes('\n')) return line;
  return `{\n${lines.map((one) => `${inner}${one},\n`).join('')}${indent}}`;
};
