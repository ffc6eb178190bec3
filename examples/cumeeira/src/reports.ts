import { readdir, readFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

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
