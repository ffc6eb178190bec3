import { didYouMean, saidValue, therePhrase } from '@gaveta/core/internal';
import { printModel } from '@gaveta/server';
import { modelsOf, withConfig } from './config.ts';

export const printModels = (name: string | undefined, options: { config?: string }): Promise<number> =>
  withConfig(options.config, async (config) => {
    const models = await modelsOf(config);
    const shown = name === undefined ? models : models.filter((m) => m.model.name === name);
    if (shown.length === 0) {
      const known = models.map((m) => m.model.name);
      console.error(
        `gaveta: there is no data model “${name}”. ${saidValue(didYouMean(name ?? '', known, therePhrase(known)))}`,
      );
      return 2;
    }
    console.log(shown.map(printModel).join('\n\n'));
    return 0;
  });
