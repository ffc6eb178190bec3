import { readFileSync, statSync } from 'node:fs';

const folder = new URL('../../dist/threads/', import.meta.url);

/** Whether the built modules were made from the sources as they are now. */
const isFresh = () => {
  try {
    const inputs = Object.entries(JSON.parse(readFileSync(new URL('inputs.json', folder), 'utf8')));
    return inputs.every(([file, changed]) => statSync(new URL(file, folder)).mtimeMs === changed);
  } catch {
    return false;
  }
};

/** The module of a thread: as it was built, or else from its source. A thread starts without what its process was started with. */
export const threadModule = async (name, source) => {
  if (isFresh()) return import(new URL(`${name}.mjs`, folder).href);
  const { register } = await import('tsx/esm/api');
  register();
  return source();
};
