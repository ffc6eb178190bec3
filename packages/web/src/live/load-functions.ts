import {
  type AddedFunctions,
  addedFunctions,
  type FunctionTable,
  fromDescribed,
  type HostFunction,
} from '@gaveta/core/internal';

type Load = (address: string) => Promise<{ default?: { functions?: AddedFunctions } }>;

const load: Load = (address) => import(/* @vite-ignore */ address);

/**
 * Functions of the host's own: those with a module for browsers as it works them out, the others as known and worked out elsewhere.
 * A module that cannot be loaded leaves its functions among the latter; it is told in the console.
 */
export const loadFunctions = async (
  functions: readonly HostFunction[],
  loading: Load = load,
): Promise<FunctionTable> => {
  const addresses = new Set(functions.flatMap(({ module }) => module ?? []));
  const loaded = await Promise.all(
    [...addresses].map(async (address): Promise<FunctionTable> => {
      try {
        return addedFunctions((await loading(address)).default?.functions ?? {});
      } catch (error) {
        console.error(`Functions of formulas could not be loaded from ${address}.`, error);
        return {};
      }
    }),
  );
  return Object.assign({}, fromDescribed(functions), ...loaded);
};
