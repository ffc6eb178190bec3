import { examine } from '@gaveta/server';
import { loadConfig, modelsOf } from './config.ts';

/** Holds the configuration's models against their databases, and says what does not fit. */
export const doctor = async (options: { config?: string }): Promise<number> => {
  const config = await loadConfig(options.config);
  if (!config) {
    console.error('gaveta: there is no gaveta.config.ts here. Name one with --config.');
    return 2;
  }
  try {
    const models = await modelsOf(config);
    const connections = await config.connections();
    const findings = await examine(models, connections);
    for (const { place, said } of findings) console.log(`${place}: ${said}`);
    const entities = models.reduce((sum, { model }) => sum + model.entities.length, 0);
    if (findings.length === 0)
      console.log(
        `Everything fits: ${models.length} models with ${entities} entities, ${Object.keys(connections).length} connections.`,
      );
    return findings.length === 0 ? 0 : 1;
  } finally {
    await config.close();
  }
};
