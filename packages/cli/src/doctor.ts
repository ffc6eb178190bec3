import { examine } from '@gaveta/server';
import { modelsOf, withConfig } from './config.ts';

/** Holds the configuration's models against their databases, and says what does not fit. */
export const doctor = (options: { config?: string }): Promise<number> =>
  withConfig(options.config, async (config) => {
    const models = await modelsOf(config);
    const connections = await config.connections();
    const findings = await examine(models, connections);
    for (const { place, said } of findings) console.log(`${place}: ${said}`);
    if (findings.length > 0) return 1;
    const entities = models.reduce((sum, { model }) => sum + model.entities.length, 0);
    const count = Object.keys(connections).length;
    console.log(`Everything fits: ${models.length} models with ${entities} entities, ${count} connections.`);
    return 0;
  });
