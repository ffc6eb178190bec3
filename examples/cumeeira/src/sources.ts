import { fileURLToPath } from 'node:url';
import { type Connection, embeddedConnection, fileSource, type RegisteredModel } from '@gaveta/server';
import { packDemoDatabase } from './database.ts';
import { cumeeiraModel } from './model.ts';
import { radioConnection, radioModel } from './radio.ts';

const TARIFFS = fileURLToPath(new URL('../data/tariffs.csv', import.meta.url));

export interface DemoSources {
  models: RegisteredModel[];
  connections: Record<string, Connection>;
  close(): Promise<void>;
}

/**
 * Everything that the demo's reports take rows from: the database, a file, and rows
 * of the office's own code.
 */
export const openDemoSources = async (folder: string, scale = 1): Promise<DemoSources> => {
  const database = embeddedConnection({ data: async () => ({ file: await packDemoDatabase(folder, scale) }) });
  // It starts in a thread of its own while the file is read; whoever asks first hears what is wrong with it.
  const started = database.textOrder();
  const tariffs = await fileSource({
    name: 'tariffs',
    label: 'Tariffs (file)',
    format: 'csv',
    file: TARIFFS,
    decimal: ',',
    dates: 'dmy',
  });
  await started;
  return {
    models: [cumeeiraModel, tariffs.model, radioModel],
    connections: { cumeeira: database, tariffs: tariffs.connection, radio: radioConnection() },
    close: async () => database.close?.(),
  };
};
