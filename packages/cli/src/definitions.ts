import { readFile } from 'node:fs/promises';
import {
  didYouMean,
  type PlanContext,
  type Problem,
  problemLine,
  type Report,
  readDefinition,
  readDefinitionText,
  saidValue,
  therePhrase,
} from '@gaveta/core/internal';
import type { RegisteredModel } from '@gaveta/server';
import { type CliConfig, modelsOf } from './config.ts';

export interface Definitions {
  byId: Map<string, Report>;
  /** What definitions are planned against: the configuration's models, reports and recipes. */
  context: PlanContext;
  models: ReadonlyMap<string, RegisteredModel>;
}

/** All definitions of the configuration; wrong ones are told and left out. */
export const readDefinitions = async (config: CliConfig): Promise<Definitions> => {
  const byId = new Map<string, Report>();
  for (const { id, definition } of await config.reports()) {
    const read = readDefinition(definition);
    if (read.ok) byId.set(id, read.report);
    else printProblems(read.problems, `${id}: `);
  }
  const models = new Map((await modelsOf(config)).map((m) => [m.model.name, m]));
  const recipes = new Map((await config.recipes?.())?.map((r) => [r.id, r]));
  const context: PlanContext = {
    models: [...models.values()].map((m) => m.model),
    report: (id) => byId.get(id) ?? null,
    recipe: (id) => recipes.get(id) ?? null,
    rowsFromDatabase: true,
  };
  return { byId, context, models };
};

/** A definition by file, id or name. Says why there is none. */
export const findDefinition = async (given: string, { byId }: Definitions): Promise<Report | null> => {
  if (given.endsWith('.json')) return readFileDefinition(given);
  const found = byId.get(given) ?? [...byId.values()].find((r) => r.name === given);
  if (found) return found;
  const known = [...byId.keys()];
  console.error(`gaveta: there is no report “${given}”. ${saidValue(didYouMean(given, known, therePhrase(known)))}`);
  return null;
};

export const readFileDefinition = async (file: string): Promise<Report | null> => {
  let text: string;
  try {
    text = await readFile(file, 'utf8');
  } catch (error) {
    console.error(`gaveta: ${file} cannot be read: ${error instanceof Error ? error.message : String(error)}`);
    return null;
  }
  const read = readDefinitionText(text);
  if (read.ok) return read.report;
  printProblems(read.problems);
  return null;
};

export const printProblems = (problems: readonly Problem[], before = ''): void => {
  for (const p of problems) console.error(`${before}${problemLine(p)}`);
};
