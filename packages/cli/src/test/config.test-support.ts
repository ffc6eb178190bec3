import { defineModel, rowsWithCall, Workbench } from '@gaveta/server';
import { defineConfig } from '../config.ts';

const beds = defineModel({
  name: 'beds',
  label: 'Beds',
  connection: 'beds',
  entities: {
    hut: {
      label: 'Hut',
      plural: 'Huts',
      key: 'id',
      fields: {
        id: { label: 'Id', type: 'number' },
        name: { label: 'Name', type: 'text' },
        beds: { label: 'Beds', type: 'number' },
      },
    },
  },
});

/** Huts whose rows each case brings. */
export default defineConfig({
  models: [beds],
  connections: async () => ({ beds: rowsWithCall() }),
  reports: async () => [],
  claims: {},
  // From one call to the next: opening it takes longer than they do.
  workbench: new Workbench(),
  close: async () => {},
});
