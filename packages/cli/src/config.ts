import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Parameter, Step } from '@gaveta/core/internal';
import type { Claims, Connection, RegisteredModel, Workbench } from '@gaveta/server';

/** What a `gaveta.config.ts` gives: a function, so that databases are opened only when they are needed. */
export interface CliConfig {
  models: RegisteredModel[] | (() => Promise<RegisteredModel[]>);
  /** Opened for `render` only. */
  connections: () => Promise<Record<string, Connection>>;
  /** Definitions that can be named, and nested as subreports: id and JSON. */
  reports: () => Promise<{ id: string; definition: unknown }[]>;
  /** Shared recipes that reports name. */
  recipes?: () => Promise<{ id: string; name: string; steps: Step[]; parameters: Parameter[] }[]>;
  /** Whose rows are seen. */
  claims: Claims;
  /** Where rows of different sources come together: one of the command’s own, gone with it, unless given. */
  workbench?: Workbench;
  close: () => Promise<void>;
}

export const modelsOf = async ({ models }: CliConfig): Promise<RegisteredModel[]> =>
  typeof models === 'function' ? models() : models;

/** Keeps the types of a configuration file checked. */
export const defineConfig = (config: CliConfig): CliConfig => config;

const NAMES = ['gaveta.config.ts', 'gaveta.config.mjs', 'gaveta.config.js'];

/** Null when there is no configuration where it is looked for. */
export const loadConfig = async (given: string | undefined): Promise<CliConfig | null> => {
  const file = given ? resolve(given) : NAMES.map((name) => resolve(name)).find(existsSync);
  if (!file || !existsSync(file)) return null;
  // What is written in TypeScript is read as the shell of Gaveta’s own sources reads it.
  if (file.endsWith('.ts')) (await import('tsx/esm/api')).register();
  const module = (await import(pathToFileURL(file).href)) as { default: CliConfig };
  return module.default;
};

/** Does something with the configuration and closes what it opened; says so and gives 2 where there is none. */
export const withConfig = async (
  given: string | undefined,
  work: (config: CliConfig) => Promise<number>,
): Promise<number> => {
  const config = await loadConfig(given);
  if (!config) {
    console.error('gaveta: there is no gaveta.config.ts here. Name one with --config.');
    return 2;
  }
  try {
    return await work(config);
  } finally {
    await config.close();
  }
};
