import { readFile, rename, writeFile } from 'node:fs/promises';
import { ApiFailure, GavetaClient } from '@gaveta/client';
import { type Model, type Parameter, visibleModel } from '@gaveta/core/internal';
import { withConfig } from '../config.ts';
import { readDefinitions } from '../definitions.ts';
import { whyNot } from '../why-not.ts';
import { type Described, typesText } from './types-text.ts';

export interface TypesOptions {
  config?: string;
  /** Address of a running Gaveta; left out: what the configuration has. */
  server?: string;
  token?: string;
  out: string;
}

/** Writes types of data models and of reports' parameters; gives the exit code. */
export const types = ({ server, token, out, config: file }: TypesOptions): Promise<number> => {
  if (server !== undefined) return fromServer(server, token ?? process.env.GAVETA_TOKEN ?? null, out);
  return withConfig(file, async (config) => {
    const { models, byId } = await readDefinitions(config);
    await write(out, {
      models: [...models.values()].map(({ model }) => visibleModel(model)),
      reports: [...byId].map(([id, { name, parameters }]) => ({ id, name, parameters })),
    });
    return 0;
  });
};

const fromServer = async (server: string, token: string | null, out: string): Promise<number> => {
  const client = new GavetaClient({ server, ...(token === null ? {} : { token: () => token }) });
  try {
    const models = (await client.call('GET /models', {})).map(({ origin: _, ...model }) => model as Model);
    const reports: { id: string; name: string; parameters: Parameter[] }[] = [];
    for (const { id, name } of await client.call('GET /reports', {})) {
      const { definition } = await client.call('GET /reports/:id', { params: { id } });
      reports.push({ id, name, parameters: (definition.parameters ?? []) as Parameter[] });
    }
    await write(out, { models, reports });
    return 0;
  } catch (error) {
    if (!(error instanceof ApiFailure)) throw error;
    console.error(`gaveta: types cannot be read from ${server}: ${whyNot(error)}.`);
    return 3;
  }
};

const byName = <T>(list: readonly T[], nameOf: (one: T) => string): T[] =>
  [...list].sort((a, b) => (nameOf(a) < nameOf(b) ? -1 : 1));

const write = async (out: string, { models, reports }: Described): Promise<void> => {
  // In an order that stays, so that a comparison of the file shows what changed.
  const text = typesText({ models: byName(models, ({ name }) => name), reports: byName(reports, ({ id }) => id) });
  const before = await readFile(out, 'utf8').catch(() => null);
  if (before !== text) {
    await writeFile(`${out}.new`, text);
    await rename(`${out}.new`, out);
  }
  console.log(`${out}: ${models.length} models, ${reports.length} reports${before === text ? ', as they were' : ''}`);
};
