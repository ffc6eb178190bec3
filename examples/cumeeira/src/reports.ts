import { readdir, readFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { type Parameter, parameterSchema, type Step } from '@gaveta/core';

const folder = join(dirname(fileURLToPath(import.meta.url)), '..', 'reports');

/** The reports that ship with the demo: id (the file's name) and definition as JSON. */
export const demoReports = async (): Promise<{ id: string; definition: unknown }[]> => {
  const files = (await readdir(folder)).filter((file) => file.endsWith('.json')).sort();
  return Promise.all(
    files.map(async (file) => ({
      id: file.replace('.json', ''),
      definition: JSON.parse(await readFile(join(folder, file), 'utf8')) as unknown,
    })),
  );
};

/** Recipes that the demo's reports share. */
export const demoRecipes: { id: string; name: string; steps: Step[]; parameters: Parameter[] }[] = [
  {
    id: 'nights-by-hut-and-month',
    name: 'Nights by hut and month',
    parameters: [
      parameterSchema.parse({ name: 'season', label: 'Season', type: 'dates', default: '2025-01-01..2025-12-31' }),
    ],
    steps: [
      { step: 'take', from: { model: 'cumeeira', entity: 'stay' } },
      { step: 'bring', relation: 'hut', keep: 'matching', as: 'hut', fields: ['name', 'beds'] },
      {
        step: 'keep',
        where: {
          all: [
            { field: 'status', is: 'equal', to: { value: 'stayed' } },
            { field: 'arrival', is: 'within', to: { parameter: 'season' } },
          ],
        },
      },
      {
        step: 'summarise',
        by: [{ field: 'hut_name' }, { field: 'arrival', per: 'month' }],
        totals: [
          { total: 'SUM', of: 'nights', name: 'nights', label: 'Nights' },
          { total: 'COUNT', name: 'stays', label: 'Stays' },
        ],
      },
      { step: 'sort', by: [{ field: 'hut_name' }, { field: 'arrival_month' }] },
    ],
  },
  {
    id: 'windy-readings',
    name: 'Windy readings',
    parameters: [],
    steps: [
      { step: 'take', from: { model: 'cumeeira', entity: 'weather' } },
      { step: 'bring', relation: 'hut', keep: 'matching', as: 'hut', fields: ['name', 'wind_limit'] },
      { step: 'keep', where: { field: 'wind', is: 'greater', to: { field: 'hut_wind_limit' } } },
      { step: 'sort', by: [{ field: 'wind', descending: true }] },
    ],
  },
];
